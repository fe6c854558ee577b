import type { QueryInterface } from 'sequelize';

/** People with roles, who sign in over the network by an invitation or a password; who worked on a job until now led it, for everybody might do everything. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    -- Who signs in. A crew member is their place in one job; one that nobody signs in as, as from a file, is a name only.
    CREATE TABLE person (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      password_hash text,
      made_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE UNIQUE INDEX person_name ON person (lower(name));
    ALTER TABLE crew_member
      ADD person_id uuid REFERENCES person ON DELETE SET NULL,
      ADD role text NOT NULL DEFAULT 'lead' CHECK (role IN ('reader', 'installer', 'lead')),
      ADD left_at timestamptz,
      ADD CONSTRAINT crew_member_once UNIQUE (job_id, person_id);
    ALTER TABLE crew_member ALTER role DROP DEFAULT;
    CREATE INDEX crew_member_of_person ON crew_member (person_id);

    -- The code itself is nowhere: only who has it can show it.
    CREATE TABLE invitation (
      code_hash bytea PRIMARY KEY CHECK (length(code_hash) = 32),
      crew_member_id uuid NOT NULL REFERENCES crew_member ON DELETE CASCADE,
      expires_at timestamptz NOT NULL,
      used_at timestamptz
    );
    CREATE INDEX invitation_of_member ON invitation (crew_member_id);

    -- What the store of the sessions knows as one piece of JSON, as columns to look for.
    ALTER TABLE session
      ADD id uuid GENERATED ALWAYS AS ((sess ->> 'shownId')::uuid) STORED UNIQUE,
      ADD person_id uuid GENERATED ALWAYS AS ((sess ->> 'personId')::uuid) STORED REFERENCES person ON DELETE CASCADE,
      ADD started_at timestamptz NOT NULL DEFAULT now(),
      ADD used_at timestamptz NOT NULL DEFAULT now();
    CREATE INDEX session_of_person ON session (person_id);

    -- Tries to sign in, counted as rate-limiter-flexible reads them.
    CREATE TABLE sign_in_try (
      key varchar(255) PRIMARY KEY,
      points integer NOT NULL DEFAULT 0,
      expire bigint
    );

    ALTER TABLE event DROP CONSTRAINT event_kind_check, ADD CONSTRAINT event_kind_check CHECK (
      kind IN ('link', 'plan', 'settings', 'bench', 'mount', 'alignment', 'test', 'job', 'people', 'visit'));
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DELETE FROM event WHERE kind IN ('people', 'visit');
    ALTER TABLE event DROP CONSTRAINT event_kind_check, ADD CONSTRAINT event_kind_check CHECK (
      kind IN ('link', 'plan', 'settings', 'bench', 'mount', 'alignment', 'test', 'job'));
    DROP TABLE sign_in_try, invitation;
    ALTER TABLE session DROP COLUMN id, DROP COLUMN person_id, DROP COLUMN started_at, DROP COLUMN used_at;
    ALTER TABLE crew_member DROP COLUMN person_id, DROP COLUMN role, DROP COLUMN left_at;
    DROP TABLE person;
  `);
}
