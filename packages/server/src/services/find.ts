import type { Found } from '@kivram/contract';
import { QueryTypes, type Sequelize } from 'sequelize';

/** So many are shown; whoever wants others types more. */
const mostFound = 24;

/** What is there of a name, an address, a hardware address, a serial number; of one job first, and what begins with the text before what holds it. */
export async function find(sequelize: Sequelize, text: string, jobId: string | null): Promise<Found[]> {
  const wanted = text.trim();
  if (!wanted) return [];
  const escaped = wanted.replace(/[\\%_]/g, (mark) => `\\${mark}`);
  return sequelize.query<Found>(finding, {
    type: QueryTypes.SELECT,
    replacements: {
      part: `%${escaped}%`,
      begin: `${escaped}%`,
      // Hardware addresses are written with all kinds of marks between their digits.
      mac: `%${/^[0-9a-f:.-]+$/i.test(wanted) ? wanted.replace(/[:.-]/g, '').toLowerCase() : 'none'}%`,
      jobId,
      limit: mostFound,
    },
  });
}

const finding = `
  WITH hit AS (
    SELECT 'job' AS kind, id::text, id AS job_id, NULL::uuid AS link_id, name, customer AS about FROM job
      WHERE name ILIKE :part OR customer ILIKE :part
    UNION ALL
    SELECT 'link', l.id::text, l.job_id, l.id, l.name, 'link' FROM link l WHERE l.name ILIKE :part
    UNION ALL
    SELECT 'place', p.id::text, p.job_id, NULL, p.name, p.kind FROM place p WHERE p.name ILIKE :part
    UNION ALL
    SELECT 'device', d.id::text, n.job_id, NULL, d.name, concat_ws(', ', host(d.address), d.mac::text) FROM known_device d JOIN network n ON n.id = d.network_id
      WHERE d.name ILIKE :part OR host(d.address) LIKE :begin OR replace(d.mac::text, ':', '') LIKE :mac
    UNION ALL
    SELECT 'model', id, NULL, NULL, concat_ws(' ', spec ->> 'maker', spec ->> 'name'), 'spec sheet' FROM
      (SELECT DISTINCT ON (id) id, spec FROM gear_model WHERE offered ORDER BY id, revision DESC) newest
      WHERE concat_ws(' ', spec ->> 'maker', spec ->> 'name') ILIKE :part
    UNION ALL
    SELECT 'radio', r.id::text, r.job_id, (SELECT l.id FROM link l WHERE r.id IN (l.near_radio_id, l.far_radio_id) ORDER BY l.name LIMIT 1), r.name,
      concat_ws(', ', r.address, r.mac::text, r.serial) FROM (
        SELECT r.id, r.job_id, r.mac, r.serial, coalesce(s.device_name, 'radio at ' || p.name) AS name, host(s.address) AS address
        FROM radio r JOIN place p ON p.id = r.place_id LEFT JOIN LATERAL
          (SELECT device_name, address FROM sheet WHERE radio_id = r.id ORDER BY revision DESC LIMIT 1) s ON true
        WHERE r.id IN (
          SELECT id FROM radio WHERE serial ILIKE :part OR replace(mac::text, ':', '') LIKE :mac
          UNION SELECT radio_id FROM sheet WHERE device_name ILIKE :part OR host(address) LIKE :begin)) r
      WHERE r.name ILIKE :part OR r.address LIKE :begin OR r.serial ILIKE :part OR replace(r.mac::text, ':', '') LIKE :mac
  )
  SELECT kind, id, job_id AS "jobId", link_id AS "linkId", name, about FROM hit
  ORDER BY (job_id IS NOT DISTINCT FROM :jobId::uuid) DESC, (name ILIKE :begin) DESC, name, kind LIMIT :limit`;
