import type { QueryInterface } from 'sequelize';

/** With what one logs in to a radio's own page. A table of its own, so that whatever reads radios reads no password; sealed as passphrases are. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE radio_login (
      radio_id uuid PRIMARY KEY REFERENCES radio ON DELETE CASCADE,
      user_name text NOT NULL CHECK (length(user_name) BETWEEN 1 AND 60),
      password text CONSTRAINT radio_login_password_sealed CHECK (password LIKE 'v1.%'),
      version integer NOT NULL DEFAULT 0
    );
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE radio_login');
}
