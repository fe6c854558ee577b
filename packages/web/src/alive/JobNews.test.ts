import type { NewsEvent } from '@kivram/contract/views/news';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SomeNews } from './affected';
import { JobNews, type Line } from './JobNews';

beforeEach(() => void vi.useFakeTimers({ now: 1_000_000 }));
afterEach(() => void vi.useRealTimers());

/** A page of a job that was read 4 s ago, with the lines that it opened and what it has shown. */
function page() {
  const lines: (Line & { address: string; closed: boolean })[] = [];
  const shown: SomeNews[][] = [];
  const reading = { untilMs: 0 };
  const news = new JobNews(
    'harbour',
    Date.now() - 4000,
    async (some) => {
      shown.push([...some]);
      if (reading.untilMs) await new Promise((resolve) => setTimeout(resolve, reading.untilMs));
    },
    (address) => {
      const line = { address, closed: false, onmessage: null, onerror: null, close: () => void (line.closed = true) };
      lines.push(line);
      return line;
    },
  );
  const say = (event: NewsEvent): void =>
    lines.at(-1)?.onmessage?.call(null as never, { data: JSON.stringify(event) } as MessageEvent<string>);
  const breakLine = (): void => void lines.at(-1)?.onerror?.call(null as never, new Event('error'));
  return { news, lines, shown, reading, say, breakLine };
}

const here = (number: number): NewsEvent => ({ type: 'here', number });
const moved = (number: number, changeId: string | null = null): SomeNews => ({
  type: 'moved',
  number,
  changeId,
  crewMemberId: null,
  moved: { place: { shed: number } },
});

describe('the news of a job', () => {
  it('are asked for from when the page was read, then by the last number, also after a rest', async () => {
    const { news, lines, shown, say, breakLine } = page();
    news.listen();
    expect(lines[0]?.address).toBe('/api/jobs/harbour/stream?secondsAgo=14');
    say(here(7));
    say(moved(9));
    await vi.advanceTimersByTimeAsync(0);
    expect(shown).toEqual([[moved(9)]]);
    breakLine();
    expect(news.isLive).toBe(false);
    await vi.advanceTimersByTimeAsync(1000);
    expect(lines.map(({ address }) => address)[1]).toBe('/api/jobs/harbour/stream?after=9');
    news.rest();
    expect(lines[1]?.closed).toBe(true);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(lines).toHaveLength(2);
    news.listen();
    expect(lines[2]?.address).toContain('after=9');
  });

  it('take a line for lost that says nothing for long, and tell that they are late where none comes back', async () => {
    const { news, lines, say, breakLine } = page();
    news.listen();
    say(here(1));
    await vi.advanceTimersByTimeAsync(30_000);
    say({ type: 'still' });
    await vi.advanceTimersByTimeAsync(30_000);
    expect(lines).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(12_000);
    expect(lines).toHaveLength(2);
    for (let s = 0; s < 10; s++) {
      breakLine();
      await vi.advanceTimersByTimeAsync(1000);
    }
    expect(news.isLate).toBe(true);
    // It goes on trying, less often: not once a second.
    await vi.advanceTimersByTimeAsync(60_000);
    expect(lines.length).toBeLessThan(10);
    say(here(1));
    expect(news).toMatchObject({ isLive: true, isLate: false });
  });

  it('of a change from here wait for its answer, and whoever follows it for what it moved', async () => {
    const { news, shown, say } = page();
    news.listen();
    say(here(1));
    news.expect('mine');
    say(moved(2, 'mine'));
    say(moved(3, 'theirs'));
    await vi.advanceTimersByTimeAsync(0);
    expect(shown).toEqual([[moved(3, 'theirs')]]);
    await expect(news.follow('mine')).resolves.toBe(true);
    expect(shown[1]).toEqual([moved(2, 'mine')]);
    // The answer was faster than the news.
    const following = news.follow('slow');
    say(moved(4, 'slow'));
    await vi.advanceTimersByTimeAsync(0);
    await expect(following).resolves.toBe(true);
    // Nothing is told of it.
    const never = news.follow('silent');
    await vi.advanceTimersByTimeAsync(2000);
    await expect(never).resolves.toBe(false);
  });

  it('of a change that was given up here are shown as anybody’s, and nobody waits for a line that is lost', async () => {
    const { news, shown, say, breakLine } = page();
    news.listen();
    say(here(1));
    news.expect('lost');
    say(moved(2, 'lost'));
    news.giveUp('lost');
    await vi.advanceTimersByTimeAsync(0);
    expect(shown).toEqual([[moved(2, 'lost')]]);
    const following = news.follow('made');
    breakLine();
    await expect(following).resolves.toBe(false);
    await expect(news.follow('made later')).resolves.toBe(false);
  });

  it('tell whether an answer is the newest there is: not where somebody else was at it meanwhile', async () => {
    const { news, say } = page();
    news.listen();
    say(here(1));
    news.expect('alone');
    say(moved(2, 'alone'));
    say({ type: 'moved', number: 3, changeId: null, crewMemberId: null, moved: { state: { ice: null } } });
    expect(news.isNewest('alone')).toBe(true);
    news.expect('beside');
    say(moved(4, 'theirs'));
    expect(news.isNewest('beside')).toBe(false);
    expect(news.isNewest('alone')).toBe(false);
    expect(news.isNewest('sent before this page')).toBe(false);
    await vi.advanceTimersByTimeAsync(0);
  });

  it('of step states wait while a change is on its way, whose answer has them', async () => {
    const { news, shown, say } = page();
    news.listen();
    say(here(1));
    news.expect('mine');
    const states: SomeNews = { type: 'moved', number: 2, changeId: null, crewMemberId: null, moved: { state: {} } };
    say(states);
    await vi.advanceTimersByTimeAsync(0);
    expect(shown).toEqual([]);
    news.giveUp('mine');
    await vi.advanceTimersByTimeAsync(0);
    expect(shown).toEqual([[states]]);
  });

  it('that are slow to read are waited for by who made the change, and keep no others waiting for long', async () => {
    const { news, shown, reading, say } = page();
    reading.untilMs = 60_000;
    news.listen();
    say(here(1));
    news.expect('mine');
    say(moved(2, 'mine'));
    let isThrough: boolean | undefined;
    void news.follow('mine').then((through) => (isThrough = through));
    say(moved(3));
    await vi.advanceTimersByTimeAsync(4000);
    expect([isThrough, shown.length]).toEqual([undefined, 1]);
    await vi.advanceTimersByTimeAsync(1500);
    expect([isThrough, shown.length]).toEqual([true, 2]);
  });

  it('that come in a burst are shown in few goes', async () => {
    const { news, shown, say } = page();
    news.listen();
    say(here(1));
    for (let number = 2; number < 40; number++) say(moved(number));
    await vi.advanceTimersByTimeAsync(0);
    expect(shown.length).toBeLessThanOrEqual(2);
    expect(shown.flat()).toHaveLength(38);
  });
});
