import type { QueryInterface } from 'sequelize';

/** Spec sheets that came in with a job's file stay apart from the catalogue; every reference has an index, so that what it points at can go quickly. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE gear_model ADD offered boolean NOT NULL DEFAULT true;

    CREATE INDEX reading_of_peer ON reading (peer_id);
    CREATE INDEX aim_mark_of_radio ON aim_mark (radio_id);
    CREATE INDEX aim_mark_of_peer ON aim_mark (peer_id);
    CREATE INDEX radio_at_place ON radio (job_id, place_id);
    CREATE INDEX radio_on_air ON radio (job_id, air_id);
    CREATE INDEX radio_of_model ON radio (model_id, model_revision);
    CREATE INDEX radio_mounted_by ON radio (mounted_by);
    CREATE INDEX link_by_near_radio ON link (job_id, near_radio_id);
    CREATE INDEX link_by_far_radio ON link (job_id, far_radio_id);
    CREATE INDEX link_by_air_of_job ON link (job_id, air_id);
    CREATE INDEX link_by_air_and_near ON link (air_id, near_radio_id);
    CREATE INDEX link_by_air_and_far ON link (air_id, far_radio_id);
    CREATE INDEX network_feed ON network (job_id, feed_place_id);
    CREATE INDEX sheet_by ON sheet (crew_member_id);
    CREATE INDEX bench_run_by ON bench_run (crew_member_id);
    CREATE INDEX alignment_by ON alignment (crew_member_id);
    CREATE INDEX test_by ON throughput_test (crew_member_id);
    CREATE INDEX change_by ON change (crew_member_id);
    CREATE INDEX event_by ON event (crew_member_id);
    CREATE INDEX event_of_change ON event (change_id);
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DROP INDEX
      reading_of_peer,
      aim_mark_of_radio,
      aim_mark_of_peer,
      radio_at_place,
      radio_on_air,
      radio_of_model,
      radio_mounted_by,
      link_by_near_radio,
      link_by_far_radio,
      link_by_air_of_job,
      link_by_air_and_near,
      link_by_air_and_far,
      network_feed,
      sheet_by,
      bench_run_by,
      alignment_by,
      test_by,
      change_by,
      event_by,
      event_of_change;
    ALTER TABLE gear_model DROP COLUMN offered;
  `);
}
