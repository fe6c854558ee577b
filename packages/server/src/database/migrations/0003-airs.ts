import { QueryTypes, type QueryInterface, type Sequelize } from 'sequelize';
import { adoptReadings } from './0003-airs/readings';
import { basesOf, type OldLink } from './0003-airs/bases';
import { airsOf } from './0003-airs/groups';

/**
 * From pairs to whole jobs: airs that radios share, radios that own power, cable, mount and pointing, spec sheets in revisions, readings and marks by
 * radio and peer, evidence with what it rests on, changes with an id, leases, and the law as data.
 */
export async function up(queryInterface: QueryInterface): Promise<void> {
  const { sequelize } = queryInterface;
  await sequelize.query(newTables);
  await moveLinks(sequelize);
  await sequelize.query(tightened);
  await adoptReadings(sequelize);
}

const newTables = `
  -- Until now a job could only be the demo or a copy of it, and all its measurements those of stand-in radios: practice.
  ALTER TABLE job ADD practice boolean NOT NULL DEFAULT false;
  UPDATE job SET practice = true;

  CREATE TABLE rule_set (
    country char(2) NOT NULL CHECK (country ~ '^[A-Z]{2}$'),
    valid_from text NOT NULL CHECK (valid_from ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}$'),
    name text NOT NULL,
    rules jsonb NOT NULL,
    PRIMARY KEY (country, valid_from)
  );

  ALTER TABLE radio DROP CONSTRAINT radio_model_id_fkey;
  ALTER TABLE gear_model ADD revision integer NOT NULL DEFAULT 1 CHECK (revision > 0);
  ALTER TABLE gear_model ADD made_at timestamptz NOT NULL DEFAULT now();
  ALTER TABLE gear_model DROP CONSTRAINT gear_model_pkey, ADD PRIMARY KEY (id, revision);
  ALTER TABLE gear_model ALTER revision DROP DEFAULT;

  CREATE TABLE air (
    id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
    job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
    kind text NOT NULL CHECK (kind IN ('pair', 'hub', 'chain', 'duplex')),
    centre_mhz double precision NOT NULL CHECK (centre_mhz BETWEEN 100 AND 100000),
    return_mhz double precision CHECK (return_mhz BETWEEN 100 AND 100000),
    width_mhz double precision NOT NULL CHECK (width_mhz > 0 AND width_mhz <= 2160),
    protocol text NOT NULL CHECK (protocol IN ('802.11', 'slots')),
    error_correction boolean NOT NULL DEFAULT false,
    version integer NOT NULL DEFAULT 0,
    UNIQUE (job_id, id),
    -- two frequencies are what makes a licensed pair
    CHECK ((kind = 'duplex') = (return_mhz IS NOT NULL)),
    CHECK (return_mhz IS NULL OR abs(return_mhz - centre_mhz) >= width_mhz)
  );

  ALTER TABLE radio
    ADD model_revision integer NOT NULL DEFAULT 1,
    ADD air_id uuid,
    ADD role text NOT NULL DEFAULT 'station' CHECK (role IN ('access', 'station', 'relay')),
    ADD conducted_dbm double precision NOT NULL DEFAULT 0 CHECK (conducted_dbm BETWEEN -20 AND 60),
    ADD cable_loss_db double precision NOT NULL DEFAULT 0 CHECK (cable_loss_db BETWEEN 0 AND 30),
    ADD azimuth_deg double precision CHECK (azimuth_deg BETWEEN 0 AND 360),
    ADD tilt_deg double precision CHECK (tilt_deg BETWEEN -90 AND 90),
    ADD mounted_at timestamptz,
    ADD mounted_by uuid REFERENCES crew_member ON DELETE SET NULL,
    ADD mount_basis jsonb,
    ADD FOREIGN KEY (model_id, model_revision) REFERENCES gear_model (id, revision);
  ALTER TABLE radio ALTER model_revision DROP DEFAULT, ALTER role DROP DEFAULT, ALTER conducted_dbm DROP DEFAULT;
  ALTER TABLE link ADD air_id uuid;

  ALTER TABLE sheet
    DROP CONSTRAINT sheet_role_check,
    ADD CHECK (role IN ('ap', 'station', 'relay')),
    ADD neighbours text[] NOT NULL DEFAULT '{}',
    ADD error_correction boolean NOT NULL DEFAULT false;

  ALTER TABLE network ADD feed_place_id uuid, ADD FOREIGN KEY (job_id, feed_place_id) REFERENCES place (job_id, id);

  ALTER TABLE bench_run
    ADD crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
    ADD evidence_kind text NOT NULL DEFAULT 'standin' CHECK (evidence_kind IN ('measured', 'told', 'standin')),
    ADD basis jsonb;
  ALTER TABLE alignment
    ADD evidence_kind text NOT NULL DEFAULT 'standin' CHECK (evidence_kind IN ('measured', 'told', 'standin')),
    ADD basis jsonb;
  ALTER TABLE throughput_test
    ADD both_loaded boolean NOT NULL DEFAULT false,
    ADD expected_mbps double precision CHECK (expected_mbps >= 0),
    ADD evidence_kind text CHECK (evidence_kind IN ('measured', 'told', 'standin')),
    ADD basis jsonb;
  UPDATE throughput_test SET
    evidence_kind = CASE source WHEN 'iperf3' THEN 'measured' WHEN 'hand' THEN 'told' ELSE 'standin' END,
    both_loaded = coalesce(raw #>> '{start,test_start,bidir}', '0') = '1',
    expected_mbps = (SELECT (term ->> 'value')::double precision FROM jsonb_array_elements(verdict -> 'terms') term WHERE term ->> 'label' = 'expected');

  -- A change that a client made under an id of its own; asked for again, it answers what it answered.
  CREATE TABLE change (
    id uuid PRIMARY KEY,
    job_id uuid REFERENCES job ON DELETE CASCADE,
    crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
    at timestamptz NOT NULL DEFAULT now(),
    result jsonb
  );
  ALTER TABLE event ADD change_id uuid REFERENCES change ON DELETE SET NULL;

  CREATE TABLE lease (
    name text PRIMARY KEY,
    holder uuid NOT NULL,
    until timestamptz NOT NULL
  );

  -- What was computed of a link, with a key that stands for everything it was computed from.
  CREATE TABLE link_memo (
    link_id uuid PRIMARY KEY REFERENCES link ON DELETE CASCADE,
    key text NOT NULL,
    memo jsonb NOT NULL
  );

  -- Browser sessions, as connect-pg-simple reads them, and what every server of this database must share to read them.
  CREATE TABLE session (
    sid text PRIMARY KEY,
    sess json NOT NULL,
    expire timestamptz NOT NULL
  );
  CREATE INDEX session_expire ON session (expire);
  CREATE TABLE setting (
    name text PRIMARY KEY,
    value text NOT NULL
  );
`;

/** Gives every set of links that share a radio one air, moves what belongs to radios to them, and writes down what records rested on. */
async function moveLinks(sequelize: Sequelize): Promise<void> {
  const links = await sequelize.query<OldLink>(oldLinks, { type: QueryTypes.SELECT });
  for (const { air, members } of airsOf(links)) {
    const [made] = await sequelize.query<{ id: string }>(
      `INSERT INTO air (job_id, kind, centre_mhz, return_mhz, width_mhz, protocol)
       VALUES (:jobId, :kind, :centreMHz, :returnMHz, :widthMHz, :protocol) RETURNING id`,
      { type: QueryTypes.SELECT, replacements: { ...air } },
    );
    const airId = made?.id ?? '';
    await sequelize.query('UPDATE link SET air_id = :airId WHERE id IN (:ids)', {
      replacements: { airId, ids: members.map((l) => l.id) },
    });
    for (const radio of air.radios) {
      await sequelize.query(
        `UPDATE radio SET air_id = :airId, role = :role, conducted_dbm = :conductedDbm, cable_loss_db = :cableLossDb,
           mounted_at = :mountedAt WHERE id = :id`,
        { replacements: { airId, ...radio } },
      );
    }
  }
  await sequelize.query(`
    UPDATE network SET feed_place_id = (
      SELECT r.place_id FROM link l JOIN radio r ON r.id = l.near_radio_id WHERE l.job_id = network.job_id
      GROUP BY r.place_id ORDER BY count(*) DESC, r.place_id LIMIT 1)`);
  for (const { table, id, basis } of await basesOf(sequelize, links)) {
    const column = table === 'radio' ? 'mount_basis' : 'basis';
    await sequelize.query(`UPDATE ${table} SET ${column} = :basis::jsonb WHERE id = :id`, {
      replacements: { id, basis: JSON.stringify(basis) },
    });
  }
}

const oldLinks = `
  SELECT l.*, l.id AS id, l.job_id AS "jobId",
    to_jsonb(nr) || jsonb_build_object('place', to_jsonb(np)) AS near, to_jsonb(fr) || jsonb_build_object('place', to_jsonb(fp)) AS far,
    (SELECT coalesce(jsonb_agg(to_jsonb(s) - 'passphrase' ORDER BY s.revision), '[]') FROM sheet s WHERE s.radio_id = nr.id) AS "nearSheets",
    (SELECT coalesce(jsonb_agg(to_jsonb(s) - 'passphrase' ORDER BY s.revision), '[]') FROM sheet s WHERE s.radio_id = fr.id) AS "farSheets"
  FROM link l
  JOIN radio nr ON nr.id = l.near_radio_id JOIN place np ON np.id = nr.place_id
  JOIN radio fr ON fr.id = l.far_radio_id JOIN place fp ON fp.id = fr.place_id
  ORDER BY l.name, l.id`;

const tightened = `
  -- A radio that no link used had no plan; an air of its own keeps it whole.
  INSERT INTO air (id, job_id, kind, centre_mhz, width_mhz, protocol)
    SELECT r.id, r.job_id, 'pair', 5500, 20, '802.11' FROM radio r WHERE r.air_id IS NULL;
  UPDATE radio SET air_id = id WHERE air_id IS NULL;

  ALTER TABLE radio
    ALTER air_id SET NOT NULL,
    ADD FOREIGN KEY (job_id, air_id) REFERENCES air (job_id, id),
    ADD UNIQUE (air_id, id);
  CREATE UNIQUE INDEX one_access_radio ON radio (air_id) WHERE role = 'access';
  CREATE INDEX radio_of_job ON radio (job_id);

  ALTER TABLE link
    DROP COLUMN duplex, DROP COLUMN centre_mhz, DROP COLUMN width_mhz, DROP COLUMN protocol,
    DROP COLUMN near_conducted_dbm, DROP COLUMN far_conducted_dbm, DROP COLUMN near_cable_loss_db, DROP COLUMN far_cable_loss_db,
    DROP COLUMN near_mounted_at, DROP COLUMN far_mounted_at,
    ALTER air_id SET NOT NULL,
    ADD FOREIGN KEY (job_id, air_id) REFERENCES air (job_id, id),
    -- both radios of a link are on its air
    ADD FOREIGN KEY (air_id, near_radio_id) REFERENCES radio (air_id, id),
    ADD FOREIGN KEY (air_id, far_radio_id) REFERENCES radio (air_id, id);
  CREATE INDEX link_of_job ON link (job_id);
  CREATE INDEX link_on_air ON link (air_id);
  CREATE INDEX link_of_near_radio ON link (near_radio_id);
  CREATE INDEX link_of_far_radio ON link (far_radio_id);

  ALTER TABLE bench_run DROP COLUMN near_revision, DROP COLUMN far_revision, ALTER evidence_kind DROP DEFAULT;
  ALTER TABLE alignment ALTER evidence_kind DROP DEFAULT;
  ALTER TABLE throughput_test ALTER evidence_kind SET NOT NULL, ALTER both_loaded DROP DEFAULT;
  UPDATE alignment SET plan = plan || '{"ends": ["near", "far"]}';
  CREATE INDEX bench_run_of_link ON bench_run (link_id, at DESC);
  CREATE INDEX alignment_of_link ON alignment (link_id, started_at DESC);
  CREATE INDEX test_of_link ON throughput_test (link_id, direction, at DESC);
  CREATE INDEX event_of_job ON event (job_id, at DESC);
  CREATE INDEX change_of_job ON change (job_id, at DESC);
`;

export function down(): Promise<void> {
  return Promise.reject(
    new Error('The step before airs cannot be gone back to: restore the copy of the database that was made before.'),
  );
}
