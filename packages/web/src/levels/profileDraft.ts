import type { LevelProfileBody, ProfileValue } from '@kivram/contract/requests/level';
import type { DeviceValue, LevelProfile } from '@kivram/contract/views/level';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** What can be read of a radio, in the order in which it is shown. */
export const quantities = ['level', 'chain1', 'chain2', 'noise', 'txRate', 'rxRate'] as const;
export type Quantity = (typeof quantities)[number];

export const quantityWords: Record<Quantity, string> = {
  level: 'level',
  chain1: 'level of chain 1',
  chain2: 'level of chain 2',
  noise: 'noise',
  txRate: 'rate sent',
  rxRate: 'rate received',
};

export const unitOf = (quantity: Quantity): string => (quantity.endsWith('Rate') ? 'Mbit/s' : 'dBm');

export interface ValueDraft {
  where: string;
  type: ProfileValue['type'];
  scale: TypedNumber;
  offset: TypedNumber;
}

export interface ProfileDraft {
  id: string;
  version: number;
  name: string;
  way: LevelProfileBody['way'];
  values: Record<Quantity, ValueDraft>;
  /** chains beyond the two that are shown, kept as they are */
  moreChains: ProfileValue[];
}

const empty: ValueDraft = { where: '', type: 'number', scale: 1, offset: 0 };

export function newProfile(id: string, way: LevelProfileBody['way']): ProfileDraft {
  const values = Object.fromEntries(quantities.map((quantity) => [quantity, empty])) as ProfileDraft['values'];
  return { id, version: -1, name: '', way, values, moreChains: [] };
}

export function draftOfProfile({
  id,
  version,
  name,
  way,
  level,
  chains,
  noise,
  txRate,
  rxRate,
}: LevelProfile): ProfileDraft {
  const [chain1 = null, chain2 = null, ...moreChains] = chains;
  return {
    id,
    version,
    name,
    way,
    values: {
      level: level ?? empty,
      chain1: chain1 ?? empty,
      chain2: chain2 ?? empty,
      noise: noise ?? empty,
      txRate: txRate ?? empty,
      rxRate: rxRate ?? empty,
    },
    moreChains,
  };
}

/** What is sent of it: a value without a place is none. */
export function profileBody({ version, name, way, values, moreChains }: ProfileDraft): LevelProfileBody {
  const value = (quantity: Quantity): ProfileValue | null => {
    const { where, type, scale, offset } = values[quantity];
    // The whole answer of a command has an empty place, but then it is said by a figure that was picked.
    if (where.trim() === '') return null;
    return {
      where: where.trim() === '(all)' ? '' : where.trim(),
      type,
      scale: numberIn(scale),
      offset: numberIn(offset),
    };
  };
  return {
    version,
    name: name.trim(),
    way,
    level: value('level'),
    chains: [...[value('chain1'), value('chain2')].filter((chain) => chain !== null), ...moreChains],
    noise: value('noise'),
    txRate: value('txRate'),
    rxRate: value('rxRate'),
  };
}

/** Levels and noise in dBm, and rates in Mbit/s, lie between these in the field (common practice, no source). */
const plausible = { dBm: [-120, -15], 'Mbit/s': [0.1, 20_000] } as const;

/** A value that was picked for a quantity, with the factor that makes it plausible: many devices tell tenths or hundredths, and rates in kbit/s or bit/s. */
export function picked(quantity: Quantity, { where, type, number }: DeviceValue): ValueDraft {
  const unit = unitOf(quantity);
  const [least, most] = plausible[unit as keyof typeof plausible];
  const factors = unit === 'dBm' ? [1, -1, 0.1, 0.01] : [1, 0.001, 0.000_001];
  const scale = number === null ? 1 : (factors.find((f) => number * f >= least && number * f <= most) ?? 1);
  return { where: where === '' ? '(all)' : where, type, scale, offset: 0 };
}

/** What a value of an answer becomes by a draft, in the unit of its quantity; null where it is no number yet. */
export function becomes({ scale, offset }: ValueDraft, number: number | null): number | null {
  const value = number === null ? NaN : number * numberIn(scale) + numberIn(offset);
  return Number.isFinite(value) ? value : null;
}
