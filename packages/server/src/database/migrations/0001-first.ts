import type { QueryInterface } from 'sequelize';

/** The tables of the first slice. Rules that matter are constraints here, whatever the program above does. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    CREATE TABLE job (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
      customer text NOT NULL DEFAULT '',
      country char(2) NOT NULL CHECK (country ~ '^[A-Z]{2}$'),
      created_at timestamptz NOT NULL DEFAULT now(),
      version integer NOT NULL DEFAULT 0
    );

    CREATE TABLE crew_member (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      UNIQUE (job_id, name),
      UNIQUE (job_id, id)
    );

    CREATE TABLE place (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      latitude_deg double precision NOT NULL CHECK (latitude_deg BETWEEN -90 AND 90),
      longitude_deg double precision NOT NULL CHECK (longitude_deg BETWEEN -180 AND 180),
      ground_height_m double precision NOT NULL CHECK (ground_height_m BETWEEN -430 AND 9000),
      note text NOT NULL DEFAULT '',
      version integer NOT NULL DEFAULT 0,
      UNIQUE (job_id, name),
      UNIQUE (job_id, id)
    );

    CREATE TABLE network (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL UNIQUE REFERENCES job ON DELETE CASCADE,
      subnet_address inet NOT NULL,
      prefix integer NOT NULL CHECK (prefix BETWEEN 8 AND 30),
      gateway inet,
      dhcp_first inet,
      dhcp_last inet,
      feed_mbps double precision CHECK (feed_mbps > 0),
      version integer NOT NULL DEFAULT 0,
      CHECK (family(subnet_address) = 4),
      CHECK ((dhcp_first IS NULL) = (dhcp_last IS NULL)),
      CHECK (dhcp_first <= dhcp_last),
      CHECK (gateway <<= set_masklen(subnet_address, prefix)),
      CHECK (dhcp_first <<= set_masklen(subnet_address, prefix)),
      CHECK (dhcp_last <<= set_masklen(subnet_address, prefix))
    );

    CREATE TABLE known_device (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      network_id uuid NOT NULL REFERENCES network ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
      address inet NOT NULL,
      UNIQUE (network_id, address)
    );

    CREATE TABLE gear_model (
      id text PRIMARY KEY CHECK (length(id) BETWEEN 1 AND 60),
      spec jsonb NOT NULL CHECK (spec ->> 'id' = id)
    );

    -- One unit. A hub is one radio in several links; a relay place holds two radios, or one in two links.
    CREATE TABLE radio (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      place_id uuid NOT NULL,
      model_id text NOT NULL REFERENCES gear_model,
      mount_height_m double precision NOT NULL CHECK (mount_height_m BETWEEN 0 AND 300),
      polarisation text NOT NULL DEFAULT 'dual' CHECK (polarisation IN ('vertical', 'horizontal', 'dual')),
      serial text,
      mac macaddr,
      version integer NOT NULL DEFAULT 0,
      FOREIGN KEY (job_id, place_id) REFERENCES place (job_id, id),
      UNIQUE (job_id, id),
      UNIQUE (job_id, mac)
    );

    CREATE TABLE link (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      name text NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
      near_radio_id uuid NOT NULL,
      far_radio_id uuid NOT NULL,
      path_kind text NOT NULL DEFAULT 'outdoor' CHECK (path_kind IN ('outdoor', 'shaft')),
      duplex text NOT NULL DEFAULT 'tdd' CHECK (duplex IN ('tdd', 'fdd')),
      centre_mhz double precision NOT NULL CHECK (centre_mhz BETWEEN 100 AND 100000),
      width_mhz double precision NOT NULL CHECK (width_mhz > 0 AND width_mhz <= 2160),
      protocol text NOT NULL CHECK (protocol IN ('802.11', 'slots')),
      near_conducted_dbm double precision NOT NULL CHECK (near_conducted_dbm BETWEEN -20 AND 60),
      far_conducted_dbm double precision NOT NULL CHECK (far_conducted_dbm BETWEEN -20 AND 60),
      near_cable_loss_db double precision NOT NULL DEFAULT 0 CHECK (near_cable_loss_db BETWEEN 0 AND 30),
      far_cable_loss_db double precision NOT NULL DEFAULT 0 CHECK (far_cable_loss_db BETWEEN 0 AND 30),
      need_near_to_far_mbps double precision NOT NULL CHECK (need_near_to_far_mbps >= 0),
      need_far_to_near_mbps double precision NOT NULL CHECK (need_far_to_near_mbps >= 0),
      near_mounted_at timestamptz,
      far_mounted_at timestamptz,
      version integer NOT NULL DEFAULT 0,
      UNIQUE (job_id, name),
      UNIQUE (near_radio_id, far_radio_id),
      CHECK (near_radio_id <> far_radio_id),
      FOREIGN KEY (job_id, near_radio_id) REFERENCES radio (job_id, id),
      FOREIGN KEY (job_id, far_radio_id) REFERENCES radio (job_id, id)
    );

    -- A radio's settings. Every save is a new revision; none is ever changed.
    CREATE TABLE sheet (
      radio_id uuid NOT NULL REFERENCES radio ON DELETE CASCADE,
      revision integer NOT NULL CHECK (revision > 0),
      saved_at timestamptz NOT NULL DEFAULT now(),
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      role text NOT NULL CHECK (role IN ('ap', 'station')),
      network_name text NOT NULL CHECK (octet_length(network_name) BETWEEN 1 AND 32),
      security text NOT NULL CHECK (security IN ('open', 'wpa2-psk', 'wpa3-sae')),
      passphrase text CHECK (length(passphrase) BETWEEN 8 AND 63),
      band text NOT NULL CHECK (band IN ('2.4GHz', '5GHz', '60GHz', 'licensed')),
      centre_mhz double precision NOT NULL,
      scan_mhz double precision[] NOT NULL,
      width_mhz double precision NOT NULL CHECK (width_mhz > 0),
      follows_width boolean NOT NULL,
      protocol text NOT NULL CHECK (protocol IN ('802.11', 'slots')),
      ptp_only boolean NOT NULL,
      bridge boolean NOT NULL,
      conducted_dbm double precision NOT NULL,
      country char(2) NOT NULL,
      address inet NOT NULL CHECK (family(address) = 4),
      prefix integer NOT NULL CHECK (prefix BETWEEN 8 AND 30),
      gateway inet,
      device_name text NOT NULL CHECK (length(device_name) BETWEEN 1 AND 63),
      firmware text NOT NULL,
      tx_mhz double precision,
      rx_mhz double precision,
      PRIMARY KEY (radio_id, revision)
    );

    CREATE TABLE bench_run (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      link_id uuid NOT NULL REFERENCES link ON DELETE CASCADE,
      at timestamptz NOT NULL DEFAULT now(),
      near_revision integer NOT NULL,
      far_revision integer NOT NULL,
      linked boolean NOT NULL
    );

    CREATE TABLE alignment (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      link_id uuid NOT NULL REFERENCES link ON DELETE CASCADE,
      state text NOT NULL CHECK (state IN ('running', 'finished', 'abandoned')),
      started_at timestamptz NOT NULL,
      finished_at timestamptz,
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      plan jsonb NOT NULL,
      result jsonb,
      CHECK ((state = 'running') = (finished_at IS NULL)),
      CHECK (state <> 'finished' OR result IS NOT NULL)
    );
    CREATE UNIQUE INDEX one_running_alignment ON alignment (link_id) WHERE state = 'running';

    -- Readings grow without end: one partition a month, made by the server before it writes.
    CREATE TABLE reading (
      alignment_id uuid NOT NULL REFERENCES alignment ON DELETE CASCADE,
      at timestamptz NOT NULL,
      link_end text NOT NULL CHECK (link_end IN ('near', 'far')),
      t_s double precision NOT NULL,
      rsl_dbm real,
      chains_dbm real[] NOT NULL,
      phone_azimuth_deg double precision,
      phone_tilt_deg double precision,
      PRIMARY KEY (alignment_id, at, link_end)
    ) PARTITION BY RANGE (at);

    CREATE TABLE aim_mark (
      alignment_id uuid NOT NULL REFERENCES alignment ON DELETE CASCADE,
      sequence integer NOT NULL,
      t_s double precision NOT NULL,
      kind text NOT NULL CHECK (kind IN ('turning', 'notch', 'locked', 'eye')),
      direction integer CHECK (direction IN (-1, 0, 1)),
      PRIMARY KEY (alignment_id, sequence)
    );

    CREATE TABLE throughput_test (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      link_id uuid NOT NULL REFERENCES link ON DELETE CASCADE,
      at timestamptz NOT NULL,
      direction text NOT NULL CHECK (direction IN ('nearToFar', 'farToNear')),
      source text NOT NULL CHECK (source IN ('iperf3', 'standin', 'hand')),
      protocol text NOT NULL CHECK (protocol IN ('TCP', 'UDP')),
      mbps double precision NOT NULL CHECK (mbps >= 0),
      seconds double precision,
      retransmits integer,
      loss_share double precision CHECK (loss_share BETWEEN 0 AND 1),
      jitter_ms double precision,
      aborted boolean NOT NULL,
      file_name text,
      note text NOT NULL DEFAULT '',
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      verdict jsonb NOT NULL,
      warning text,
      raw jsonb,
      sha256 char(64),
      UNIQUE (link_id, sha256)
    );

    CREATE TABLE event (
      id bigint GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY,
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      link_id uuid REFERENCES link ON DELETE CASCADE,
      at timestamptz NOT NULL DEFAULT now(),
      crew_member_id uuid REFERENCES crew_member ON DELETE SET NULL,
      kind text NOT NULL CHECK (kind IN ('link', 'plan', 'settings', 'bench', 'mount', 'alignment', 'test', 'job')),
      summary text NOT NULL CHECK (length(summary) BETWEEN 1 AND 400),
      detail jsonb NOT NULL DEFAULT '{}'
    );
    CREATE INDEX event_of_link ON event (link_id, at DESC);

    -- The stand-in's own memory: a mount stays where it was turned to, also while no server runs.
    CREATE TABLE standin_world (
      link_id uuid PRIMARY KEY REFERENCES link ON DELETE CASCADE,
      setup jsonb NOT NULL,
      mounts jsonb
    );
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DROP TABLE standin_world, event, throughput_test, aim_mark, reading, alignment, bench_run, sheet, link, radio, gear_model,
      known_device, network, place, crew_member, job CASCADE;
  `);
}
