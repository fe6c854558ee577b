import type { QueryInterface } from 'sequelize';

/** Jobs of one's own: units, jobs that are put away, networks of several subnets with a rate each way, devices that say what they are, and removals that can be undone. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE job
      ADD units text NOT NULL DEFAULT 'metric' CHECK (units IN ('metric', 'imperial')),
      ADD archived_at timestamptz;

    -- Subnets of one site do not overlap: a rule over ranges of addresses and identifiers at once.
    CREATE EXTENSION IF NOT EXISTS btree_gist;
    CREATE TABLE subnet (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      network_id uuid NOT NULL REFERENCES network ON DELETE CASCADE,
      position integer NOT NULL CHECK (position >= 0),
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      address inet NOT NULL CHECK (family(address) = 4),
      prefix integer NOT NULL CHECK (prefix BETWEEN 8 AND 32),
      gateway inet,
      net cidr NOT NULL GENERATED ALWAYS AS (network(set_masklen(address, prefix))) STORED,
      UNIQUE (network_id, position),
      UNIQUE (network_id, name),
      UNIQUE (id, net),
      CHECK (gateway <<= net),
      CONSTRAINT subnets_apart EXCLUDE USING gist (network_id WITH =, net inet_ops WITH &&)
    );
    CREATE TABLE dhcp_range (
      subnet_id uuid NOT NULL,
      net cidr NOT NULL,
      first inet NOT NULL,
      last inet NOT NULL,
      PRIMARY KEY (subnet_id, net, first),
      FOREIGN KEY (subnet_id, net) REFERENCES subnet (id, net) ON DELETE CASCADE,
      CHECK (first <<= net AND last <<= net AND first <= last)
    );
    INSERT INTO subnet (network_id, position, name, address, prefix, gateway)
      SELECT id, 0, 'site', subnet_address, prefix, gateway FROM network;
    INSERT INTO dhcp_range (subnet_id, net, first, last)
      SELECT s.id, s.net, n.dhcp_first, n.dhcp_last FROM network n JOIN subnet s ON s.network_id = n.id WHERE n.dhcp_first IS NOT NULL;
    ALTER TABLE network
      DROP COLUMN subnet_address, DROP COLUMN prefix, DROP COLUMN gateway, DROP COLUMN dhcp_first, DROP COLUMN dhcp_last,
      ADD feed_up_mbps double precision CHECK (feed_up_mbps > 0);
    ALTER TABLE network RENAME feed_mbps TO feed_down_mbps;

    ALTER TABLE known_device
      ADD kind text NOT NULL DEFAULT 'other' CHECK (
        kind IN ('router', 'switch', 'accessPoint', 'recorder', 'camera', 'server', 'computer', 'telemetry', 'other')),
      ADD mac macaddr;
    ALTER TABLE known_device ALTER kind DROP DEFAULT;

    ALTER TABLE radio ADD note text NOT NULL DEFAULT '' CHECK (length(note) <= 2000);
    ALTER TABLE place ADD CHECK (length(note) <= 2000);

    ALTER TABLE obstacle
      ADD is_area boolean NOT NULL DEFAULT false,
      DROP CONSTRAINT obstacle_check1,
      ADD CONSTRAINT obstacle_size CHECK (kind = 'water' OR (height_m > 0 AND (is_area OR width_m > 0))),
      ADD CONSTRAINT obstacle_corners CHECK (NOT is_area OR jsonb_array_length(footprint) >= 3);

    -- Anything is found by a part of its name: three letters at a time, whatever their capitals.
    CREATE EXTENSION IF NOT EXISTS pg_trgm;
    CREATE INDEX link_by_letters ON link USING gin (name gin_trgm_ops);
    CREATE INDEX place_by_letters ON place USING gin (name gin_trgm_ops);
    CREATE INDEX device_by_letters ON known_device USING gin (name gin_trgm_ops);
    CREATE INDEX radio_by_serial ON radio USING gin (serial gin_trgm_ops);
    CREATE INDEX radio_by_mac ON radio USING gin (replace(mac::text, ':', '') gin_trgm_ops);
    CREATE INDEX sheet_by_letters ON sheet USING gin (device_name gin_trgm_ops);
    CREATE INDEX sheet_by_address ON sheet (host(address) text_pattern_ops);

    -- From now on passphrases are sealed; those from before are when the server starts, which has the key.
    ALTER TABLE sheet
      DROP CONSTRAINT sheet_passphrase_check,
      ADD CONSTRAINT sheet_passphrase_sealed CHECK (passphrase LIKE 'v1.%') NOT VALID;

    -- What was removed, row by row, so that it can be brought back as it was.
    CREATE TABLE removal (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      at timestamptz NOT NULL DEFAULT now(),
      what text NOT NULL,
      rows jsonb NOT NULL,
      undone_at timestamptz
    );
    CREATE INDEX removal_of_job ON removal (job_id);
  `);
}

/** Goes back to the first subnet and its first DHCP range: there was room for no more. Sealed passphrases are longer than the old rule had it, and go. */
export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    UPDATE sheet SET passphrase = NULL;
    ALTER TABLE sheet
      DROP CONSTRAINT sheet_passphrase_sealed,
      ADD CONSTRAINT sheet_passphrase_check CHECK (length(passphrase) BETWEEN 8 AND 63);
    DROP INDEX link_by_letters, place_by_letters, device_by_letters, radio_by_serial, radio_by_mac, sheet_by_letters, sheet_by_address;
    DROP TABLE removal;
    DELETE FROM obstacle WHERE is_area;
    ALTER TABLE obstacle
      DROP CONSTRAINT obstacle_corners,
      DROP CONSTRAINT obstacle_size,
      DROP COLUMN is_area,
      ADD CONSTRAINT obstacle_check1 CHECK (kind = 'water' OR (width_m > 0 AND height_m > 0));
    ALTER TABLE place DROP CONSTRAINT place_note_check;
    ALTER TABLE radio DROP COLUMN note;
    ALTER TABLE known_device DROP COLUMN kind, DROP COLUMN mac;
    ALTER TABLE network RENAME feed_down_mbps TO feed_mbps;
    ALTER TABLE network
      DROP COLUMN feed_up_mbps,
      ADD subnet_address inet, ADD prefix integer CHECK (prefix BETWEEN 8 AND 32), ADD gateway inet, ADD dhcp_first inet, ADD dhcp_last inet;
    UPDATE network SET subnet_address = s.address, prefix = s.prefix, gateway = s.gateway, dhcp_first = r.first, dhcp_last = r.last
      FROM subnet s LEFT JOIN LATERAL (SELECT first, last FROM dhcp_range WHERE subnet_id = s.id ORDER BY first LIMIT 1) r ON true
      WHERE s.network_id = network.id AND s.position = 0;
    DELETE FROM network WHERE subnet_address IS NULL;
    ALTER TABLE network ALTER subnet_address SET NOT NULL, ALTER prefix SET NOT NULL;
    DROP TABLE dhcp_range, subnet;
    ALTER TABLE job DROP COLUMN units, DROP COLUMN archived_at;
  `);
}
