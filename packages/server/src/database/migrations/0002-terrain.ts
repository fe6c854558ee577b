import type { QueryInterface } from 'sequelize';

/** Terrain grids, obstacles, landmarks, and shafts. Terrain belongs to the Earth, not to a job: every job over it uses it. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE terrain_file (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
      format text NOT NULL,
      epsg integer NOT NULL,
      columns integer NOT NULL CHECK (columns >= 2),
      rows integer NOT NULL CHECK (rows >= 2),
      west_x double precision NOT NULL,
      north_y double precision NOT NULL,
      cell_x double precision NOT NULL CHECK (cell_x > 0),
      cell_y double precision NOT NULL CHECK (cell_y > 0),
      -- on the ground; where grids overlap the finest wins
      cell_m double precision NOT NULL CHECK (cell_m > 0),
      whole_metres boolean NOT NULL,
      least_m real NOT NULL CHECK (least_m >= -500),
      most_m real NOT NULL CHECK (most_m <= 9000),
      void_share double precision NOT NULL CHECK (void_share >= 0 AND void_share < 1),
      bytes bigint NOT NULL,
      sha256 char(64) NOT NULL UNIQUE,
      imported_at timestamptz NOT NULL DEFAULT now()
    );

    -- 256 by 256 cells, row by row from the north-west, deflated: 16-bit metres or 32-bit floats.
    CREATE TABLE terrain_tile (
      file_id uuid NOT NULL REFERENCES terrain_file ON DELETE CASCADE,
      -- counted row by row of tiles
      number integer NOT NULL CHECK (number >= 0),
      cells bytea NOT NULL,
      PRIMARY KEY (file_id, number)
    );
    ALTER TABLE terrain_tile ALTER COLUMN cells SET STORAGE EXTERNAL;

    CREATE TABLE obstacle (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) <= 60),
      kind text NOT NULL CHECK (kind IN ('trees', 'building', 'vehicle', 'water')),
      footprint jsonb NOT NULL CHECK (jsonb_typeof(footprint) = 'array' AND jsonb_array_length(footprint) <= 50),
      width_m double precision NOT NULL CHECK (width_m BETWEEN 0 AND 5000),
      height_m double precision NOT NULL CHECK (height_m BETWEEN -20 AND 500),
      growth_m_per_year double precision NOT NULL CHECK (growth_m_per_year BETWEEN 0 AND 10),
      measured_year integer NOT NULL CHECK (measured_year BETWEEN 1950 AND 2200),
      confidence text NOT NULL CHECK (confidence IN ('measured', 'estimated')),
      version integer NOT NULL DEFAULT 0,
      CHECK ((kind = 'water') = (jsonb_array_length(footprint) = 0)),
      CHECK (kind = 'water' OR (width_m > 0 AND height_m > 0))
    );
    CREATE INDEX obstacle_of_job ON obstacle (job_id);

    ALTER TABLE place ADD COLUMN kind text NOT NULL DEFAULT 'site' CHECK (kind IN ('site', 'landmark'));

    ALTER TABLE link
      ADD COLUMN shaft_least_m double precision CHECK (shaft_least_m BETWEEN 0.5 AND 1000),
      ADD COLUMN shaft_most_m double precision CHECK (shaft_most_m BETWEEN 0.5 AND 1000),
      ADD CONSTRAINT link_shaft_range CHECK (
        (path_kind = 'shaft') = (shaft_least_m IS NOT NULL AND shaft_most_m IS NOT NULL)
        AND (shaft_least_m IS NULL) = (shaft_most_m IS NULL)
        AND (shaft_least_m IS NULL OR shaft_least_m < shaft_most_m)
      );
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE link DROP CONSTRAINT link_shaft_range, DROP COLUMN shaft_least_m, DROP COLUMN shaft_most_m;
    ALTER TABLE place DROP COLUMN kind;
    DROP TABLE obstacle, terrain_tile, terrain_file;
  `);
}
