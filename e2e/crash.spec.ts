import { expect, test } from '@playwright/test';
import { copyDatabase } from '../scripts/lib/databases.mjs';
import { startServer, stopServer } from '../scripts/lib/server.mjs';
import { databaseUrl as anyDatabase, templateName } from './server';

interface Answer {
  status: number;
  body: never;
}

test('a server that is killed while it aims and imports loses nothing it has acknowledged, and starts again', async () => {
  const databaseUrl = copyDatabase(anyDatabase, templateName);
  let cookie = '';
  let server = await startServer({ databaseUrl });
  const ask = async (path: string, body?: unknown, method = body === undefined ? 'GET' : 'POST'): Promise<Answer> => {
    const answer = await fetch(`http://127.0.0.1:${server.port}${path}`, {
      method,
      headers: { 'content-type': 'application/json', cookie },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? cookie;
    return { status: answer.status, body: (await answer.json()) as never };
  };
  const [job] = (await ask('/api/jobs')).body as { id: string }[];
  const { crew } = (await ask(`/api/jobs/${job?.id}`)).body as { crew: { id: string }[] };
  await ask('/api/session', { crewMemberId: crew[0]?.id }, 'PUT');
  const { links } = (await ask(`/api/jobs/${job?.id}/links`)).body as { links: { id: string; name: string }[] };
  const linkId = links.find((l) => l.name === 'Net loft')?.id;
  const alignment = (
    await ask(`/api/links/${linkId}/alignments`, {
      nearSource: 'phone',
      farSource: 'phone',
      order: 'endByEnd',
    })
  ).body as { id: string };
  await new Promise((resolve) => setTimeout(resolve, 1500));

  // Tests are imported one after the other until the kill; what was answered must be there afterwards.
  const acknowledged: string[] = [];
  const file = (n: number): string =>
    JSON.stringify({
      start: { timestamp: { timesecs: 1_790_000_000 + n }, test_start: { protocol: 'TCP', duration: 1, reverse: 0 } },
      intervals: [{ sum: { seconds: 1, bytes: 1e7, bits_per_second: 8e7 } }],
      end: { sum_sent: { retransmits: 0 }, sum_received: { bits_per_second: 8e7, seconds: 1 } },
    });
  const importing = (async () => {
    for (let n = 0; ; n++) {
      const fileName = `run-${n}.json`;
      const answer = await ask(`/api/links/${linkId}/throughput-tests/iperf3`, {
        fileName,
        text: file(n),
        clientAt: 'near',
      });
      if (answer.status === 200) acknowledged.push(fileName);
    }
  })().catch(() => undefined);
  await expect.poll(() => acknowledged.length, { timeout: 30_000 }).toBeGreaterThan(4);
  const seen = (await ask(`/api/alignments/${alignment.id}`)).body as { samples: { tS: number }[] };
  const killed = new Promise((resolve) => server.child.once('exit', resolve));
  server.child.kill('SIGKILL');
  await killed;
  await importing;

  server = await startServer({ databaseUrl });
  const after = (await ask(`/api/alignments/${alignment.id}`)).body as { samples: { tS: number }[]; state: string };
  expect(seen.samples.length).toBeGreaterThan(10);
  const stored = new Set(after.samples.map((s) => s.tS));
  expect(seen.samples.filter((s) => !stored.has(s.tS))).toEqual([]);
  expect(after.state).toBe('running');
  // The lease of the killed server runs out; then this one reads on.
  await expect
    .poll(async () => ((await ask(`/api/alignments/${alignment.id}`)).body as { samples: unknown[] }).samples.length, {
      timeout: 40_000,
    })
    .toBeGreaterThan(after.samples.length);
  const link = (await ask(`/api/links/${linkId}`)).body as { tests: { fileName: string }[] };
  expect(acknowledged.length).toBeGreaterThan(3);
  const names = link.tests.map((t) => t.fileName);
  expect(acknowledged.filter((name) => !names.includes(name))).toEqual([]);
  const ended = await ask(`/api/alignments/${alignment.id}/finish`, {});
  expect(ended.status).toBe(200);
  await stopServer(server.child);
});
