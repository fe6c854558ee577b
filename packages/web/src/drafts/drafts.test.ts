import { beforeEach, describe, expect, it, vi } from 'vitest';
import { drafts } from './drafts';

beforeEach(() => {
  for (const key of drafts.all().keys()) drafts.drop(key);
});

describe('what was typed and not saved yet', () => {
  it('is kept by where it was typed, until it is dropped', () => {
    drafts.keep('link/a/radio', { base: '1', value: { power: 11 } });
    drafts.keep('link/b/bench', { base: '2', value: null });
    expect(drafts.get('link/a/radio')).toEqual({ base: '1', value: { power: 11 } });
    drafts.drop('link/a/radio');
    expect(drafts.get('link/a/radio')).toBeUndefined();
    expect([...drafts.all().keys()]).toEqual(['link/b/bench']);
  });

  it('goes when it is saved, but for what was typed while it was on its way', () => {
    drafts.keep('place/y', { base: '1', value: 'Mole' });
    drafts.send('place/y').saved();
    expect(drafts.get('place/y')).toBeUndefined();
    drafts.keep('place/y', { base: '2', value: 'Mole' });
    const closed = vi.fn();
    drafts.send('place/y', closed).saved();
    expect(closed).toHaveBeenCalledTimes(1);
    drafts.keep('place/y', { base: '2', value: 'Mole' });
    const again = drafts.send('place/y', closed);
    drafts.keep('place/y', { base: '2', value: 'Mole' });
    again.saved();
    expect(drafts.get('place/y')).toBeUndefined();
    expect(closed).toHaveBeenCalledTimes(2);
    drafts.keep('place/y', { base: '2', value: 'Mole' });
    const sending = drafts.send('place/y', closed);
    drafts.keep('place/y', { base: '2', value: 'Mole light' });
    sending.saved();
    expect(drafts.get('place/y')).toEqual({ base: '2', after: '2', value: 'Mole light' });
    expect(closed).toHaveBeenCalledTimes(2);
  });

  it('is on its way until it is saved or has failed, and both are told', () => {
    const heard = vi.fn();
    drafts.keep('place/z', { base: '1', value: 'Mole' });
    const stop = drafts.subscribe(heard);
    const first = drafts.send('place/z');
    expect(drafts.isOnTheWay('place/z')).toBe(true);
    expect(drafts.isOnTheWay('place/x')).toBe(false);
    first.failed();
    expect(drafts.isOnTheWay('place/z')).toBe(false);
    expect(drafts.get('place/z')).toEqual({ base: '1', value: 'Mole' });
    expect(heard).toHaveBeenCalledTimes(1);
    const closed = vi.fn(() => expect(drafts.get('place/z')).toBeUndefined());
    drafts.send('place/z', closed).saved();
    expect(closed).toHaveBeenCalledTimes(1);
    expect(drafts.isOnTheWay('place/z')).toBe(false);
    expect(heard).toHaveBeenCalledTimes(2);
    stop();
  });

  it('tells whoever listens, with a new map each time', () => {
    const heard = vi.fn();
    const before = drafts.all();
    const stop = drafts.subscribe(heard);
    drafts.keep('place/x', { base: '', value: 'Mole' });
    expect(heard).toHaveBeenCalledTimes(1);
    expect(drafts.all()).not.toBe(before);
    stop();
    drafts.drop('place/x');
    drafts.drop('place/x');
    expect(heard).toHaveBeenCalledTimes(1);
  });

  it('outlives a reload where the browser keeps it, and works where it does not', async () => {
    const stored = new Map<string, string>();
    vi.stubGlobal('sessionStorage', {
      getItem: (key: string) => stored.get(key) ?? null,
      setItem: (key: string, text: string) => void stored.set(key, text),
    });
    drafts.keep('link/c/path', { base: '3', value: { near: 14 } });
    vi.resetModules();
    const again = await import('./drafts');
    expect(again.drafts.get('link/c/path')).toEqual({ base: '3', value: { near: 14 } });
    stored.set('kivram-drafts', '{broken');
    vi.resetModules();
    expect((await import('./drafts')).drafts.all().size).toBe(0);
    vi.unstubAllGlobals();
    vi.resetModules();
    expect((await import('./drafts')).drafts.all().size).toBe(0);
  });
});
