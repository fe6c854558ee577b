import type { QueryInterface } from 'sequelize';

/** Plans of a link that were tried and kept beside the one in place. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE alternative (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      link_id uuid NOT NULL REFERENCES link ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      made_at timestamptz NOT NULL DEFAULT now(),
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      choices jsonb NOT NULL CHECK (jsonb_typeof(choices) = 'object'),
      version integer NOT NULL DEFAULT 0
    );
    CREATE UNIQUE INDEX alternative_name ON alternative (link_id, lower(name));
    CREATE INDEX alternative_of_member ON alternative (crew_member_id);

    UPDATE removal SET rows = rows || '{"alternative": []}' WHERE rows ? 'link';
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE alternative');
}
