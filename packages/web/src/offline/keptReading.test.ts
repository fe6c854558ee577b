import type { PersistedClient } from '@tanstack/react-query-persist-client';
import { describe, expect, it } from 'vitest';
import { isKept, newestOf } from './keptReading';

const state = (status: string, data: unknown, dataUpdatedAt = 0) => ({ status, data, dataUpdatedAt }) as never;

describe('what is kept for reading without a network', () => {
  it('is what was answered, and lasts', () => {
    expect(isKept({ queryKey: ['link', 'x'], state: state('success', 1) })).toBe(true);
    expect(isKept({ queryKey: ['link', 'x'], state: state('pending', undefined) })).toBe(false);
    // Asked again without a network: the answer of before is still one.
    expect(isKept({ queryKey: ['link', 'x'], state: state('error', 1) })).toBe(true);
    expect(isKept({ queryKey: ['health'], state: state('success', 1) })).toBe(false);
    expect(isKept({ queryKey: ['find', 'job', 'ice'], state: state('success', 1) })).toBe(false);
  });

  it('is the newest, and no more than a phone can hold', () => {
    const queries = Array.from({ length: 400 }, (_, i) => ({ queryKey: ['link', i], state: state('error', 1, i) }));
    const kept = newestOf({
      timestamp: 1,
      buster: 'b',
      clientState: { mutations: [], queries },
    } as unknown as PersistedClient);
    expect(kept.clientState.queries).toHaveLength(150);
    expect(kept.clientState.queries[0]?.queryKey).toEqual(['link', 399]);
    expect(kept.clientState.queries[0]?.state).toMatchObject({ status: 'success', data: 1, error: null });
    expect(kept.buster).toBe('b');
  });
});
