import type { QueryInterface } from 'sequelize';

/**
 * How a throughput test was run is kept beside its rate; a file that holds both directions makes two tests. Who finds no lobe goes to the other end.
 * Subnets of two addresses and of one are
 * subnets too (RFC 3021).
 */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE throughput_test
      ADD conditions jsonb,
      ADD other_mbps double precision CHECK (other_mbps >= 0),
      DROP CONSTRAINT throughput_test_link_id_sha256_key,
      ADD CONSTRAINT throughput_test_once UNIQUE (link_id, sha256, direction);

    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye', 'otherEnd'));

    ALTER TABLE network DROP CONSTRAINT network_prefix_check, ADD CHECK (prefix BETWEEN 8 AND 32);
    ALTER TABLE sheet DROP CONSTRAINT sheet_prefix_check, ADD CHECK (prefix BETWEEN 8 AND 32);
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE throughput_test
      DROP COLUMN conditions,
      DROP COLUMN other_mbps,
      DROP CONSTRAINT throughput_test_once,
      ADD CONSTRAINT throughput_test_link_id_sha256_key UNIQUE (link_id, sha256);

    DELETE FROM aim_mark WHERE kind = 'otherEnd';
    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye'));

    ALTER TABLE network DROP CONSTRAINT network_prefix_check, ADD CHECK (prefix BETWEEN 8 AND 30);
    ALTER TABLE sheet DROP CONSTRAINT sheet_prefix_check, ADD CHECK (prefix BETWEEN 8 AND 30);
  `);
}
