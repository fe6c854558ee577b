import { describe, expect, it } from 'vitest';
import { ChangeIds, newId } from './changeId';

describe('ids of changes', () => {
  it('are UUIDs of version 4, and never the same', () => {
    const ids = Array.from({ length: 500 }, newId);
    for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(new Set(ids).size).toBe(500);
  });

  it('stay for a change that is tried again, and change with the change', () => {
    const ids = new ChangeIds();
    const first = ids.idFor({ width: 80 });
    expect(ids.idFor({ width: 80 })).toBe(first);
    expect(ids.idFor({ width: 40 })).not.toBe(first);
    const again = ids.idFor({ width: 40 });
    ids.settled();
    expect(ids.idFor({ width: 40 })).not.toBe(again);
  });
});
