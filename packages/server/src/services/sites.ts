import type { Site } from '@kivram/core/pairing/site';
import { QueryTypes, type Sequelize } from 'sequelize';
import { NetworkRow } from '../database/models/network';
import { networkOf } from './networks';

/** What a job's site has already: its network, and who has which address. */
export interface JobSite {
  subnets: Site['subnets'];
  taken: { address: string; name: string; radioId: string | null }[];
}

/** The network of a job, its known devices, and its radios by their latest settings. */
export async function siteOf(jobId: string): Promise<JobSite> {
  const sequelize = NetworkRow.sequelize as Sequelize;
  const [{ network }, taken] = await Promise.all([
    networkOf(jobId),
    sequelize.query<JobSite['taken'][number]>(
      `SELECT host(d.address) AS address, d.name, NULL AS "radioId" FROM known_device d JOIN network n ON n.id = d.network_id WHERE n.job_id = :jobId
       UNION ALL
       (SELECT DISTINCT ON (s.radio_id) host(s.address), 'the radio at ' || p.name || ', ' || s.device_name, s.radio_id::text
          FROM sheet s JOIN radio r ON r.id = s.radio_id JOIN place p ON p.id = r.place_id
         WHERE r.job_id = :jobId ORDER BY s.radio_id, s.revision DESC)`,
      { type: QueryTypes.SELECT, replacements: { jobId } },
    ),
  ]);
  return { subnets: network?.subnets ?? [], taken };
}

/** The site as two of its radios see it: their own addresses are not taken. */
export function siteFor({ subnets, taken }: JobSite, radioIds: readonly string[]): Site {
  return {
    subnets,
    taken: taken.flatMap(({ address, name, radioId }) =>
      radioId !== null && radioIds.includes(radioId) ? [] : [{ address, name }],
    ),
  };
}
