import type { PlanChoices } from '@kivram/contract/entities/alternative';
import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { JobLinks, TimelineView } from '@kivram/contract/views/job';
import type { JobLawView, KnownLaw } from '@kivram/contract/views/law';
import type { LinksOnAirView, LinkView } from '@kivram/contract/views/link';
import type { NeedsView } from '@kivram/contract/views/need';
import { predictAir } from '@kivram/core/budget/airPrediction';
import { planOf } from '@kivram/core/budget/plan';
import { sumNeeds } from '@kivram/core/need/sum';
import { eirpLimitDbm } from '@kivram/core/spectrum/allowance';
import { openLink, type RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { StepState } from '@kivram/core/verdict/steps';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadLaw } from '../src/services/law';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const radioStep = (view: LinkView): StepState | undefined => view.state.steps.find((s) => s.step === 'radio');
const law = async (): Promise<JobLawView> => (await server.get(`/api/jobs/${server.jobId}/law`)).body as JobLawView;
const lines = async (): Promise<string[]> =>
  ((await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView).events.map((event) => event.summary);

describe('the law of a job', () => {
  it('is known of every country of the database, and of those that are made up', async () => {
    const known = (await server.get('/api/rule-sets')).body as KnownLaw[];
    expect(known.length).toBeGreaterThan(150);
    expect(known.find((set) => set.country === 'XT')?.source).toBe('made up for the demo');
    expect(known.find((set) => set.country === 'NO')).toMatchObject({ name: 'Norway', validFrom: '2026-05-30' });
    expect((await server.get('/api/rule-sets/JP')).body).toMatchObject({ country: 'JP', name: 'Japan' });
    expect((await server.get('/api/rule-sets/AQ')).body).toBeNull();
  });

  it('is put in anew by every start: an older Kivram may have written other rules', async () => {
    const limitHere = async () => ((await server.get('/api/rule-sets/JP')).body as RuleSet).rules.length;
    const before = await limitHere();
    await server.sequelize.query("UPDATE rule_set SET rules = '[]' WHERE country = 'JP'");
    expect(await limitHere()).toBe(0);
    await loadLaw();
    expect(await limitHere()).toBe(before);
  });

  it('is tightened by what the lead notes with a reason, which stays on record when it is taken away', async () => {
    const rule = {
      lowestMHz: 5725,
      highestMHz: 5850,
      mostEirpDbm: 20,
      mostWidthMHz: null,
      radar: false,
      reason: 'Order 7 of the harbour office, since May',
    };
    const made = await server.post(`/api/jobs/${server.jobId}/local-rules`, rule);
    expect(made.status).toBe(200);
    const view = await server.link('Ice works');
    expect(view.near.radio.conductedDbm + view.near.model.antennaGainDbi).toBe(36);
    expect(eirpLimitDbm(view.law, view.air, openLink, 25)).toBe(20);
    expect(radioStep(view)).toMatchObject({ state: 'fails', because: 'EIRP 16.0 dB over the limit of 20 dBm' });
    // The list of links knows it too: what was computed is computed anew.
    const listed = (await server.links()).find((l) => l.name === 'Ice works');
    expect(listed?.state.steps.find((s) => s.step === 'radio')?.state).toBe('fails');
    const kept = (await law()).localRules.find((r) => r.reason === rule.reason);
    const gone = await server.delete(`/api/local-rules/${kept?.id}?version=${kept?.version}`);
    expect(gone.body).toEqual({ removed: true });
    expect(radioStep(await server.link('Ice works'))?.state).toBe('holds');
    expect((await lines()).slice(0, 2)).toEqual([
      'Took the restriction for 5725 to 5850 MHz, 20 dBm EIRP away; it said: Order 7 of the harbour office, since May',
      'Noted the restriction for 5725 to 5850 MHz, 20 dBm EIRP: Order 7 of the harbour office, since May',
    ]);
  });

  it('is widened by a permit that the lead notes, until its last day', async () => {
    const permit = {
      lowestMHz: 5725,
      highestMHz: 5850,
      mostEirpDbm: 40,
      mostWidthMHz: null,
      radar: false,
      reason: 'Permit 12 of the spectrum office',
      permitUntil: '2999-01-01',
      permitsOutdoors: true,
    };
    const limit = async () => {
      const view = await server.link('Ice works');
      return eirpLimitDbm(view.law, view.air, openLink, 25);
    };
    expect(await limit()).toBe(36);
    const { status } = await server.post(`/api/jobs/${server.jobId}/local-rules`, permit);
    expect([status, await limit()]).toEqual([422, 36]);
    await server.post(`/api/jobs/${server.jobId}/local-rules`, { ...permit, permitUntil: '2099-12-31' });
    expect(await limit()).toBe(40);
    const kept = (await law()).localRules.find((r) => r.reason === permit.reason);
    await server.put(`/api/local-rules/${kept?.id}`, { ...permit, permitUntil: '2024-01-31', version: kept?.version });
    expect(await limit()).toBe(36);
    await server.delete(`/api/local-rules/${kept?.id}?version=${(kept?.version ?? 0) + 1}`);
    expect((await lines())[0]).toContain('Took the permit until 2024-01-31 for 5725 to 5850 MHz');
  });

  it('says of a country without rules that nothing is known, whatever is noted there', async () => {
    const job = (await server.get(`/api/jobs/${server.jobId}`)).body as { job: { version: number; country: string } };
    const change = (country: string, version: number) =>
      server.patch(`/api/jobs/${server.jobId}`, { version, country });
    expect((await change('AQ', job.job.version)).status).toBe(200);
    expect((await law()).licences.length).toBeGreaterThan(0);
    expect(radioStep(await server.link('Ice works'))).toMatchObject({
      state: 'thin',
      because: expect.stringContaining('the rules of this country are not known here') as string,
    });
    await change(job.job.country, job.job.version + 1);
  });

  it.each([
    [{ lowestMHz: 5850, highestMHz: 5725 }, 'the second must be the higher one'],
    [{ mostWidthMHz: 400 }, 'wider than all that the rule covers'],
    [{ reason: 'because' }, 'reason must be text of 10 to 500 characters'],
  ])('refuses %j', async (changes, words) => {
    const rule = { lowestMHz: 5725, highestMHz: 5850, mostEirpDbm: 20, mostWidthMHz: null, radar: false };
    const answer = await server.post(`/api/jobs/${server.jobId}/local-rules`, {
      ...rule,
      reason: 'for a test of words',
      ...changes,
    });
    expect(answer.status).toBe(422);
    expect(JSON.stringify(answer.body)).toContain(words);
  });
});

describe('a licence', () => {
  const licence = async () => (await law()).licences[0] as JobLawView['licences'][number];
  const save = async (changes: object) => {
    const { id, ...fields } = await licence();
    return server.put(`/api/licences/${id}`, { ...fields, ...changes });
  };
  const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

  it('gives a licensed pair its limit and its modulation, and warns 60 days before it ends', async () => {
    const view = await server.link('Pump house');
    expect(view.licence?.number).toBe('TSC 460-0117');
    expect(radioStep(view)).toMatchObject({ state: 'thin' });
    expect(radioStep(view)?.because).toMatch(/the licence TSC 460-0117 ends on \d/);
    await save({ validUntil: inDays(400) });
    expect(radioStep(await server.link('Pump house'))?.state).toBe('holds');
    await save({ validUntil: inDays(-1) });
    expect(radioStep(await server.link('Pump house'))).toMatchObject({ state: 'fails' });
    await save({ validUntil: inDays(400), mostEirpDbm: 30 });
    expect(radioStep(await server.link('Pump house'))).toMatchObject({
      because: 'EIRP 4.0 dB over the limit of 30 dBm',
    });
    await save({ mostEirpDbm: 37, centreMHz: 456 });
    expect(radioStep(await server.link('Pump house'))?.because).toContain(
      'is for 456 and 467.5 MHz, not for 457.5 MHz',
    );
    await save({ centreMHz: 457.5, validFrom: inDays(10) });
    expect(radioStep(await server.link('Pump house'))?.because).toContain('the licence TSC 460-0117 begins on');
    await save({ validFrom: null });
  });

  it('names swapped ends and gear that occupies more', async () => {
    const { lowPlaceId, highPlaceId } = await licence();
    expect((await server.link('Pump house')).near.place.id).toBe(lowPlaceId);
    await save({ lowPlaceId: highPlaceId, highPlaceId: lowPlaceId });
    expect(radioStep(await server.link('Pump house'))).toMatchObject({
      state: 'fails',
      because: expect.stringContaining('the ends are swapped') as string,
    });
    expect((await lines())[0]).toMatch(/place that sends low .+ to Pump house/);
    await save({ lowPlaceId, highPlaceId, occupiedMHz: 0.016 });
    expect(radioStep(await server.link('Pump house'))?.because).toContain('and the gear takes 20 kHz');
    await save({ occupiedMHz: 0.02 });
    expect((await save({ highPlaceId: lowPlaceId })).body.detail).toContain('One place is named for both ends');
    expect((await save({ lowPlaceId: randomUUID() })).status).toBe(404);
    expect((await save({ validFrom: '2099-01-01' })).body.detail).toContain('exchange the days');
  });

  it('is chosen: another that covers the air changes nothing, nor does one that ended', async () => {
    const { id, version, ...fields } = await licence();
    void [id, version];
    const strong = { ...fields, number: 'TSC OLD', mostEirpDbm: 60, validFrom: '2020-01-01', validUntil: '2021-01-01' };
    await server.post(`/api/jobs/${server.jobId}/licences`, strong);
    const before = await server.link('Pump house');
    expect(before.licence?.number).toBe('TSC 460-0117');
    expect(radioStep(before)?.state).toBe('holds');
    const old = (await law()).licences.find((l) => l.number === 'TSC OLD');
    const choose = async (licenceId: string | null) => {
      const { link, air } = await server.link('Pump house');
      return server.patch(`/api/links/${link.id}`, { version: link.version, air: { version: air.version, licenceId } });
    };
    expect((await choose(old?.id ?? null)).status).toBe(200);
    expect(radioStep(await server.link('Pump house'))).toMatchObject({
      state: 'fails',
      because: 'not allowed: the licence TSC OLD ended on 1 Jan 2021',
    });
    expect((await lines())[0]).toContain('licence TSC 460-0117 to TSC OLD');
    await server.delete(`/api/licences/${old?.id}?version=${old?.version}`);
    const without = await server.link('Pump house');
    expect([without.licence, radioStep(without)?.because]).toEqual([
      null,
      expect.stringContaining('not allowed: no licence is chosen for 457.5 MHz'),
    ]);
    expect((await choose(randomUUID())).status).toBe(404);
    const open = await server.link('Ice works');
    const wrong = { version: open.link.version, air: { version: open.air.version, licenceId: before.licence?.id } };
    expect((await server.patch(`/api/links/${open.link.id}`, wrong)).body.detail).toContain('Only a licensed pair');
    expect((await choose(before.licence?.id ?? null)).status).toBe(200);
  });

  it('is refused where it cannot be, and known by its number', async () => {
    const { id, version, ...fields } = await licence();
    void [id, version];
    expect((await save({ returnMHz: 457.51 })).body.detail).toContain('less than the channel spacing');
    expect((await save({ occupiedMHz: 20 })).body.detail).toContain('were kilohertz typed?');
    for (const validUntil of ['2026-02-30', '2026-13-45', '2026-00-00', ''])
      expect((await save({ validUntil })).body.detail, validUntil).toContain('it must be a day like');
    const twin = await server.post(`/api/jobs/${server.jobId}/licences`, { ...fields, number: 'tsc 460-0117' });
    expect(twin.status).toBe(409);
    const other = await server.post(`/api/jobs/${server.jobId}/licences`, { ...fields, number: 'TSC 460-0118' });
    expect((other.body as JobLawView).licences).toHaveLength(2);
  });
});

describe('weather, cables and margin', () => {
  it('are part of the plan, and a cable of what is proven', async () => {
    const before = await server.link('Ice works');
    const cable = { kind: 'foam10', lengthM: 10, connectors: 2 };
    const body = {
      version: before.link.version,
      wantedMarginDb: 14,
      near: { version: before.near.radio.version, cable },
    };
    const after = (await server.patch(`/api/links/${before.link.id}`, body)).body as LinkView;
    expect(after.link.wantedMarginDb).toBe(14);
    expect(after.near.radio.cable).toEqual(cable);
    const lost = (before.basis.expectedDbm?.far ?? NaN) - (after.basis.expectedDbm?.far ?? NaN);
    expect(lost).toBeGreaterThan(3);
    expect(after.basis.near?.cableLossDb).toBeCloseTo(lost, 1);
    expect(after.state.steps.find((s) => s.step === 'aim')).toMatchObject({ state: 'open' });
    const undo = {
      version: after.link.version,
      wantedMarginDb: 10,
      near: { version: after.near.radio.version, cable: null },
    };
    const back = (await server.patch(`/api/links/${before.link.id}`, undo)).body as LinkView;
    expect(back.near.radio.cable).toBeNull();
    expect(back.state.steps.find((s) => s.step === 'aim')?.state).toBe('holds');
  });

  it('a margin that the need does not have makes the plan thin, and says by how much', async () => {
    const view = await server.link('Ice works');
    const body = { version: view.link.version, wantedMarginDb: 40 };
    const after = (await server.patch(`/api/links/${view.link.id}`, body)).body as LinkView;
    expect(radioStep(after)?.because).toMatch(/^the need fails after a fade of [\d.]+ dB, 40 dB are asked for$/);
    await server.patch(`/api/links/${view.link.id}`, { version: after.link.version, wantedMarginDb: 10 });
  });

  it('the climate belongs to the job', async () => {
    const { job } = (await server.get(`/api/jobs/${server.jobId}`)).body as { job: { version: number } };
    await server.patch(`/api/jobs/${server.jobId}`, { version: job.version, climateClass: 'monsoon', rainMmPerH: 120 });
    expect((await server.link('Ice works')).climate).toEqual({ class: 'monsoon', rainMmPerH: 120 });
    const refused = await server.patch(`/api/jobs/${server.jobId}`, { version: job.version + 1, rainMmPerH: -4 });
    expect(refused.body.detail).toContain('rain rate is -4'.replace('-', '−'));
  });
});

describe('kept plans', () => {
  const choicesOf = ({ link, air, near, far }: LinkView, changes: Partial<PlanChoices> = {}): PlanChoices => {
    const end = ({ radio }: LinkView['near']) => {
      const { modelId, mountHeightM, conductedDbm, cableLossDb, cable, aimOffDeg, interferenceDb, polarisation } =
        radio;
      return { modelId, mountHeightM, conductedDbm, cableLossDb, cable, aimOffDeg, interferenceDb, polarisation };
    };
    const { centreMHz, returnMHz, widthMHz, protocol, errorCorrection } = air;
    const { needNearToFarMbps, needFarToNearMbps, wantedMarginDb } = link;
    return {
      ...{ centreMHz, returnMHz, widthMHz, protocol, errorCorrection, near: end(near), far: end(far) },
      ...{ needNearToFarMbps, needFarToNearMbps, wantedMarginDb, rainMmPerH: null, treeYears: 0, ...changes },
    };
  };

  it('stand beside the plan, are replaced by name, thrown away, and come back with their link', async () => {
    const view = await server.link('Slipway store');
    const keep = (name: string, changes: Partial<PlanChoices>) =>
      server.post(`/api/links/${view.link.id}/alternatives`, { name, choices: choicesOf(view, changes) });
    await keep('Wide', { widthMHz: 80 });
    await keep('Narrow', { widthMHz: 20 });
    const kept = (await keep('wide', { widthMHz: 40 })).body as LinkView;
    expect(kept.alternatives.map((a) => [a.name, a.choices.widthMHz])).toEqual([
      ['Narrow', 20],
      ['wide', 40],
    ]);
    // The plan itself is as it was.
    expect(kept.air.widthMHz).toBe(view.air.widthMHz);
    expect(kept.link.version).toBe(view.link.version);
    const [narrow] = kept.alternatives;
    expect((await server.delete(`/api/alternatives/${narrow?.id}?version=7`)).status).toBe(409);
    expect((await server.delete(`/api/alternatives/${narrow?.id}?version=0`)).body).toEqual({ removed: true });
    expect((await keep('Odd', { widthMHz: NaN })).status).toBe(422);
    await server.delete(`/api/links/${view.link.id}?version=${view.link.version}`);
    const { events } = (await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView;
    const removalId = events.find((e) => e.summary === 'Removed the link Slipway store')?.detail.removalId as string;
    await server.post(`/api/removals/${removalId}/undo`);
    expect((await server.link('Slipway store')).alternatives.map((a) => a.name)).toEqual(['wide']);
  });

  it('go with the job, as do its law and its needs', async () => {
    const exported = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    expect(exported.alternatives).toHaveLength(1);
    expect(exported.licences?.length).toBeGreaterThan(0);
    expect(exported.needs?.length).toBeGreaterThan(0);
    const { jobId } = (await server.post('/api/jobs/import?copy=yes', exported)).body as { jobId: string };
    const copy = (await server.get(`/api/jobs/${jobId}/export`)).body as JobDocument;
    expect(copy.alternatives?.map((a) => a.choices)).toEqual(exported.alternatives?.map((a) => a.choices));
    expect(copy.licences?.map((l) => l.number)).toEqual(exported.licences?.map((l) => l.number));
    const names = (document: JobDocument) =>
      document.needs?.map((need) => [document.places.find((p) => p.id === need.placeId)?.name, need.items]);
    expect(names(copy)).toEqual(names(exported));
    // What was written before there were any is read as before.
    const unchosen = exported.airs.map(({ licenceId, ...air }) => {
      void licenceId;
      return air;
    });
    const { alternatives, licences, localRules, needs, ...older } = { ...exported, airs: unchosen };
    void [alternatives, licences, localRules, needs];
    expect((await server.post('/api/jobs/import?copy=yes', older)).status).toBe(200);
    // Where licences were not chosen, the pair goes by the one that covers it.
    const again = await server.post('/api/jobs/import?copy=yes', { ...older, licences });
    const read = (await server.get(`/api/jobs/${(again.body as { jobId: string }).jobId}/export`)).body as JobDocument;
    expect(read.airs.find((air) => air.kind === 'duplex')?.licenceId).toBe(read.licences?.[0]?.id);
    const stray = { ...exported, airs: exported.airs.map((air) => ({ ...air, licenceId: randomUUID() })) };
    const refused = await server.post('/api/jobs/import?copy=yes', stray);
    expect(JSON.stringify(refused.body)).toContain('is not among the licences of this file');
  });
});

describe('a shared air', () => {
  it('is read with all its links as they are planned, without what is secret, and adds up as the link itself says', async () => {
    const view = await server.link('Boat yard');
    const { status, body } = await server.get(`/api/links/${view.link.id}/air`);
    expect(status).toBe(200);
    const { links } = body as LinksOnAirView;
    expect(links.map(({ link }) => link.name).sort()).toEqual(
      [view.link.name, ...view.sharers.map(({ name }) => name)].sort(),
    );
    expect(JSON.stringify(body)).not.toContain('passphrase');
    const { members, load } = predictAir(links.map(planOf));
    const own = links.findIndex(({ link }) => link.id === view.link.id);
    expect(load - (members[own]?.load ?? NaN)).toBeCloseTo(view.othersLoad, 9);
    expect(members[own]?.prediction?.nearToFar.aloneMbps).toBeCloseTo(view.expected?.nearToFar.aloneMbps ?? NaN, 6);
  });
});

describe('needs', () => {
  const needs = async (): Promise<NeedsView> => (await server.get(`/api/jobs/${server.jobId}/needs`)).body as NeedsView;

  it('are kept by place, and links are planned by their sum, all or none', async () => {
    const view = await needs();
    const cove = view.places.find((p) => p.name === 'Seal cove')?.id ?? '';
    const office = view.feedPlaceId ?? '';
    const item = { kind: 'camera', count: 2, toMbps: 0, fromMbps: 2, towardPlaceId: null };
    const fields = { simultaneity: 1, growthPercent: 0, headroomPercent: 0, adapterName: '', adapterMbps: null };
    const version = view.needs.find((need) => need.placeId === cove)?.version ?? 0;
    const save = (body: object) =>
      server.put(`/api/places/${cove}/need`, { ...fields, items: [item], version, ...body });
    const saved = (await save({})).body as NeedsView;
    expect((await save({})).status).toBe(409);
    const sum = sumNeeds({ ...saved, graph: { links: saved.links, cables: [] } }, saved.needs);
    const chain = ['Ridge relay', 'Seal cove'].map((name) => saved.links.find((l) => l.name === name));
    const links = chain.map((link) => ({
      linkId: link?.id,
      version: link?.version,
      needNearToFarMbps: sum.links.get(link?.id ?? '')?.nearToFarMbps,
      needFarToNearMbps: sum.links.get(link?.id ?? '')?.farToNearMbps,
    }));
    expect(links.map((l) => [l.needNearToFarMbps, l.needFarToNearMbps])).toEqual([
      [0, 4],
      [0, 4],
    ]);
    const stale = links.map((link, i) => (i === 1 ? { ...link, version: 99 } : link));
    expect((await server.post(`/api/jobs/${server.jobId}/needs/plans`, { links: stale })).status).toBe(409);
    expect((await server.link('Ridge relay')).link.needFarToNearMbps).not.toBe(4);
    await server.post(`/api/jobs/${server.jobId}/needs/plans`, { links });
    expect((await server.link('Ridge relay')).link.needFarToNearMbps).toBe(4);
    expect(await lines()).toContainEqual(expect.stringContaining('Planned by what is needed: need near to far'));
    const next = (await needs()).needs.find((need) => need.placeId === cove)?.version;
    const elsewhere = await save({ version: next, items: [{ ...item, towardPlaceId: randomUUID() }] });
    expect(elsewhere.body.detail).toContain('not of this job');
    expect((await save({ version: next, items: [{ ...item, towardPlaceId: office }] })).status).toBe(200);
  });

  it('take a cable as they take a link: it carries, makes a ring, and comes back with its place', async () => {
    const before = await needs();
    const at = (name: string) => before.places.find((p) => p.name === name)?.id ?? '';
    const cable = { name: 'quay fibre', aPlaceId: at('Slipway store'), bPlaceId: at('Ferry office'), mbps: 1000 };
    const made = await server.post(`/api/jobs/${server.jobId}/cables`, cable);
    expect((made.body as NeedsView).cables).toMatchObject([cable]);
    const { loops } = (await server.get(`/api/jobs/${server.jobId}/links`)).body as JobLinks;
    expect(loops.join()).toMatch(/form a ring over .*quay fibre/);
    const same = await server.post(`/api/jobs/${server.jobId}/cables`, { ...cable, bPlaceId: cable.aPlaceId });
    expect(same.body.detail).toContain('Both ends are at one place');
    const [kept] = (await needs()).cables;
    expect((await server.delete(`/api/cables/${kept?.id}?version=4`)).status).toBe(409);
    expect((await server.delete(`/api/cables/${kept?.id}?version=0`)).body).toEqual({ removed: true });
    expect((await needs()).cables).toEqual([]);
  });
});
