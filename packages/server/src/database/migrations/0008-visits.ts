import type { QueryInterface } from 'sequelize';

/** Visits, and photos of radios, places and visits. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE visit (
      id uuid PRIMARY KEY,
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      started_at timestamptz NOT NULL,
      ended_at timestamptz CHECK (ended_at >= started_at),
      purpose text NOT NULL CHECK (length(purpose) BETWEEN 1 AND 120),
      company text NOT NULL DEFAULT '' CHECK (length(company) <= 200),
      note text NOT NULL DEFAULT '' CHECK (length(note) <= 4000),
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      version integer NOT NULL DEFAULT 0,
      UNIQUE (job_id, id)
    );
    CREATE INDEX visit_of_job ON visit (job_id, started_at DESC);

    -- A photo is of one thing, which is in its job. The pictures are JPEG without anything else in them.
    CREATE TABLE photo (
      id uuid PRIMARY KEY,
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      radio_id uuid,
      place_id uuid,
      visit_id uuid,
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      added_at timestamptz NOT NULL DEFAULT now(),
      taken_at timestamptz,
      caption text NOT NULL DEFAULT '' CHECK (length(caption) <= 300),
      width_px integer NOT NULL CHECK (width_px > 0),
      height_px integer NOT NULL CHECK (height_px > 0),
      latitude_deg double precision CHECK (latitude_deg BETWEEN -90 AND 90),
      longitude_deg double precision CHECK (longitude_deg BETWEEN -180 AND 180),
      full_jpeg bytea NOT NULL CHECK (length(full_jpeg) BETWEEN 1 AND 6000000),
      small_jpeg bytea NOT NULL CHECK (length(small_jpeg) BETWEEN 1 AND 500000),
      version integer NOT NULL DEFAULT 0,
      CHECK (num_nonnulls(radio_id, place_id, visit_id) = 1),
      CHECK ((latitude_deg IS NULL) = (longitude_deg IS NULL)),
      FOREIGN KEY (job_id, radio_id) REFERENCES radio (job_id, id) ON DELETE CASCADE,
      FOREIGN KEY (job_id, place_id) REFERENCES place (job_id, id) ON DELETE CASCADE,
      FOREIGN KEY (job_id, visit_id) REFERENCES visit (job_id, id) ON DELETE CASCADE
    );
    CREATE INDEX photo_of_job ON photo (job_id, added_at DESC);
    CREATE INDEX photo_of_radio ON photo (job_id, radio_id);
    CREATE INDEX photo_of_place ON photo (job_id, place_id);
    CREATE INDEX photo_of_visit ON photo (job_id, visit_id);
    CREATE INDEX photo_by ON photo (crew_member_id);
    CREATE INDEX visit_by ON visit (crew_member_id);
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE photo, visit');
}
