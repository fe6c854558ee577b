import type { Found } from '@kivram/contract/views/find';
import { describe, expect, it } from 'vitest';
import { goesTo, stepIn, waysOf } from './ways';

const found = (changes: Partial<Found>): Found => ({
  kind: 'link',
  id: 'a',
  jobId: 'j',
  linkId: null,
  name: 'Ice works',
  about: '',
  ...changes,
});

describe('ways by name', () => {
  it.each([
    ['ice works aim', 'aim', 'ice works'],
    ['ice works be', 'bench', 'ice works'],
    ['ice works', null, 'ice works'],
    ['aim', null, 'aim'],
    ['ice works a', null, 'ice works a'],
    ['', null, ''],
  ])('%j is a step and what it is of', (text, step, rest) => {
    expect(stepIn(text)).toEqual({ step, rest });
  });

  it.each<[Partial<Found>, string]>([
    [{ kind: 'link' }, '/links/a/path'],
    [{ kind: 'radio', linkId: 'l' }, '/links/l/about'],
    [{ kind: 'radio' }, '/jobs/j/map'],
    [{ kind: 'place' }, '/jobs/j/map?place=a'],
    [{ kind: 'device' }, '/jobs/j/network'],
    [{ kind: 'model', jobId: null, id: 'a b' }, '/catalogue/a%20b'],
    [{ kind: 'job' }, '/jobs/j'],
  ])('%j goes to %s', (changes, path) => {
    expect(goesTo(found(changes), null).path).toBe(path);
  });

  it('lead to the screens of where one stands, and everywhere', () => {
    expect(goesTo(found({}), 'aim').path).toBe('/links/a/aim');
    expect(waysOf('j', 'l').map((w) => w.path)).toContain('/links/l/aim');
    expect(waysOf(undefined, undefined).map((w) => w.path)).toEqual([
      '/jobs',
      '/waiting',
      '/jobs/new',
      '/catalogue',
      '/catalogue/new',
    ]);
  });
});
