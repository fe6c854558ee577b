import type { Found } from '@kivram/contract/views/find';
import { QueryTypes, type Sequelize } from 'sequelize';

/** So many are shown; whoever wants others types more. */
const mostFound = 24;

/**
 * What is there of a name, an address, a hardware address, a serial number; of one job first, and what begins with the text before what holds it.
 * @param seen the jobs in which is looked; null for all
 */
export async function find(
  sequelize: Sequelize,
  text: string,
  jobId: string | null,
  seen: string[] | null,
): Promise<Found[]> {
  const wanted = text.trim();
  if (!wanted) return [];
  const escaped = wanted.replace(/[\\%_]/g, (mark) => `\\${mark}`);
  return sequelize.query<Found>(finding(seen !== null), {
    type: QueryTypes.SELECT,
    replacements: {
      part: `%${escaped}%`,
      begin: `${escaped}%`,
      // Hardware addresses are written with all kinds of marks between their digits.
      mac: `%${/^[0-9a-f:.-]+$/i.test(wanted) ? wanted.replace(/[:.-]/g, '').toLowerCase() : 'none'}%`,
      jobId,
      seen: seen?.length ? seen : [null],
      limit: mostFound,
    },
  });
}

/**
 * Every kind by its indexes, and of each no more than is shown: what many are called would otherwise take long to sort. Radios are looked for by their settings, which have
 * revisions: those that were found are then held against the newest.
 */
const finding = (some: boolean): string => {
  const seen = (jobId: string): string => (some ? `${jobId} IN (:seen) AND ` : '');
  const ofSeen = some ? 'radio_id IN (SELECT id FROM radio WHERE job_id IN (:seen)) AND ' : '';
  return `
  WITH candidate AS (
    (SELECT id FROM radio WHERE ${seen('job_id')}(serial ILIKE :part OR replace(mac::text, ':', '') LIKE :mac) LIMIT 100)
    UNION (SELECT r.id FROM radio r JOIN sheet s ON s.radio_id = r.id
      WHERE r.job_id = :jobId::uuid AND (s.device_name ILIKE :part OR host(s.address) LIKE :begin) LIMIT 200)
    UNION (SELECT radio_id FROM sheet WHERE ${ofSeen}device_name ILIKE :part LIMIT 100)
    UNION (SELECT radio_id FROM sheet WHERE ${ofSeen}host(address) LIKE :begin LIMIT 100)
  ), hit AS (
    (SELECT 'job' AS kind, id::text, id AS job_id, name, customer AS about FROM job WHERE ${seen('id')}(name ILIKE :part OR customer ILIKE :part) LIMIT 100)
    UNION ALL
    (SELECT 'link', id::text, job_id, name, 'link' FROM link WHERE ${seen('job_id')}name ILIKE :part
      ORDER BY (job_id IS NOT DISTINCT FROM :jobId::uuid) DESC, (name ILIKE :begin) DESC, name LIMIT :limit)
    UNION ALL
    (SELECT 'place', id::text, job_id, name, kind FROM place WHERE ${seen('job_id')}name ILIKE :part
      ORDER BY (job_id IS NOT DISTINCT FROM :jobId::uuid) DESC, (name ILIKE :begin) DESC, name LIMIT :limit)
    UNION ALL
    (SELECT 'device', d.id::text, n.job_id, d.name, concat_ws(', ', host(d.address), d.mac::text) FROM known_device d JOIN network n ON n.id = d.network_id
      WHERE ${seen('n.job_id')}(d.name ILIKE :part OR host(d.address) LIKE :begin OR replace(d.mac::text, ':', '') LIKE :mac)
      ORDER BY (n.job_id IS NOT DISTINCT FROM :jobId::uuid) DESC LIMIT :limit)
    UNION ALL
    (SELECT 'model', id, NULL, concat_ws(' ', spec ->> 'maker', spec ->> 'name'), 'spec sheet' FROM
      (SELECT DISTINCT ON (id) id, spec FROM gear_model WHERE offered ORDER BY id, revision DESC) newest
      WHERE concat_ws(' ', spec ->> 'maker', spec ->> 'name') ILIKE :part LIMIT :limit)
    UNION ALL
    (SELECT 'radio', r.id::text, r.job_id, r.name, concat_ws(', ', r.address, r.mac::text, r.serial) FROM (
        SELECT r.id, r.job_id, r.mac, r.serial, coalesce(s.device_name, 'radio at ' || p.name) AS name, host(s.address) AS address
        FROM candidate JOIN radio r ON r.id = candidate.id JOIN place p ON p.id = r.place_id LEFT JOIN LATERAL
          (SELECT device_name, address FROM sheet WHERE radio_id = r.id ORDER BY revision DESC LIMIT 1) s ON true) r
      WHERE ${seen('r.job_id')}(r.name ILIKE :part OR r.address LIKE :begin OR r.serial ILIKE :part OR replace(r.mac::text, ':', '') LIKE :mac))
  ), shown AS (
    SELECT * FROM hit ORDER BY (job_id IS NOT DISTINCT FROM :jobId::uuid) DESC, (name ILIKE :begin) DESC, name, kind LIMIT :limit
  )
  SELECT kind, id, job_id AS "jobId", name, about, CASE kind
      WHEN 'link' THEN id::uuid
      WHEN 'radio' THEN (SELECT l.id FROM link l WHERE l.near_radio_id = shown.id::uuid OR l.far_radio_id = shown.id::uuid ORDER BY l.name LIMIT 1)
    END AS "linkId"
  FROM shown ORDER BY (job_id IS NOT DISTINCT FROM :jobId::uuid) DESC, (name ILIKE :begin) DESC, name, kind`;
};
