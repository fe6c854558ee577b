import type { QueryInterface } from 'sequelize';

/** What is noted for a job restricts it; what permits more says so, and until when. Rules of before said neither, so they restrict from now on. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE local_rule ADD permit_until date, ADD permits_outdoors boolean NOT NULL DEFAULT false;
    INSERT INTO event (job_id, kind, summary)
      SELECT job_id, 'plan', left('The local rule for ' || lowest_mhz || ' to ' || highest_mhz || ' MHz, ' || most_eirp_dbm ||
        ' dBm EIRP, only restricts from now on: if it permits more than the country does, say so in it, and until when', 400)
      FROM local_rule;
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('ALTER TABLE local_rule DROP permit_until, DROP permits_outdoors');
}
