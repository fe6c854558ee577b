import { getMetadataStorage } from 'class-validator';
import { describe, expect, it } from 'vitest';
import { bodyOf } from './bodies';
import { routes } from './routes';
import type { Route } from './routes/route';
import { SheetBody } from './sheet';
import { check } from './validate';

/** Every class that a request may carry, with the classes inside it. */
const bodies = [...new Set(Object.values(routes).flatMap((route: Route<unknown, unknown>) => bodyOf(route) ?? []))];
const wrong: unknown[] = [undefined, null, '', 'zzz', NaN, -1e9, 1e12, 0.123, true, {}, [], ['zzz'], [NaN]];

function fieldsOf(type: (typeof bodies)[number]): string[] {
  const metadata = getMetadataStorage().getTargetValidationMetadatas(type, '', false, false);
  return [...new Set(metadata.map((m) => m.propertyName))];
}

describe('what is refused', () => {
  it('is told in words: no name of a field, no stored word, nothing of the program', () => {
    let told = 0;
    const strange: string[] = [];
    for (const type of [...bodies, SheetBody]) {
      for (const field of fieldsOf(type)) {
        for (const value of wrong) {
          for (const { message } of check(type, { [field]: value }).errors ?? []) {
            told++;
            const isStrange =
              /\$|[a-z][A-Z]\w*|\b(null|undefined|NaN|UUID|boolean|Infinity)\b/.test(
                message.replace(/dBm?|MHz|Mbit/g, ''),
              ) || /wpa2-psk|wpa3-sae|2\.4GHz|5GHz|60GHz|(?<!time )slots|passive24/.test(message);
            if (isStrange) strange.push(`${type.name}.${field} = ${JSON.stringify(value)}: ${message}`);
          }
        }
      }
    }
    expect(strange).toEqual([]);
    expect(told).toBeGreaterThan(1000);
  });
});
