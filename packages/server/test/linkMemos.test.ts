import type { JobLinks } from '@kivram/contract/views/job';
import type { StepState } from '@kivram/core/verdict/steps';
import { randomUUID } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

/** The statements that are sent to the database meanwhile. */
async function statementsOf(work: () => Promise<unknown>): Promise<string[]> {
  const query = vi.spyOn(server.sequelize, 'query');
  await work();
  const sent = query.mock.calls.map(([sql]) => (typeof sql === 'string' ? sql : sql.query));
  query.mockRestore();
  return sent;
}

const firstScreen = () =>
  Promise.all(['', '/links?limit=50'].map((path) => server.get(`/api/jobs/${server.jobId}${path}`)));

async function keyOf(linkId: string): Promise<string | undefined> {
  const rows = await server.sequelize.query<{ key: string }>('SELECT key FROM link_memo WHERE link_id = :linkId', {
    type: QueryTypes.SELECT,
    replacements: { linkId },
  });
  return rows[0]?.key;
}

/** As another server changes it, of which this one hears nothing. */
const changeUnseen = () => server.sequelize.query('UPDATE air SET version = version + 1');

describe('what was computed of links', () => {
  it('is computed beside the requests once a change is made: the first screen stays at ten statements', async () => {
    await firstScreen();
    const { link } = await server.link('Ice works');
    const before = await keyOf(link.id);
    const body = { version: link.version, needNearToFarMbps: 2000 };
    expect((await server.patch(`/api/links/${link.id}`, body)).status).toBe(200);
    await vi.waitFor(async () => expect(await keyOf(link.id)).not.toBe(before));
    expect((await statementsOf(firstScreen)).length).toBeLessThanOrEqual(10);
    const shown = (await server.links()).find((l) => l.id === link.id);
    expect(shown?.state.steps[1]).toMatchObject({ step: 'radio', state: 'fails' });
  });

  it('is computed once for many who ask at once', async () => {
    await changeUnseen();
    const sent = await statementsOf(() => Promise.all(Array.from({ length: 5 }, firstScreen)));
    expect(sent.filter((sql) => sql.includes('INSERT INTO link_memo'))).toHaveLength(1);
  });

  it('goes on with the other jobs where one cannot be computed', async () => {
    const linkId = await server.linkId('Ice works');
    const before = await keyOf(linkId);
    await changeUnseen();
    server.memos.refresh('no id at all');
    server.memos.refresh(randomUUID());
    server.memos.refresh(server.jobId);
    await vi.waitFor(async () => expect(await keyOf(linkId)).not.toBe(before));
  });

  it('says of a link whose records make the computation fail that there is nothing to say, and lists the others', async () => {
    // The only link with radios of its model.
    const { near } = await server.link('Quay crane');
    const told = async () => (await server.links()).map((l) => [l.name, l.state.steps[1]?.because] as const);
    const before = await told();
    const put = async (spec: unknown) => {
      await server.sequelize.query('UPDATE gear_model SET spec = :spec WHERE id = :id', {
        replacements: { spec: JSON.stringify(spec), id: near.radio.modelId },
      });
      await changeUnseen();
    };
    await put({});
    const spoilt = await told();
    expect(spoilt.filter(([name]) => name !== 'Quay crane')).toEqual(before.filter(([name]) => name !== 'Quay crane'));
    expect(new Map(spoilt).get('Quay crane')).toContain('could not be computed');
    // Mended, it is computed again.
    await put(near.model);
    expect(await told()).toEqual(before);
  });

  it.each(['job', 'obstacle', 'licence', 'network'])(
    'is computed anew where the %s has changed, on which all links of a job rest',
    async (table) => {
      await firstScreen();
      const linkId = await server.linkId('Ice works');
      const before = await keyOf(linkId);
      const [, changed] = await server.sequelize.query(`UPDATE ${table} SET version = version + 1`);
      expect((changed as { rowCount: number }).rowCount, 'the demo has one').toBeGreaterThan(0);
      await firstScreen();
      expect(await keyOf(linkId)).not.toBe(before);
    },
  );

  it('is computed anew where an older program kept it, which knew less', async () => {
    await firstScreen();
    await server.sequelize.query("UPDATE link_memo SET memo = memo - 'heard'");
    for (const answer of await firstScreen()) expect(answer.status).toBe(200);
    await server.sequelize.query("UPDATE link_memo SET memo = memo - 'heard', key = 'of another build'");
    for (const answer of await firstScreen()) expect(answer.status).toBe(200);
  });

  it('is computed anew where another link comes onto its channel, and says the same on every page', async () => {
    const radioOf = async (name: string): Promise<[page: string, list: string]> => {
      const { links } = (await server.get(`/api/jobs/${server.jobId}/links?limit=50`)).body as JobLinks;
      const because = (steps: readonly StepState[] = []): string =>
        steps.find((s) => s.step === 'radio')?.because ?? '';
      return [because((await server.link(name)).state.steps), because(links.find((l) => l.name === name)?.state.steps)];
    };
    const move = async (name: string, centreMHz: number): Promise<void> => {
      const { link, air } = await server.link(name);
      const body = { version: link.version, air: { version: air.version, centreMHz } };
      const answer = await server.patch(`/api/links/${link.id}`, body);
      expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    };
    const alone = await radioOf('Hatchery');
    expect(alone.join()).not.toContain('channel');
    await move('Slipway store', 5580);
    for (const because of await radioOf('Hatchery'))
      expect(because).toMatch(
        /^shares its channel with Slipway store, heard at -\d+ dBm: together they need \d+ % of the time$/,
      );
    for (const because of await radioOf('Slipway store')) expect(because).toContain('shares its channel with Hatchery');
    await move('Slipway store', 5520);
    expect(await radioOf('Hatchery')).toEqual(alone);
  });

  it('is computed anew where somebody else takes the address of a radio', async () => {
    const bench = async () =>
      (await server.links()).find((l) => l.name === 'Ice works')?.state.steps.find((s) => s.step === 'bench');
    expect((await bench())?.state).toBe('holds');
    const { near } = await server.link('Ice works');
    const address = near.sheet?.sheet.address ?? '';
    await server.sequelize.query(
      `INSERT INTO known_device (network_id, name, kind, address) SELECT id, 'ice machine', 'other', :address FROM network LIMIT 1`,
      { replacements: { address } },
    );
    expect(await bench()).toMatchObject({
      state: 'fails',
      because: `must not go up so: ${address} is taken by ice machine`,
    });
    await server.sequelize.query(`DELETE FROM known_device WHERE name = 'ice machine'`);
    expect((await bench())?.state).toBe('holds');
  });
});
