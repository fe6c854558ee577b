import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { CommandsView, LevelProfile, LevelSourcesView } from '@kivram/contract/views/level';
import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { JobLinks, TimelineView } from '@kivram/contract/views/job';
import { chmod, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { down, up } from '../src/database/migrations/0017-siege';
import { Commands, digestOf } from '../src/radio/commands';
import { LevelSources } from '../src/radio/levelSources';
import type { RadioReaders } from '../src/radio/reader';
import { DevicesHere } from './devicesHere';
import { startTestServer, type TestServer } from './server';

let folder: string;
let file: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kivram-commands-'));
  file = join(folder, 'commands.json');
});
afterAll(() => rm(folder, { recursive: true }));

const probe = { name: 'probe', program: '/usr/bin/printf', arguments: '%s\n-58' };
const write = (commands: object): Promise<void> => writeFile(file, JSON.stringify(commands), { mode: 0o600 });

describe('the commands of this computer', () => {
  it('are none where there is no file, and where none are run', () => {
    expect(new Commands(join(folder, 'none.json')).list()).toEqual([]);
    expect(new Commands(null).list()).toEqual([]);
    expect(() => new Commands(null).allowed('probe', null)).toThrow('they are for "npm start"');
  });

  it('are run as they stand, and only where that was allowed', async () => {
    await write({ commands: [probe] });
    const commands = new Commands(file);
    expect(commands.allowed('probe', digestOf(probe))).toEqual(probe);
    expect(() => commands.allowed('probe', null)).toThrow('was not allowed to run for this end:');
    await write({ commands: [{ ...probe, program: '/usr/bin/env' }] });
    expect(() => commands.allowed('probe', digestOf(probe))).toThrow(
      'was not allowed to run for this end as it stands',
    );
    expect(() => commands.allowed('other', digestOf(probe))).toThrow(`its owner writes it into ${file}`);
  });

  it.each([
    ['{', 'is no JSON'],
    ['{"commands":[{"name":"a","program":"probe","arguments":""}]}', 'write where it lies from the root on'],
    ['{"commands":[{"name":"a","program":"/bin/a"}]}', 'must be text of 0 to 1000'],
    [JSON.stringify({ commands: [probe, probe] }), 'two commands called "probe"'],
    [`{"commands":[]}${' '.repeat(200_000)}`, 'longer than 200 kB'],
  ])('are refused in words where the file is wrong: %.40s', async (text, words) => {
    await writeFile(file, text, { mode: 0o600 });
    expect(() => new Commands(file).list()).toThrow(words);
  });

  it('are none of a file, or a folder, that others may write', async () => {
    await write({ commands: [probe] });
    for (const [path, mode, back] of [
      [file, 0o622, 0o600],
      [file, 0o660, 0o600],
      [folder, 0o777, 0o700],
    ] as const) {
      await chmod(path, mode);
      expect(() => new Commands(file).list(), path).toThrow('may be written by others than you');
      await chmod(path, back);
    }
    expect(new Commands(file).list()).toHaveLength(1);
  });
});

describe('a job that names a command', () => {
  let server: TestServer;
  let profileId: string;
  const mark = (): string => join(folder, 'it-was-run');
  beforeAll(async () => {
    server = await startTestServer({ commandsFile: file });
    await server.sequelize.query('DELETE FROM photo; DELETE FROM reading; DELETE FROM alignment');
    await server.lead();
    const profiles = (await server.get('/api/level-profiles')).body as LevelProfile[];
    profileId = profiles.find(({ way }) => way === 'json')?.id ?? '';
    await write({ commands: [probe] });
  });
  afterAll(() => server.close());

  const sources = async (linkId: string): Promise<LevelSourcesView> =>
    (await server.get(`/api/links/${linkId}/level-sources`)).body as LevelSourcesView;
  const choose = async (linkId: string, name: string) =>
    server.put(`/api/links/${linkId}/level-sources/near`, {
      version: (await sources(linkId)).near.version,
      way: 'command',
      profileId,
      command: { name },
    });
  const linkIn = async (jobId: string): Promise<string> =>
    ((await server.get(`/api/jobs/${jobId}/links?limit=500`)).body as JobLinks).links.find(
      ({ name }) => name === 'Ice works',
    )?.id ?? '';
  /** What the command answers when it is looked through. */
  const askedBy = async (linkId: string): Promise<unknown> => {
    const source = { version: -1, way: 'command', profileId, command: { name: 'probe' } };
    return (await server.post(`/api/links/${linkId}/level-sources/near/ask`, { source })).body;
  };

  it('runs what stands on this computer, once it was chosen at it', async () => {
    const linkId = await server.linkId('Ice works');
    expect((await server.get('/api/commands')).body).toEqual({ file, commands: [probe], trouble: null });
    expect((await choose(linkId, 'nowhere')).body.detail).toContain(`There is no command "nowhere" on this computer`);
    expect((await choose(linkId, 'probe')).status).toBe(200);
    expect((await sources(linkId)).near).toMatchObject({ command: { name: 'probe' }, isCommandAllowed: true });
    expect(await askedBy(linkId)).toMatchObject({ values: [{ number: -58 }] });
    await chmod(file, 0o666);
    expect(((await server.get('/api/commands')).body as CommandsView).trouble).toContain('written by others');
    expect(await askedBy(linkId)).toMatchObject({ status: 422, detail: expect.stringContaining('by others') });
    await chmod(file, 0o600);
  });

  it('is asked for again where it could not be run, and runs once that is mended', async () => {
    const { near, far, link } = await server.link('Ice works');
    await chmod(file, 0o666);
    const sources = new LevelSources({ clockSpeed: 1 } as RadioReaders, new DevicesHere(), new Commands(file));
    const reader = await sources.readerOf(near.radio.id, far.radio.id, link.id);
    await vi.waitFor(() => expect(reader.trouble).toContain('may be written by others than you'));
    await chmod(file, 0o600);
    await vi.waitFor(() => expect(reader.trouble).toBeNull());
    reader.close();
  });

  it('allows nothing when it comes from a file, be it a copy, an older one, or one that replaces the job', async () => {
    const document = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    expect(JSON.stringify(document)).not.toContain(probe.program);
    const bring = async (changed: object, how: string): Promise<string> =>
      (
        (await server.upload(`/api/jobs/import?${how}=yes`, Buffer.from(JSON.stringify(changed)))).body as {
          jobId: string;
        }
      ).jobId;
    const copied = await linkIn(await bring(document, 'copy'));
    expect((await sources(copied)).near).toMatchObject({ command: { name: 'probe' }, isCommandAllowed: false });

    // As it was written when jobs said themselves what to run.
    const evil = { program: 'sh', arguments: `-c\ntouch ${mark()}` };
    const old = {
      ...document,
      formatVersion: 4,
      levelSources: document.levelSources?.map((record) => ({
        ...record,
        source: record.source.command ? { ...record.source, command: evil } : record.source,
      })),
    };
    const jobId = await bring(old, 'copy');
    const linkId = await linkIn(jobId);
    expect((await sources(linkId)).near).toMatchObject({ command: { name: 'sh' }, isCommandAllowed: false });
    await server.lead(jobId);
    const plan = { nearSource: 'scale', farSource: 'scale', order: 'endByEnd' };
    const begun = await server.post(`/api/links/${linkId}/alignments`, plan);
    expect(begun.status, begun.text).toBe(200);
    const alignment = `/api/alignments/${(begun.body as { id: string }).id}`;
    // Both ends are read together: where the far one was, the near one was too.
    await vi.waitFor(async () =>
      expect(
        ((await server.get(alignment)).body as AlignmentView).samples.filter(({ end }) => end === 'far').length,
      ).toBeGreaterThan(5),
    );
    await server.post(`${alignment}/abandon`);
    expect(existsSync(mark())).toBe(false);

    // The job itself comes back: what was allowed for it here stays, under the same name only.
    await bring(document, 'replace');
    expect((await sources(await server.linkId('Ice works'))).near.isCommandAllowed).toBe(true);
    const renamed = JSON.parse(
      JSON.stringify(document).replaceAll('"command":{"name":"probe"}', '"command":{"name":"other"}'),
    ) as object;
    await write({ commands: [probe, { ...probe, name: 'other', arguments: '%s\n-99' }] });
    await bring(renamed, 'replace');
    expect((await sources(await server.linkId('Ice works'))).near).toMatchObject({
      command: { name: 'other' },
      isCommandAllowed: false,
    });
  });

  it('named none before: what it ran is said once more, and is a name that nothing stands behind', async () => {
    const schema = server.sequelize.getQueryInterface();
    await down(schema);
    const { link, near, far } = await server.link('Net loft');
    const setting = JSON.stringify({ command: { program: '/opt/roof/probe.sh', arguments: '--json\n10.0.0.2' } });
    await server.sequelize.query(
      `INSERT INTO level_source (radio_id, peer_id, way, setting) VALUES (:near, :far, 'command', :setting);
       INSERT INTO removal (job_id, what, rows)
         SELECT job_id, 'a link', jsonb_build_object('level_source', jsonb_build_array(
           jsonb_build_object('way', 'command', 'setting', :setting::jsonb), '{"way": "typed", "setting": {}}'::jsonb))
         FROM link WHERE id = :link`,
      { replacements: { near: near.radio.id, far: far.radio.id, link: link.id, setting } },
    );
    await up(schema);
    expect((await sources(link.id)).near).toMatchObject({ command: { name: 'probe.sh' }, isCommandAllowed: false });
    const { events } = (await server.get(`/api/links/${link.id}/events`)).body as TimelineView;
    expect(events[0]?.summary).toContain('/opt/roof/probe.sh --json 10.0.0.2');
    const [removal] = await server.sequelize.query<{ rows: { level_source: { setting: object }[] } }>(
      `SELECT rows FROM removal WHERE what = 'a link'`,
      { type: QueryTypes.SELECT },
    );
    expect(removal?.rows.level_source.map((row) => row.setting)).toEqual([{ command: { name: 'probe.sh' } }, {}]);
  });
});
