import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ProblemError } from '../api';
import { Outbox, type Keeper, type Waiting } from './outbox';

/** What a browser keeps, over reloads of the page. */
class Shelf implements Keeper {
  readonly kept = new Map<string, Waiting>();
  all = () => Promise.resolve([...this.kept.values()]);
  put = (change: Waiting) => Promise.resolve(void this.kept.set(change.id, change));
  remove = (id: string) => Promise.resolve(void this.kept.delete(id));
}

const problem = (status: number, current?: Record<string, unknown>) =>
  new ProblemError({
    type: 'about:blank',
    title: 'x',
    status,
    detail: `answered ${status}`,
    ...(current && { current }),
  });

/** A server with one note, that makes each change once, and a network that fails when it is told to: before the request, or before the answer. */
class Server {
  note = 'first';
  version = 0;
  readonly made = new Map<string, number>();
  failures: ('before' | 'after' | null)[] = [];
  sent = 0;

  send = ({ id, body }: Waiting): Promise<unknown> => {
    this.sent++;
    const failure = this.failures.shift() ?? null;
    if (failure === 'before') return Promise.reject(problem(0));
    if (!this.made.has(id)) {
      if (body?.version !== this.version)
        return Promise.reject(problem(409, { note: this.note, version: this.version }));
      this.made.set(id, ++this.version);
      this.note = String(body.note);
    }
    if (failure === 'after') return Promise.reject(problem(0));
    // As the real one: the entry as it is now, also where the change was made long ago.
    return Promise.resolve({ version: this.version });
  };
}

const change = (id: string, note: string, version = 0, by: string | null = null): Parameters<Outbox['add']>[0] => ({
  id,
  by,
  route: 'changeVisit',
  params: { visitId: 'v' },
  query: '',
  body: { note, version },
  file: undefined,
});

describe('what waits', () => {
  it('is sent in order, each once, whatever the network does to requests and answers', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom('before' as const, 'after' as const, null), { maxLength: 12 }),
        fc.integer({ min: 1, max: 5 }),
        async (failures, count) => {
          const [server, shelf] = [new Server(), new Shelf()];
          let outbox = new Outbox(shelf, server.send);
          for (let i = 0; i < count; i++) await outbox.add(change(`id-${i}`, `note ${i}`));
          server.failures = [...failures];
          for (let i = 0; i <= failures.length; i++) {
            await outbox.flush(null);
            // A page that is closed and opened again goes on from what is kept.
            outbox = new Outbox(shelf, server.send);
          }
          expect(shelf.kept.size).toBe(0);
          expect(server.note).toBe(`note ${count - 1}`);
          expect(server.version).toBe(count);
        },
      ),
    );
  });

  it('that somebody else was faster than is kept with both versions, and saved over theirs only when told to', async () => {
    const [server, shelf] = [new Server(), new Shelf()];
    const outbox = new Outbox(shelf, server.send);
    await outbox.add(change('mine', 'my note'));
    await outbox.add(change('later', 'my second thought'));
    Object.assign(server, { note: 'their note', version: 5 });
    expect(await outbox.flush(null)).toHaveLength(0);
    const [refused, behind] = outbox.all();
    expect(refused?.problem?.current).toEqual({ note: 'their note', version: 5 });
    expect(behind?.problem).toBeNull(); // of the same entry: it waits for the decision
    expect(server.note).toBe('their note');
    expect(await outbox.flush(null)).toHaveLength(0);
    expect(server.sent).toBe(1); // what was refused is not sent again by itself
    await outbox.insist(refused as Waiting, 'mine-again');
    expect(await outbox.flush(null)).toHaveLength(1);
    expect(server.note).toBe('my note');
    expect(outbox.all()).toHaveLength(1);
    expect(outbox.all()[0]?.problem?.status).toBe(409); // it was meant for what was there before
    await outbox.drop('later');
    expect(shelf.kept.size).toBe(0);
  });

  it('saves nothing over what somebody else did between an answer that was lost and the next change', async () => {
    const [server, shelf] = [new Server(), new Shelf()];
    const outbox = new Outbox(shelf, server.send);
    await outbox.add(change('first', 'mine'));
    await outbox.add(change('second', 'mine, longer'));
    server.failures = ['after'];
    await outbox.flush(null);
    Object.assign(server, { note: 'theirs', version: 2 });
    await outbox.flush(null);
    expect(server.note).toBe('theirs');
    expect(outbox.all()[0]?.problem?.current).toEqual({ note: 'theirs', version: 2 });
  });

  it('keeps nothing else from being sent by being refused', async () => {
    const [server, shelf] = [new Server(), new Shelf()];
    const outbox = new Outbox(shelf, (waiting) =>
      waiting.route === 'addPhoto' ? Promise.reject(problem(422)) : server.send(waiting),
    );
    await outbox.add({ ...change('photo', ''), route: 'addPhoto', body: undefined, file: new Blob(['x']) });
    await outbox.add(change('note', 'sent all the same'));
    expect(await outbox.flush(null)).toHaveLength(1);
    expect(server.note).toBe('sent all the same');
    expect(outbox.all().map(({ id, problem: p }) => [id, p?.status])).toEqual([['photo', 422]]);
  });

  it.each([0, 401, 429, 500, 503])('waits on where the answer is %i', async (status) => {
    const outbox = new Outbox(new Shelf(), () => Promise.reject(problem(status)));
    await outbox.add(change('a', 'x'));
    expect(await outbox.flush(null)).toHaveLength(0);
    expect(outbox.all()[0]?.problem).toBeNull();
  });

  it('is sent by nobody but who made it', async () => {
    const [server, shelf] = [new Server(), new Shelf()];
    const outbox = new Outbox(shelf, server.send);
    await outbox.add(change('a', 'x', 0, 'Teo Marl'));
    expect(await outbox.flush('Ona Brisk')).toHaveLength(0);
    expect(await outbox.flush('Teo Marl')).toHaveLength(1);
  });

  it('is sent once by two who send at one time', async () => {
    const server = new Server();
    const outbox = new Outbox(new Shelf(), server.send);
    await outbox.add(change('a', 'x'));
    const [one, other] = await Promise.all([outbox.flush(null), outbox.flush(null)]);
    expect(one).toMatchObject([{ route: 'changeVisit', answer: { version: 1 } }]);
    expect(other).toEqual(one);
    expect(server.sent).toBe(1);
  });
});
