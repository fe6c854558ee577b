import type { LinksOnAirView, LinkView } from '@kivram/contract/views/link';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { describe, expect, it } from 'vitest';
import { draftOf } from './planDraft';
import { planOnAir } from './planOnAir';
import { triedVerdict } from './triedVerdict';

/** Made up: 20 dBi at 5 GHz. */
const model: Model = {
  id: 'pane',
  maker: 'Test',
  name: 'Test 20',
  band: '5GHz',
  lowestMHz: 5150,
  highestMHz: 5850,
  phy: 'VHT',
  streams: 2,
  protocols: ['802.11'],
  widthsMHz: [20, 40],
  leastConductedDbm: 0,
  mostConductedDbm: 25,
  antennaGainDbi: 20,
  beamWidth: { azimuthDeg: 12, elevationDeg: 12 },
  noiseFigureDb: 5,
  sensitivities: [20, 40].flatMap((widthMHz) =>
    [-82, -79, -77, -74, -70, -66, -65, -64].map((rslDbm, mcs) => ({ mcs, widthMHz, rslDbm })),
  ),
  overloadDbm: -30,
  ethernetMbps: 1000,
  poe: 'passive24',
  hasPtpOnly: false,
};
const end = (id: string, role: string, latitudeDeg: number) => ({
  radio: {
    id,
    role,
    mountHeightM: 20,
    conductedDbm: 10,
    modelId: 'pane',
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'dual',
    azimuthDeg: null,
    tiltDeg: null,
  },
  place: { latitudeDeg, longitudeDeg: -37, groundHeightM: 3 },
  model,
});
const linkOf = (id: string, near: object, far: object) => ({
  link: {
    id,
    name: `To ${id}`,
    needNearToFarMbps: 20,
    needFarToNearMbps: 5,
    wantedMarginDb: 10,
    pathKind: 'outdoor',
  },
  air: { kind: 'hub', centreMHz: 5775, returnMHz: null, widthMHz: 40, protocol: '802.11', errorCorrection: false },
  law: null,
  licence: null,
  licences: [],
  terrain: null,
  climate: { class: null, rainMmPerH: null },
  near,
  far,
});
const hub = end('hub', 'access', 33);
const barn = linkOf('barn', hub, end('b', 'station', 33.01));
/** Drawn the other way round: the hub is its far end. */
const shed = linkOf('shed', end('s', 'station', 33.04), hub);
const view = { ...barn, othersLoad: 0.1 } as unknown as LinkView;
const onAir = { links: [barn, shed] } as unknown as LinksOnAirView;
const draft = draftOf(view);

describe('a draft among the others on its air', () => {
  it('is a plan by itself until they are read', () => {
    const alone = planOnAir(view, draft, [model], undefined);
    expect(alone.air).toBeNull();
    expect(alone.sharers).toEqual([]);
    expect(alone.plan?.need?.othersLoad).toBe(0.1);
  });

  it('has what the others need of the time as they are with it, more on a narrower channel', () => {
    const wide = planOnAir(view, draft, [model], onAir);
    const narrow = planOnAir(view, { ...draft, widthMHz: 20 }, [model], onAir);
    expect(wide.plan?.need?.othersLoad).toBeCloseTo(wide.air?.members[1]?.load ?? NaN, 9);
    expect(narrow.plan?.need?.othersLoad).toBeGreaterThan(wide.plan?.need?.othersLoad ?? NaN);
  });

  it('changes the radio that they share there, too, at whichever end of theirs it is', () => {
    const before = planOnAir(view, draft, [model], onAir).air?.members[1]?.prediction;
    const louder = planOnAir(view, { ...draft, nearConductedDbm: 14 }, [model], onAir);
    const after = louder.air?.members[1]?.prediction;
    expect((after?.near.rslDbm ?? NaN) - (before?.near.rslDbm ?? NaN)).toBeCloseTo(4, 9);
    expect(after?.far.rslDbm).toBe(before?.far.rslDbm);
    expect(louder.sharers).toMatchObject([{ name: 'To shed', end: 'near', theirEnd: 'far', wantedDb: 10 }]);
  });

  it('is none while a field holds no number', () => {
    expect(planOnAir(view, { ...draft, nearConductedDbm: 'ten' }, [model], onAir)).toEqual({
      plan: null,
      air: null,
      sharers: [],
    });
  });
});

describe('what is tried', () => {
  const law = {
    country: 'XT',
    name: 'Testland',
    validFrom: '2026-01-01',
    rules: [{ lowestMHz: 5725, highestMHz: 5850, mostEirpDbm: 30, radar: false }],
  };
  const judged = (changes: Partial<typeof draft>, around = onAir) => {
    const lawful = { ...view, law } as LinkView;
    const { plan, air } = planOnAir(lawful, { ...draft, ...changes }, [model], around);
    const prediction = plan && tryPredict(plan).prediction;
    return plan && prediction && triedVerdict(lawful, plan, prediction, 10, air, around);
  };

  it('is judged as it will be once it is saved, with the rule that it breaks', () => {
    expect(judged({})).toMatchObject({ state: 'holds', broken: undefined });
    const words = 'EIRP 6.0 dB over the limit of 30 dBm';
    const over = { state: 'fails', because: words, broken: words };
    expect(judged({ nearConductedDbm: 16 })).toMatchObject(over);
    expect(judged({ centreMHz: 5190 })?.broken).toBe('not allowed: no rule of Testland allows 5190 MHz, 40 MHz wide');
    expect(judged({ wantedMarginDb: 10, farCableLossDb: 60 })).toMatchObject({ state: 'fails', broken: undefined });
  });

  it('counts what the others on the air take meanwhile', () => {
    const busy = { links: [barn, { ...shed, link: { ...shed.link, needNearToFarMbps: 500 } }] };
    expect(judged({}, busy as unknown as LinksOnAirView)).toMatchObject({
      state: 'fails',
      because: 'carries less than the need while the others on this channel take theirs',
      broken: undefined,
    });
  });
});
