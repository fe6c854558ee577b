import { routes } from '@kivram/contract/routes';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { ProblemError, call, wasTold } from './api';

const answer = (status: number, body: unknown, toldAs?: string): unknown =>
  vi.stubGlobal(
    'fetch',
    vi.fn(() =>
      Promise.resolve({
        ok: status < 400,
        status,
        headers: new Headers(toldAs ? { 'kivram-told': toldAs } : {}),
        json: () => (body === undefined ? Promise.reject(new Error('no JSON')) : Promise.resolve(body)),
      }),
    ),
  );
const problemOf = async (asked: Promise<unknown>): Promise<ProblemError> => {
  const error = await asked.catch((e: unknown) => e);
  expect(error).toBeInstanceOf(ProblemError);
  return error as ProblemError;
};

afterEach(() => vi.unstubAllGlobals());

describe('calling the server', () => {
  it('goes where the route says, with its body', async () => {
    answer(200, { ok: 1 });
    await call(routes.changePlan, { linkId: 'a b' }, { version: 1 }, '?x=1', 'the-id');
    expect(fetch).toHaveBeenCalledWith('/api/links/a%20b?x=1', {
      method: 'PATCH',
      headers: { 'content-type': 'application/json', 'idempotency-key': 'the-id' },
      body: '{"version":1}',
    });
    await call(routes.listJobs);
    expect(fetch).toHaveBeenLastCalledWith('/api/jobs', { method: 'GET', headers: {}, body: undefined });
  });

  it('gives every change an id of its own, and reading none', async () => {
    answer(200, {});
    const ids = [];
    for (const body of [{}, {}]) {
      await call(routes.changePlan, { linkId: 'a' }, body);
      const [, options] = vi.mocked(fetch).mock.lastCall as [string, { headers: Record<string, string> }];
      ids.push(options.headers['idempotency-key']);
    }
    expect(ids[0]).toMatch(/^[0-9a-f-]{36}$/);
    expect(ids[1]).not.toBe(ids[0]);
  });

  it('knows once of a change that its job tells of', async () => {
    answer(200, {}, 'the-id');
    await call(routes.changePlan, { linkId: 'a' }, {}, '', 'the-id');
    expect([wasTold('another'), wasTold('the-id'), wasTold('the-id')]).toEqual([false, true, false]);
  });

  it('throws the problem document it is given', async () => {
    answer(409, { type: 'about:blank', title: 'Conflict', status: 409, detail: 'Somebody else was faster.' });
    const { problem } = await problemOf(call(routes.listJobs));
    expect(problem).toMatchObject({ status: 409, detail: 'Somebody else was faster.' });
  });

  it('has words of its own where the server has none, or is not there', async () => {
    answer(502, undefined);
    expect((await problemOf(call(routes.listJobs))).problem).toMatchObject({ status: 502 });
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('refused')));
    expect((await problemOf(call(routes.listJobs))).message).toContain('Is it still running?');
  });
});
