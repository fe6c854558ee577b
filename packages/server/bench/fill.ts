import { QueryTypes, type Sequelize } from 'sequelize';

/** Fills a job by set statements: links from one mast to places around it. */
export async function fillJob(sequelize: Sequelize, links: number, name = 'Many links'): Promise<string> {
  const [job] = await sequelize.query<{ id: string }>(
    `INSERT INTO job (name, customer, country, practice) VALUES (:name, 'Bench', 'XT', true) RETURNING id`,
    { type: QueryTypes.SELECT, replacements: { name } },
  );
  const jobId = job?.id ?? '';
  await sequelize.query(
    `
    INSERT INTO place (job_id, name, latitude_deg, longitude_deg, ground_height_m)
      SELECT :jobId, 'Place ' || n, 33.412 + 0.022 * sin(n) * sqrt(n / 1000.0), -37.8406 + 0.024 * cos(n) * sqrt(n / 1000.0), 5
      FROM generate_series(0, :links) n;
    CREATE TEMP TABLE plan ON COMMIT DROP AS SELECT n, gen_random_uuid() AS air, gen_random_uuid() AS near, gen_random_uuid() AS far, gen_random_uuid() AS link
      FROM generate_series(1, :links) n;
    INSERT INTO air (id, job_id, kind, centre_mhz, width_mhz, protocol) SELECT air, :jobId, 'pair', 5775, 80, '802.11' FROM plan;
    INSERT INTO radio (id, job_id, place_id, model_id, model_revision, air_id, role, mount_height_m, conducted_dbm, mounted_at)
      SELECT near, :jobId::uuid, p.id, 'brinmoor-span-25', 1, air, 'access', 14, 11, now() FROM plan JOIN place p ON p.job_id = :jobId AND p.name = 'Place 0'
      UNION ALL
      SELECT far, :jobId::uuid, p.id, 'brinmoor-span-25', 1, air, 'station', 9, 11, now() FROM plan JOIN place p ON p.job_id = :jobId AND p.name = 'Place ' || n;
    INSERT INTO link (id, job_id, air_id, name, near_radio_id, far_radio_id, need_near_to_far_mbps, need_far_to_near_mbps)
      SELECT link, :jobId, air, concat('Link ', n), near, far, 50, 20 FROM plan;
    INSERT INTO sheet (radio_id, revision, role, network_name, security, passphrase, band, centre_mhz, scan_mhz, width_mhz, follows_width, protocol,
        ptp_only, bridge, conducted_dbm, country, address, prefix, device_name, firmware)
      SELECT r.id, revision, CASE r.role WHEN 'access' THEN 'ap' ELSE 'station' END, 'bench-' || p.n, 'open', NULL, '5GHz', 5775, '{}', 80, false,
        '802.11', true, true, 11, 'XT', inet '10.0.0.1' + 2 * p.n + (r.role = 'access')::integer, 16, 'radio ' || r.id, '1.0'
      FROM plan p JOIN radio r ON r.id IN (p.near, p.far) CROSS JOIN generate_series(1, 2) revision;
    INSERT INTO bench_run (link_id, linked, evidence_kind) SELECT link, true, 'standin' FROM plan;
    INSERT INTO throughput_test (link_id, at, direction, source, protocol, mbps, aborted, both_loaded, evidence_kind, verdict, expected_mbps)
      SELECT link, now() - interval '1 hour' * k, d, 'standin', 'TCP', 500, false, false, 'standin', '{"state": "holds", "headline": "", "reason": "", "terms": [], "bottleneck": "none"}', 600
      FROM plan CROSS JOIN unnest(ARRAY['nearToFar', 'farToNear']) d CROSS JOIN generate_series(1, 3) k;
    `,
    { replacements: { jobId, links } },
  );
  return jobId;
}
