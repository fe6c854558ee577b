import type { FieldError } from './problem';

/** How deep a piece of JSON may go and how many values it may hold before anybody looks at what they mean. */
export interface PlainLimits {
  depth: number;
  values: number;
}

/** No request of an interface comes near these. */
export const requestLimits: PlainLimits = { depth: 12, values: 5000 };

/**
 * Looks a piece of JSON over before it is checked against a class: what is too deep, too many, no text of Unicode or called like something that every object
 * has would make the check itself slow or stumble. Takes no stack and stops at the first thing it finds.
 */
export function refusePlain(plain: unknown, { depth, values }: PlainLimits = requestLimits): FieldError | undefined {
  const left: { value: unknown; field: string; depth: number }[] = [{ value: plain, field: '', depth: 0 }];
  let seen = 0;
  for (let here = left.pop(); here; here = left.pop()) {
    const { value, field } = here;
    if (++seen > values) return { field: '', message: `it holds more than ${values} values` };
    if (typeof value === 'string') {
      const wrong = refuseText(value);
      if (wrong) return { field, message: `${field || 'the text'} ${wrong}` };
    }
    if (typeof value !== 'object' || value === null) continue;
    if (here.depth >= depth) return { field, message: `it goes more than ${depth} levels deep` };
    // An array may be longer than all that is let through, so it is counted before it is walked.
    if (Array.isArray(value) && seen + value.length > values) {
      return { field, message: `${field || 'the list'} holds ${value.length} values, more than ${values} in all` };
    }
    for (const [key, part] of Object.entries(value)) {
      if (key in Object.prototype) return { field, message: `"${key}" is not known here; leave it out` };
      if (refuseText(key)) return { field, message: 'the name of a field is no text' };
      left.push({ value: part, field: field ? `${field}.${key}` : key, depth: here.depth + 1 });
    }
  }
  return undefined;
}

/** Why a text can be stored nowhere; undefined where it can. */
export function refuseText(text: string): string | undefined {
  if (text.includes('\0')) return 'holds a zero byte, which no text does';
  // Half of a pair of UTF-16, which cannot be written down in any file.
  if (/[\ud800-\udfff]/u.test(text)) return 'holds half a character; type it again';
  return undefined;
}
