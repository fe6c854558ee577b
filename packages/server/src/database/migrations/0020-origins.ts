import type { QueryInterface } from 'sequelize';

/** A job that came in from a file knows which job that file was of, and which terrain lay under it there. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE job ADD origin_id uuid, ADD terrain_names text[] NOT NULL DEFAULT '{}';
    CREATE INDEX job_of_origin ON job (origin_id);
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('ALTER TABLE job DROP origin_id, DROP terrain_names;');
}
