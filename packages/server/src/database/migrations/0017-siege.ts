import type { QueryInterface } from 'sequelize';

/** What a command is called of which only a program and its arguments were known: the program's own name, as far as it is one. */
const nameOfProgram = `left(coalesce(nullif(regexp_replace(source.setting #>> '{command,program}', '^.*/', ''), ''), 'command'), 60)`;

/**
 * What the second siege found: a job names a program of this computer only, and it is allowed here for each end; who is the same person in two jobs is said, and never told by names.
 */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE level_source ADD allowed_command text;

    -- An id that was used for one change, by one person, answers no other.
    ALTER TABLE change ADD made_by text;

    -- A server that dies soon after it has taken work up may have died of it.
    ALTER TABLE lease ADD since timestamptz NOT NULL DEFAULT now(), ADD short_lives integer NOT NULL DEFAULT 0;

    -- Somebody who signs in already joins another job by an invitation, as the person that they are.
    ALTER TABLE invitation ADD person_id uuid REFERENCES person ON DELETE CASCADE;
    CREATE INDEX invitation_of_person ON invitation (person_id);

    -- What stood there is said once more, for whoever writes it into the file of this computer; nothing is run by it.
    INSERT INTO event (job_id, link_id, kind, summary)
      SELECT link.job_id, link.id, 'alignment',
        left('Levels came from the program ' || (source.setting #>> '{command,program}') ||
          coalesce(' ' || nullif(replace(source.setting #>> '{command,arguments}', E'\\n', ' '), ''), '') ||
          ': jobs run no programs any more, write it into the commands of this computer as ' || ${nameOfProgram}, 400)
      FROM level_source source JOIN link ON source.radio_id IN (link.near_radio_id, link.far_radio_id)
        AND source.peer_id IN (link.near_radio_id, link.far_radio_id)
      WHERE source.setting ? 'command';
    UPDATE level_source source SET setting = jsonb_build_object('command', jsonb_build_object('name', ${nameOfProgram}))
      WHERE source.setting ? 'command';
    UPDATE removal SET rows = jsonb_set(rows, '{level_source}', (
        SELECT jsonb_agg(CASE WHEN source.row #> '{setting,command}' IS NULL THEN source.row
          ELSE jsonb_set(source.row, '{setting}', jsonb_build_object('command', jsonb_build_object('name', ${nameOfProgram.replace('source.setting', "source.row -> 'setting'")}))) END)
        FROM jsonb_array_elements(rows -> 'level_source') source(row)))
      WHERE rows @? '$.level_source[*].setting.command';
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    UPDATE level_source SET setting = jsonb_build_object('command', jsonb_build_object('program', setting #>> '{command,name}', 'arguments', ''))
      WHERE setting ? 'command';
    ALTER TABLE level_source DROP allowed_command;
    ALTER TABLE invitation DROP person_id;
    ALTER TABLE change DROP made_by;
    ALTER TABLE lease DROP since, DROP short_lives;
  `);
}
