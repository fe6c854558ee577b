import type { QueryInterface } from 'sequelize';

/** Levels come from real radios: where from, what is read of which kind of radio, and what of a reading is new. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE level_profile (
      id uuid PRIMARY KEY,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      way text NOT NULL CHECK (way IN ('snmp', 'json')),
      values jsonb NOT NULL,
      version integer NOT NULL DEFAULT 0
    );
    CREATE UNIQUE INDEX level_profile_name ON level_profile (lower(name));

    -- Of a hub each station is heard by itself, so a source belongs to two radios: who hears, and whom. Passwords are sealed as those of radios are.
    CREATE TABLE level_source (
      radio_id uuid NOT NULL REFERENCES radio ON DELETE CASCADE,
      peer_id uuid NOT NULL REFERENCES radio ON DELETE CASCADE,
      way text NOT NULL CHECK (way IN ('standin', 'snmp', 'http', 'command', 'typed', 'table')),
      profile_id uuid REFERENCES level_profile,
      setting jsonb NOT NULL,
      secrets text CONSTRAINT level_source_secrets_sealed CHECK (secrets LIKE 'v1.%'),
      version integer NOT NULL DEFAULT 0,
      PRIMARY KEY (radio_id, peer_id)
    );
    CREATE INDEX level_source_of_peer ON level_source (peer_id);
    CREATE INDEX level_source_of_profile ON level_source (profile_id);

    ALTER TABLE reading
      ADD is_repeat boolean NOT NULL DEFAULT false,
      ADD age_s real NOT NULL DEFAULT 0 CHECK (age_s >= 0),
      ADD told jsonb;

    -- Until now every level came from a stand-in.
    ALTER TABLE alignment ADD levels_from jsonb NOT NULL DEFAULT '[]';
    UPDATE alignment SET levels_from = '[{"tS": 0, "end": "near", "way": "standin"}, {"tS": 0, "end": "far", "way": "standin"}]';

    -- A path measured with a generator and an analyser, before there are radios or beside them.
    CREATE TABLE path_check (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      link_id uuid NOT NULL REFERENCES link ON DELETE CASCADE,
      at timestamptz NOT NULL DEFAULT now(),
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      setup jsonb NOT NULL,
      ticked jsonb NOT NULL,
      readings_dbm jsonb NOT NULL,
      predicted_dbm double precision NOT NULL,
      judgement jsonb NOT NULL
    );
    CREATE INDEX path_check_of_link ON path_check (link_id, at);
    CREATE INDEX path_check_of_member ON path_check (crew_member_id);

    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye', 'otherEnd', 'endStop', 'hold', 'go', 'callMe'));
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DELETE FROM aim_mark WHERE kind IN ('hold', 'go', 'callMe');
    ALTER TABLE aim_mark
      DROP CONSTRAINT aim_mark_kind_check,
      ADD CHECK (kind IN ('turning', 'notch', 'locked', 'eye', 'otherEnd', 'endStop'));
    ALTER TABLE alignment DROP levels_from;
    DELETE FROM reading WHERE is_repeat;
    ALTER TABLE reading DROP is_repeat, DROP age_s, DROP told;
    DROP TABLE path_check;
    DROP TABLE level_source;
    DROP TABLE level_profile;
  `);
}
