import type { ClassConstructor } from 'class-transformer';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bodyOf } from './bodies';
import { JobDocument } from './jobDocument/document';
import { refusePlain, requestLimits } from './plain';
import { NewPlaceBody } from './requests/place';
import { SessionBody } from './requests/session';
import { routes } from './routes';
import type { Route } from './routes/route';
import { check, mostErrors } from './validate';

const nested = (depth: number): unknown => (depth ? { a: nested(depth - 1) } : 1);

describe('what is looked at before it is checked', () => {
  it.each<[string, unknown, string]>([
    ['goes too deep', nested(40), 'levels deep'],
    ['holds too much in one list', { a: Array(6000).fill(1) }, '6000 values'],
    ['holds too much in many', { a: Array(90).fill(Array(90).fill(1)) }, 'more than 5000'],
    ['has a key that every object has', JSON.parse('{"a":{"constructor":1}}'), '"constructor" is not known here'],
    ['would change what every object is', JSON.parse('{"__proto__":{"a":1}}'), '"__proto__" is not known here'],
    ['holds half a character', { a: ['x\ud800'] }, 'half a character'],
    ['holds a zero byte', { a: 'x\0' }, 'zero byte'],
    ['has a field whose name is no text', { 'a\udc00': 1 }, 'no text'],
  ])('is refused where it %s', (_, plain, words) => {
    expect(refusePlain(plain)?.message).toContain(words);
  });

  it('names the field', () => {
    expect(refusePlain({ a: [{ b: 'x\0' }] })?.field).toBe('a.0.b');
  });

  it('is let through where it is a request, with letters of all peoples', () => {
    expect(refusePlain({ name: 'Mole 🗼 Küste 港', list: [1, null, true, { deep: [''] }] })).toBeUndefined();
    expect(refusePlain(nested(requestLimits.depth))).toBeUndefined();
  });

  it('may be more where more is said to be allowed', () => {
    expect(refusePlain({ a: Array(6000).fill(1) }, { depth: 3, values: 7000 })).toBeUndefined();
  });
});

// Anything that JSON can hold, with what stumbles most: names that every object has, numbers at the end of their range, empty and missing things.
const names = fc.oneof(
  fc.string({ maxLength: 8 }),
  fc.constantFrom('near', 'far', 'version', 'name', 'constructor', 'toString', '__proto__'),
);
const anything = fc.letrec((tie) => ({
  value: fc.oneof(
    { depthSize: 'small' },
    fc.constantFrom(null, true, false, '', 0, -1, 1e308, 5e-324, 'NaN', '2026-02-31', '$value', '\ud800'),
    fc.string({ maxLength: 12 }),
    fc.double(),
    fc.array(tie('value'), { maxLength: 4 }),
    fc.dictionary(names, tie('value'), { maxKeys: 6 }),
  ),
})).value;

const bodies = Object.entries(routes).flatMap(([name, route]: [string, Route<unknown, unknown>]) => {
  const body: ClassConstructor<object> | undefined = name === 'importJob' ? JobDocument : bodyOf(route);
  return body ? [[name, body] as const] : [];
});

describe('a check', () => {
  it.each(bodies)('of %s takes anything and answers in words', (_, body) => {
    fc.assert(
      fc.property(anything, (plain) => {
        const { errors } = check(body, plain);
        expect(errors?.length ?? 1).toBeGreaterThan(0);
        expect(errors?.length ?? 0).toBeLessThanOrEqual(mostErrors);
        for (const { message } of errors ?? []) {
          expect(message.length).toBeGreaterThan(5);
          expect(message.length).toBeLessThanOrEqual(300);
          expect(message).not.toContain('[object');
        }
      }),
      { numRuns: 150 },
    );
  });

  it('stops at the first twenty errors', () => {
    const rows = Array.from({ length: 100 }, () => ({ id: 1 }));
    const { errors } = check(JobDocument, { crew: rows }, { depth: 20, values: 1000 });
    expect(errors).toHaveLength(mostErrors);
  });

  it('tells a missing value from a wrong one', () => {
    expect(check(SessionBody, {}).errors?.[0]?.message).toContain('is missing or unknown');
    const { errors } = check(NewPlaceBody, {
      name: 'x',
      latitudeDeg: {},
      kind: null,
    });
    const told = Object.fromEntries((errors ?? []).map((e) => [e.field, e.message]));
    expect(told.latitudeDeg).toContain('is something else');
    expect(told.longitudeDeg).toContain('is missing');
  });
});
