import type { QueryInterface } from 'sequelize';

/** Whoever aims says where the mount turns no further. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye', 'otherEnd', 'endStop'));
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DELETE FROM aim_mark WHERE kind = 'endStop';
    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye', 'otherEnd'));
  `);
}
