import type { LevelProfileBody, ProfileValue } from '@kivram/contract/requests/level';
import { LevelProfileRow } from '../database/models/levelProfile';

const of = (where: string, scale: number, type: ProfileValue['type'] = 'number'): ProfileValue => ({
  where,
  type,
  scale,
  offset: 0,
});

/** How the stand-in radios are read: by their SNMP agent, whose numbers lie under the enterprise kept free for documentation (RFC 5612), and by their page. */
const profiles: readonly (Omit<LevelProfileBody, 'version'> & { id: string })[] = [
  {
    id: 'b5b9f5a2-3c54-4d0e-9d0a-1f6f6a0c1a01',
    name: 'Stand-in radio by SNMP',
    way: 'snmp',
    level: of('1.3.6.1.4.1.32473.77.1.0', 0.1),
    chains: [of('1.3.6.1.4.1.32473.77.2.0', 0.1), of('1.3.6.1.4.1.32473.77.3.0', 0.1)],
    noise: of('1.3.6.1.4.1.32473.77.4.0', 0.1),
    txRate: of('1.3.6.1.4.1.32473.77.5.0', 0.001),
    rxRate: of('1.3.6.1.4.1.32473.77.6.0', 0.001),
  },
  {
    id: 'b5b9f5a2-3c54-4d0e-9d0a-1f6f6a0c1a02',
    name: 'Stand-in radio by its page',
    way: 'json',
    level: of('/rslDbm', 1),
    chains: [of('/chainsDbm/0', 1), of('/chainsDbm/1', 1)],
    noise: of('/noiseDbm', 1),
    txRate: of('/txMbps', 1),
    rxRate: of('/rxMbps', 1),
  },
];

/** Puts the profiles of the stand-in radios in, unless they are there. */
export async function loadProfiles(): Promise<void> {
  for (const { id, name, way, ...values } of profiles)
    await LevelProfileRow.findOrCreate({ where: { id }, defaults: { id, name, way, values } });
}
