import type { QueryInterface } from 'sequelize';

/** How an entry of a table leads to its job: by its own column, by its link, by a radio (whose links it is told of), by a place. */
type Path = 'job' | 'link' | 'radio' | 'place';

/** The tables whose entries viewers of a job are told of, by the noun they are told as. */
const told: readonly [table: string, noun: string, path: Path][] = [
  ['crew_member', 'crew', 'job'],
  ['network', 'network', 'job'],
  ['place', 'place', 'job'],
  ['place_need', 'need', 'place'],
  ['obstacle', 'obstacle', 'job'],
  ['cable', 'cable', 'job'],
  ['air', 'air', 'job'],
  ['radio', 'radio', 'job'],
  ['link', 'link', 'job'],
  ['local_rule', 'localRule', 'job'],
  ['licence', 'licence', 'job'],
  ['visit', 'visit', 'job'],
  ['photo', 'photo', 'job'],
  ['alternative', 'alternative', 'link'],
  ['bench_run', 'bench', 'link'],
  ['alignment', 'alignment', 'link'],
  ['path_check', 'pathCheck', 'link'],
  ['throughput_test', 'test', 'link'],
  ['sheet', 'sheet', 'radio'],
  ['radio_login', 'login', 'radio'],
  ['level_source', 'levelSource', 'radio'],
];

/** With a version of its own that a viewer may compare. */
const versioned = new Set([
  'network',
  'place',
  'obstacle',
  'cable',
  'air',
  'radio',
  'link',
  'local_rule',
  'licence',
  'visit',
  'photo',
  'alternative',
]);

const triggersOf = ([table, noun, path]: (typeof told)[number]): string => {
  const call = `FOR EACH ROW EXECUTE FUNCTION tell_entry('${noun}', '${path}', '${versioned.has(table) ? 'version' : ''}')`;
  return `
    CREATE TRIGGER ${table}_told AFTER INSERT OR DELETE ON ${table} ${call};
    CREATE TRIGGER ${table}_change_told AFTER UPDATE ON ${table} FOR EACH ROW WHEN (OLD.* IS DISTINCT FROM NEW.*) ${call.slice('FOR EACH ROW '.length)};`;
};

/**
 * What moves in a job is written down by the tables themselves, one line of news a transaction and job, so that no statement, of whatever program, is forgotten. The line gets its number when the
 * transaction ends, one after the other within a job: whoever has heard of a number has heard of all before it.
 */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE SEQUENCE news_number;
    CREATE TABLE news (
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      transaction xid8 NOT NULL DEFAULT pg_current_xact_id(),
      number bigint,
      at timestamptz NOT NULL DEFAULT clock_timestamp(),
      change_id uuid,
      crew_member_id uuid,
      -- too much to be told one by one
      is_whole boolean NOT NULL DEFAULT false,
      -- by noun, of each entry its version; null where so many moved that they are not counted up
      moved jsonb NOT NULL DEFAULT '{}',
      PRIMARY KEY (job_id, transaction)
    );
    CREATE INDEX news_in_order ON news (job_id, number);

    -- What a transaction has moved until now; empty outside of one.
    CREATE TABLE news_entry (
      job_id uuid NOT NULL,
      transaction xid8 NOT NULL DEFAULT pg_current_xact_id(),
      noun text NOT NULL,
      id uuid NOT NULL,
      version integer,
      PRIMARY KEY (job_id, transaction, noun, id)
    );

    CREATE FUNCTION tell_entry() RETURNS trigger LANGUAGE plpgsql AS $$
    DECLARE
      entry record;
      its_job uuid;
      its_id uuid;
      its_version integer;
    BEGIN
      IF TG_OP = 'DELETE' THEN entry := OLD; ELSE entry := NEW; END IF;
      IF TG_ARGV[1] = 'job' THEN its_job := entry.job_id; its_id := entry.id;
      ELSIF TG_ARGV[1] = 'link' THEN SELECT job_id, id INTO its_job, its_id FROM link WHERE id = entry.link_id;
      ELSIF TG_ARGV[1] = 'place' THEN SELECT job_id, id INTO its_job, its_id FROM place WHERE id = entry.place_id;
      ELSE SELECT job_id INTO its_job FROM radio WHERE id = entry.radio_id;
      END IF;
      -- Gone with its job, or told with what it hung on.
      IF its_job IS NULL OR NOT EXISTS (SELECT FROM job WHERE id = its_job) THEN RETURN NULL; END IF;
      INSERT INTO news (job_id) VALUES (its_job) ON CONFLICT (job_id, transaction) DO NOTHING;
      IF EXISTS (SELECT FROM news WHERE job_id = its_job AND transaction = pg_current_xact_id() AND is_whole) THEN RETURN NULL; END IF;
      IF TG_ARGV[2] = 'version' AND TG_OP <> 'DELETE' THEN its_version := entry.version; END IF;
      IF TG_ARGV[1] = 'radio' THEN
        INSERT INTO news_entry (job_id, noun, id)
          SELECT its_job, TG_ARGV[0], id FROM link WHERE entry.radio_id IN (near_radio_id, far_radio_id) ON CONFLICT DO NOTHING;
      ELSE
        INSERT INTO news_entry (job_id, noun, id, version) VALUES (its_job, TG_ARGV[0], its_id, its_version)
          ON CONFLICT (job_id, transaction, noun, id) DO UPDATE SET version = excluded.version;
      END IF;
      -- Links are planned with what stands on their radios and their air.
      IF TG_ARGV[0] = 'radio' THEN
        INSERT INTO news_entry (job_id, noun, id, version)
          SELECT its_job, 'link', id, version FROM link WHERE entry.id IN (near_radio_id, far_radio_id) ON CONFLICT DO NOTHING;
      ELSIF TG_ARGV[0] = 'air' THEN
        INSERT INTO news_entry (job_id, noun, id, version)
          SELECT its_job, 'link', id, version FROM link WHERE air_id = entry.id ON CONFLICT DO NOTHING;
      END IF;
      RETURN NULL;
    END $$;

    CREATE FUNCTION tell_job() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      IF TG_OP = 'DELETE' THEN PERFORM pg_notify('kivram_news', OLD.id::text);
      ELSE
        INSERT INTO news (job_id, is_whole) VALUES (NEW.id, TG_OP = 'INSERT') ON CONFLICT (job_id, transaction) DO NOTHING;
        INSERT INTO news_entry (job_id, noun, id, version) VALUES (NEW.id, 'job', NEW.id, NEW.version)
          ON CONFLICT (job_id, transaction, noun, id) DO UPDATE SET version = excluded.version;
      END IF;
      RETURN NULL;
    END $$;

    CREATE FUNCTION tell_change() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      INSERT INTO news (job_id, change_id, crew_member_id) VALUES (NEW.job_id, NEW.id, NEW.crew_member_id)
        ON CONFLICT (job_id, transaction) DO UPDATE SET change_id = excluded.change_id, crew_member_id = excluded.crew_member_id;
      RETURN NULL;
    END $$;

    -- When the transaction ends. Who holds the lock waits for nothing any more, so nobody waits for long.
    CREATE FUNCTION number_news() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_advisory_xact_lock(471104, hashtext(NEW.job_id::text));
      UPDATE news SET number = nextval('news_number'), at = clock_timestamp(), moved = coalesce((
          SELECT jsonb_object_agg(noun, entries) FROM (
            SELECT noun, CASE WHEN count(*) <= 20 THEN jsonb_object_agg(id, version) END AS entries
            FROM news_entry WHERE job_id = NEW.job_id AND transaction = NEW.transaction GROUP BY noun) AS by_noun), '{}')
        WHERE job_id = NEW.job_id AND transaction = NEW.transaction;
      DELETE FROM news_entry WHERE job_id = NEW.job_id AND transaction = NEW.transaction;
      PERFORM pg_notify('kivram_news', NEW.job_id::text);
      RETURN NULL;
    END $$;

    CREATE FUNCTION tell_ground() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      INSERT INTO news (job_id, is_whole) SELECT id, true FROM job ORDER BY id ON CONFLICT (job_id, transaction) DO UPDATE SET is_whole = true;
      RETURN NULL;
    END $$;

    CREATE CONSTRAINT TRIGGER news_numbered AFTER INSERT ON news DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION number_news();
    CREATE TRIGGER job_told AFTER INSERT OR DELETE ON job FOR EACH ROW EXECUTE FUNCTION tell_job();
    CREATE TRIGGER job_change_told AFTER UPDATE ON job FOR EACH ROW WHEN (OLD.* IS DISTINCT FROM NEW.*) EXECUTE FUNCTION tell_job();
    CREATE TRIGGER change_told AFTER INSERT ON change FOR EACH ROW WHEN (NEW.job_id IS NOT NULL) EXECUTE FUNCTION tell_change();
    CREATE TRIGGER state_told AFTER INSERT ON link_memo FOR EACH ROW EXECUTE FUNCTION tell_entry('state', 'link', '');
    CREATE TRIGGER state_change_told AFTER UPDATE ON link_memo FOR EACH ROW
      WHEN (OLD.memo -> 'state' IS DISTINCT FROM NEW.memo -> 'state') EXECUTE FUNCTION tell_entry('state', 'link', '');
    CREATE TRIGGER terrain_told AFTER INSERT OR DELETE ON terrain_file FOR EACH STATEMENT EXECUTE FUNCTION tell_ground();
    ${told.map(triggersOf).join('')}
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query('DROP TABLE news, news_entry; DROP SEQUENCE news_number;');
  await queryInterface.sequelize.query(
    'DROP FUNCTION tell_entry, tell_job, tell_change, tell_ground, number_news CASCADE;',
  );
}
