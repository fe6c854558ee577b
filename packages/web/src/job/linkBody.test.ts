import { NewLinksBody } from '@kivram/contract/requests/newLink';
import { check } from '@kivram/contract/validate';
import { describe, expect, it } from 'vitest';
import { hubAzimuthDeg, toBody, toFormField } from './linkBody';
import { emptyEnd, emptyHop, emptyLink, hopLike, hopNeed, type EndForm, type HopForm, type LinkForm } from './linkForm';

const known = { places: [], radios: [] };
const end = (name: string, latitude: string): EndForm => ({
  ...emptyEnd,
  name,
  latitude,
  groundHeightM: 20,
  modelId: 'marten-23',
});
const hop = (name: string, latitude: string): HopForm => ({
  ...emptyHop,
  name: `to ${name}`,
  far: end(name, latitude),
});
const form = (changes: Partial<LinkForm> = {}): LinkForm => ({
  ...emptyLink,
  near: end('House', '38.71, -9.14'),
  hops: [hop('Barn', '38.715, -9.14'), hop('Byre', '38.71, -9.13')],
  widthMHz: '40',
  centreMHz: '5755',
  ...changes,
});
const linksOf = (changes: Partial<LinkForm>) =>
  toBody(form(changes), known, false, () => 10).body.links as Record<string, unknown>[];

describe('new links as they are typed', () => {
  it.each<[string, Partial<LinkForm>]>([
    ['a pair', { hops: [hop('Barn', '38.715, -9.14')] }],
    ['a hub', { shape: 'hub' }],
    ['a chain', { shape: 'chain' }],
    [
      'a chain with two radios',
      { shape: 'chain', relayRadios: 'two', hops: form().hops.map((h, i) => ({ ...h, centreMHz: 5510 + 40 * i })) },
    ],
    [
      'stations of a hub that is there',
      {
        shape: 'hub',
        near: { ...emptyEnd, radioId: '4b4b4b4b-0000-4000-8000-000000000001' },
        widthMHz: '',
        centreMHz: '',
      },
    ],
  ])('%s is a request that the contract takes', (_, changes) => {
    const { body, errors } = toBody(form(changes), known, false, () => 10);
    expect(errors).toEqual({});
    expect(check(NewLinksBody, body).errors).toBeUndefined();
  });

  it('of a hub share its radio, and its antenna points between them', () => {
    const [first, second] = linksOf({ shape: 'hub' });
    expect(first).toMatchObject({ airKind: 'hub', centreMHz: 5755 });
    // The barn lies north, the byre east.
    expect((first as { near: { azimuthDeg: number } }).near.azimuthDeg).toBeCloseTo(45, 0);
    expect(second).toMatchObject({ near: { sameAs: { link: 0, end: 'near' } } });
    expect(second).not.toHaveProperty('centreMHz');
    expect(hubAzimuthDeg(form({ shape: 'hub', near: { ...form().near, azimuthDeg: 12 } }), known)).toBe(12);
    expect(hubAzimuthDeg(form({ shape: 'hub', hops: [hop('Barn', '38.715, -9.14')] }), known)).toBeNull();
  });

  it('of a chain go on from the radio before, or from its place with another radio', () => {
    expect(linksOf({ shape: 'chain' })[1]).toMatchObject({ near: { sameAs: { link: 0, end: 'far' } } });
    const two = linksOf({
      shape: 'chain',
      relayRadios: 'two',
      hops: form().hops.map((h) => ({ ...h, centreMHz: 5510 })),
    });
    expect(two[1]).toMatchObject({
      near: { place: { name: 'Barn' }, modelId: 'marten-23' },
      airKind: 'pair',
      centreMHz: 5510,
    });
  });

  it('name what is missing at its field', () => {
    const broken = form({
      shape: 'hub',
      near: emptyEnd,
      hops: [{ ...emptyHop, far: { ...emptyEnd, latitude: '38.7 north-ish' } }],
      centreMHz: '',
    });
    expect(Object.keys(toBody(broken, known, false, () => 10).errors).sort()).toEqual([
      'centreMHz',
      'hops.0.far.latitude',
      'hops.0.far.modelId',
      'hops.0.far.name',
      'hops.0.name',
      'near.latitude',
      'near.longitude',
      'near.modelId',
      'near.name',
    ]);
    expect(toFormField('links.1.far.place.latitudeDeg')).toBe('hops.1.far.latitude');
    expect(toFormField('links.1.near.mountHeightM')).toBe('hops.0.far.mountHeightM');
    expect(toFormField('links.0.near.mountHeightM')).toBe('near.mountHeightM');
    expect(toFormField('links.0.widthMHz')).toBe('widthMHz');
  });

  it('need what is usual where nobody says: of a licensed pair what telemetry takes, and no 50 Mbit/s', () => {
    expect(hopNeed(emptyHop, false)).toEqual({ nearToFarMbps: 50, farToNearMbps: 20 });
    expect(hopNeed(emptyHop, true)).toEqual({ nearToFarMbps: 0.0096, farToNearMbps: 0.0096 });
    expect(hopNeed({ ...emptyHop, needFarToNearMbps: 0 }, true)).toMatchObject({ farToNearMbps: 0 });
    expect(hopNeed({ ...emptyHop, needFarToNearMbps: '1 x' }, true).farToNearMbps).toBeNaN();
  });

  it('begin a further station with the gear of the last one, and not with its place', () => {
    const next = hopLike({ ...hop('Barn', '38.7, -9'), needNearToFarMbps: 7 });
    expect(next).toMatchObject({
      name: '',
      needNearToFarMbps: 7,
      far: { modelId: 'marten-23', latitude: '', name: '' },
    });
  });
});
