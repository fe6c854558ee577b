import type { QueryInterface } from 'sequelize';

/** Cables between places: traffic takes them as it takes links. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE cable (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      a_place_id uuid NOT NULL REFERENCES place ON DELETE CASCADE,
      b_place_id uuid NOT NULL REFERENCES place ON DELETE CASCADE,
      mbps double precision NOT NULL CHECK (mbps > 0),
      version integer NOT NULL DEFAULT 0,
      CHECK (a_place_id <> b_place_id)
    );
    CREATE INDEX cable_of_job ON cable (job_id);
    CREATE INDEX cable_at_a ON cable (a_place_id);
    CREATE INDEX cable_at_b ON cable (b_place_id);

    UPDATE removal SET rows = rows || '{"cable": []}' WHERE rows ? 'place';
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE cable');
}
