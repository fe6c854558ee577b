import type { QueryInterface } from 'sequelize';

/** What people and things at each place do over the links. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE place_need (
      place_id uuid PRIMARY KEY REFERENCES place ON DELETE CASCADE,
      items jsonb NOT NULL CHECK (jsonb_typeof(items) = 'array'),
      simultaneity double precision NOT NULL CHECK (simultaneity BETWEEN 0 AND 1),
      growth_percent double precision NOT NULL CHECK (growth_percent BETWEEN 0 AND 1000),
      headroom_percent double precision NOT NULL CHECK (headroom_percent BETWEEN 0 AND 1000),
      adapter_name text NOT NULL CHECK (length(adapter_name) <= 60),
      adapter_mbps double precision CHECK (adapter_mbps > 0),
      version integer NOT NULL DEFAULT 0
    );

    UPDATE removal SET rows = rows || '{"place_need": []}' WHERE rows ? 'place';
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE place_need');
}
