import type { LevelProfileBody, ProfileValue } from '@kivram/contract/requests/level';
import { combinedDbm } from '@kivram/core/aiming/levelWay';
import type { ToldLevel } from './device';

/** A level of 0 dBm or more, or one under every noise, is a radio's way to say that it hears nothing (common practice, no source). */
const plausibleDbm = { least: -120, under: 0 } as const;

/** Opaque floats begin with these octets; four of IEEE 754 follow (common practice of SNMP agents, no standard). */
const floatMark = Buffer.from([0x9f, 0x78, 0x04]);

/** The number in what a device told; null where there is none. */
export function numberIn(raw: unknown, type: ProfileValue['type']): number | null {
  if (typeof raw === 'number') return Number.isFinite(raw) ? raw : null;
  if (type === 'float' && Buffer.isBuffer(raw)) {
    if (raw.length === 7 && raw.subarray(0, 3).equals(floatMark)) return finite(raw.readFloatBE(3));
    return raw.length === 4 ? finite(raw.readFloatBE(0)) : null;
  }
  const text = Buffer.isBuffer(raw) ? raw.toString('utf8') : typeof raw === 'string' ? raw : '';
  if (type === 'text') {
    const [first] = /[-−]?\d+(\.\d+)?/.exec(text) ?? [];
    return first === undefined ? null : finite(Number(first.replace('−', '-')));
  }
  return text.trim() === '' ? null : finite(Number(text));
}

/** What a profile makes of what a device told. @param rawAt what stood at a place; undefined for nothing */
export function toldBy(
  profile: Pick<LevelProfileBody, 'level' | 'chains' | 'noise' | 'txRate' | 'rxRate'>,
  rawAt: (where: string) => unknown,
): ToldLevel {
  const of = (value: ProfileValue | null): number | null => {
    const number = value && numberIn(rawAt(value.where), value.type);
    return number === null || !value ? null : number * value.scale + value.offset;
  };
  const level = (value: ProfileValue | null): number | null => {
    const dbm = of(value);
    return dbm !== null && dbm >= plausibleDbm.least && dbm < plausibleDbm.under ? dbm : null;
  };
  const chainsDbm = profile.chains.flatMap((chain) => level(chain) ?? []);
  const noiseDbm = of(profile.noise) ?? undefined;
  const txMbps = of(profile.txRate) ?? undefined;
  const rxMbps = of(profile.rxRate) ?? undefined;
  return {
    rslDbm: profile.level ? level(profile.level) : combinedDbm(chainsDbm),
    chainsDbm,
    told: {
      ...(noiseDbm !== undefined && { noiseDbm }),
      ...(txMbps !== undefined && { txMbps }),
      ...(rxMbps !== undefined && { rxMbps }),
    },
  };
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
