import type { JobLinks } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const plan = (body: object) => server.post(`/api/jobs/${server.jobId}/links`, body);
const need = { needNearToFarMbps: 5, needFarToNearMbps: 5 };
const station = (name: string, latitudeDeg: number) => ({
  place: { name, latitudeDeg, longitudeDeg: -37.83, groundHeightM: 5 },
  modelId: 'brinmoor-pane-16',
  mountHeightM: 6,
  conductedDbm: 10,
});

describe('a hub', () => {
  it('shares its channel: one link on it changes it for all, and each need costs the others', async () => {
    const yard = await server.link('Boat yard');
    expect(yard.sharers.map((s) => s.name)).toEqual(['Rope walk']);
    const rope = await server.link('Rope walk');
    expect(rope.air.id).toBe(yard.air.id);
    expect(rope.near.radio.id).toBe(yard.near.radio.id);
    const before = rope.shared?.mbps.nearToFar ?? NaN;
    const raised = await server.patch(`/api/links/${yard.link.id}`, {
      version: yard.link.version,
      needNearToFarMbps: 60,
    });
    expect(raised.status).toBe(200);
    expect((await server.link('Rope walk')).shared?.mbps.nearToFar).toBeLessThan(before - 20);
    // Asked for too much, the other link's plan fails, and says that it is the others.
    const again = raised.body as LinkView;
    await server.patch(`/api/links/${yard.link.id}`, { version: again.link.version, needNearToFarMbps: 110 });
    const radio = (await server.link('Rope walk')).state.steps[1];
    expect(radio).toMatchObject({ state: 'fails' });
    expect(radio?.because).toContain('while the others on this channel take theirs');
  });

  it('loses level towards the station that lies off its boresight', async () => {
    const { near, far } = await server.link('Boat yard');
    expect(near.radio.azimuthDeg).toBe(95);
    expect(far.radio.azimuthDeg).toBeNull();
  });

  it('is what a pair becomes when a further station joins its access point', async () => {
    const pair = await server.link('Beacon shed');
    expect(pair.air.kind).toBe('pair');
    const joined = await plan({
      name: 'Second at the beacon',
      near: { radioId: pair.near.radio.id },
      far: { ...station('Beacon annex', 33.4236), modelId: 'brinmoor-span-25' },
      ...need,
    });
    expect(joined.status, JSON.stringify(joined.body)).toBe(200);
    const view = joined.body as LinkView;
    expect(view.air).toMatchObject({ id: pair.air.id, kind: 'hub' });
    expect(view.far.radio.role).toBe('station');
    expect((await server.link('Beacon shed')).near.otherStations).toBe(1);
  });

  it('refuses gear that cannot follow its air', async () => {
    const { near } = await server.link('Ice works'); // 80 MHz wide
    const answer = await plan({
      name: 'Too narrow',
      near: { radioId: near.radio.id },
      far: { ...station('Ice annex', 33.4262), modelId: 'ostrel-mite-13' },
      ...need,
    });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain('does not have a channel width of 80 MHz');
    expect((await server.link('Ice works')).air.kind).toBe('pair');
  });
});

describe('a chain', () => {
  it('halves what passes over its relay, and the job says so', async () => {
    const { traffic, loops } = (await server.get(`/api/jobs/${server.jobId}/links`)).body as JobLinks;
    const cove = traffic.find((t) => t.place === 'Seal cove');
    const ridge = traffic.find((t) => t.place === 'Ridge relay');
    expect(cove?.way).toEqual(['Ferry office', 'Ridge relay', 'Seal cove']);
    expect(cove?.limit).toContain('share one channel');
    expect(cove?.toPlaceMbps).toBeLessThan(0.65 * (ridge?.toPlaceMbps ?? 0));
    expect(loops).toEqual([]);
  });

  it('warns of a ring as soon as a link closes one', async () => {
    const [yard, rope] = [await server.link('Boat yard'), await server.link('Rope walk')];
    const ring = await plan({
      name: 'Short cut',
      near: { placeId: yard.far.place.id, modelId: 'brinmoor-pane-16', mountHeightM: 6, conductedDbm: 8 },
      far: { placeId: rope.far.place.id, modelId: 'brinmoor-pane-16', mountHeightM: 6, conductedDbm: 8 },
      centreMHz: 5825,
      widthMHz: 20,
      protocol: '802.11',
      ...need,
    });
    expect(ring.status, JSON.stringify(ring.body)).toBe(200);
    const { loops } = (await server.get(`/api/jobs/${server.jobId}/links`)).body as JobLinks;
    expect(loops).toHaveLength(1);
    expect(loops[0]).toContain('Short cut');
  });
});

describe('a licensed pair', () => {
  it('has two frequencies, which its sheets exchange, and a rate', async () => {
    const view = await server.link('Pump house');
    expect(view.air).toMatchObject({ kind: 'duplex', centreMHz: 457.5, returnMHz: 467.5 });
    expect(view.near.sheet?.sheet).toMatchObject({ txMHz: 457.5, rxMHz: 467.5 });
    expect(view.far.sheet?.sheet).toMatchObject({ txMHz: 467.5, rxMHz: 457.5 });
    const test = view.tests.find((t) => t.direction === 'nearToFar');
    expect(test?.verdict.state).toBe('holds');
    // 16-QAM by its licence, though the radios know 256-QAM
    expect(test?.mbps).toBeGreaterThan(0.05);
    expect(test?.mbps).toBeLessThan(0.071);
  });

  it.each([
    ['without a second frequency', { returnMHz: undefined }, 'needs two frequencies'],
    ['with both frequencies the same', { returnMHz: 457.5 }, 'less than the channel spacing'],
    ['outside what the gear tunes to', { returnMHz: 480 }, 'tunes from 430 to 470 MHz'],
    ['as a pair that takes turns', { airKind: 'pair', returnMHz: undefined }, 'works on a licensed pair'],
  ])('is refused %s', async (_, changes, words) => {
    const end = (name: string, latitudeDeg: number) => ({
      ...station(name, latitudeDeg),
      modelId: 'vantry-thread-460',
      conductedDbm: 25,
    });
    const answer = await plan({
      name: 'Telemetry',
      near: end('Telemetry near', 33.41),
      far: end('Telemetry far', 33.43),
      centreMHz: 457.5,
      returnMHz: 467.5,
      widthMHz: 0.025,
      protocol: '802.11',
      ...need,
      ...(changes as object),
    });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });

  it('takes no third radio', async () => {
    const { near } = await server.link('Pump house');
    const answer = await plan({
      name: 'Third',
      near: { radioId: near.radio.id },
      far: station('Third', 33.42),
      ...need,
    });
    expect(answer.body.detail).toContain('no room for a third');
  });
});

describe('spec sheets', () => {
  it('come in revisions: a radio keeps the one it was planned with', async () => {
    const { keepModel, newestModels } = await import('../src/services/gear');
    const { near } = await server.link('Ice works');
    const { model } = near;
    expect(await keepModel(model)).toBe(1);
    expect(await keepModel({ ...model, antennaGainDbi: 24 })).toBe(2);
    expect(await keepModel({ ...model, antennaGainDbi: 24 })).toBe(2);
    expect((await server.link('Ice works')).near.model.antennaGainDbi).toBe(25);
    expect((await newestModels()).find((m) => m.id === model.id)?.spec.antennaGainDbi).toBe(24);
  });
});
