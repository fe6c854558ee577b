import type { JobLinks } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { positionAt } from '@kivram/core/geodesy/geodesic';
import type { StepState } from '@kivram/core/verdict/steps';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { JobRow } from '../src/database/models/job';
import { startTestServer, type TestServer } from './server';

let server: TestServer | undefined;
const open: TestServer[] = [];
beforeEach(async () => {
  server = await startTestServer();
  open.push(server);
});
afterAll(() => Promise.all(open.map((s) => s.close())));

const at = (): TestServer => server as TestServer;
const step = (view: LinkView, name: string): StepState | undefined => view.state.steps.find((s) => s.step === name);
/** Changes the plan of a link, each part with its own version. */
async function change(
  name: string,
  parts: { link?: object; air?: object; near?: object; far?: object },
): Promise<LinkView> {
  const { link, air, near, far } = await at().link(name);
  const part = (version: number, fields?: object) => fields && { version, ...fields };
  const answer = await at().patch(`/api/links/${link.id}`, {
    version: link.version,
    ...parts.link,
    air: part(air.version, parts.air),
    near: part(near.radio.version, parts.near),
    far: part(far.radio.version, parts.far),
  });
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as LinkView;
}
const states = (view: LinkView) =>
  Object.fromEntries(['bench', 'mount', 'aim', 'prove'].map((name) => [name, step(view, name)?.state]));

describe('what was proven', () => {
  it('holds while what it rests on is as it was, and says what that is', async () => {
    const view = await at().link('Ice works');
    expect(states(view)).toEqual({ bench: 'holds', mount: 'holds', aim: 'holds', prove: 'holds' });
    expect(step(view, 'bench')?.evidence).toMatchObject({ kind: 'standin', crewMemberId: at().crewMemberId });
    expect(step(view, 'mount')?.evidence).toMatchObject({ kind: 'told' });
    expect(step(view, 'path')?.evidence).toBeNull();
  });

  it('opens again when the channel goes from 5775/80 to 5550/40', async () => {
    const view = await change('Ice works', { air: { centreMHz: 5550, widthMHz: 40 } });
    expect(states(view)).toEqual({ bench: 'open', mount: 'holds', aim: 'open', prove: 'open' });
    expect(step(view, 'aim')?.because).toBe('changed since: channel 5775 to 5550 MHz; width 80 to 40 MHz');
    // And the job's list knows it without being told.
    const { links } = (await at().get(`/api/jobs/${at().jobId}/links`)).body as JobLinks;
    const listed = links.find((l) => l.name === 'Ice works')?.state.steps;
    expect(listed).toEqual(view.state.steps);
  });

  it('opens again when a place moves 470 m', async () => {
    const { far } = await at().link('Ice works');
    const moved = positionAt(far.place, 90, 470);
    await at().patch(`/api/places/${far.place.id}`, { version: far.place.version, ...moved });
    const view = await at().link('Ice works');
    expect(states(view)).toEqual({ bench: 'holds', mount: 'open', aim: 'open', prove: 'open' });
    expect(step(view, 'mount')?.because).toContain('place moved 470 m');
  });

  it('opens again when the power goes down to 0 dBm', async () => {
    const view = await change('Ice works', { near: { conductedDbm: 0 } });
    expect(states(view)).toEqual({ bench: 'open', mount: 'holds', aim: 'open', prove: 'open' });
    expect(step(view, 'prove')?.because).toContain('near power 11 to 0 dBm');
  });

  it('is held against a need that was raised above what was measured', async () => {
    const measured = (await at().link('Ice works')).tests.find((t) => t.direction === 'nearToFar')?.mbps ?? NaN;
    const view = await change('Ice works', { link: { needNearToFarMbps: Math.ceil(measured + 1) } });
    expect(step(view, 'prove')).toMatchObject({ state: 'fails' });
    expect(step(view, 'aim')?.state).toBe('holds');
  });

  it('opens the bench again when settings are saved anew', async () => {
    const { link, near, far } = await at().link('Ice works');
    const saved = await at().put(`/api/links/${link.id}/sheets`, {
      near: { ...near.sheet?.sheet, deviceName: 'ferry-mast' },
      far: far.sheet?.sheet,
      nearRevision: near.sheet?.revision,
      farRevision: far.sheet?.revision,
    });
    expect(step(saved.body as LinkView, 'bench')?.because).toBe('changed since: near settings');
    expect(step(saved.body as LinkView, 'prove')?.state).toBe('holds');
  });

  it('stands again when everything is as it was', async () => {
    await change('Ice works', { near: { conductedDbm: 0 } });
    expect(states(await change('Ice works', { near: { conductedDbm: 11 } }))).toEqual({
      bench: 'holds',
      mount: 'holds',
      aim: 'holds',
      prove: 'holds',
    });
  });
});

describe('stand-in radios', () => {
  it('prove nothing on a real job; what people tell and files measure does', async () => {
    await JobRow.update({ practice: false }, { where: { id: at().jobId } });
    const view = await at().link('Ice works');
    expect(states(view)).toEqual({ bench: 'open', mount: 'holds', aim: 'open', prove: 'open' });
    expect(step(view, 'bench')?.because).toContain('only stand-in radios');
    const told = await at().post(`/api/links/${view.link.id}/bench-runs/told`, { linked: true });
    expect(step(told.body as LinkView, 'bench')).toMatchObject({ state: 'holds', evidence: { kind: 'told' } });
  });
});
