import 'reflect-metadata';
import { withMinus } from '@kivram/core/units/number';
import { plainToInstance, type ClassConstructor } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { nameOfField } from './fieldWords';
import { refusePlain, requestLimits, type PlainLimits } from './plain';
import type { FieldError } from './problem';

/** What is wrong is told this often; whoever mends that much asks again. */
export const mostErrors = 20;

/**
 * Checks a plain value against a request class; both sides use this. Unknown fields are errors. What is too deep, too large or no text is refused before.
 * @returns the instance, or the first errors, each naming its field
 */
export function check<T extends object>(
  type: ClassConstructor<T>,
  plain: unknown,
  limits: PlainLimits = requestLimits,
): { value: T; errors?: undefined } | { value?: undefined; errors: FieldError[] } {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain)) {
    return { errors: [{ field: '', message: 'the body must be a JSON object' }] };
  }
  const refused = refusePlain(plain, limits);
  if (refused) return { errors: [refused] };
  const value = plainToInstance(type, plain);
  const errors = validateSync(value, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  return errors.length ? { errors: errors.flatMap((error) => flatten(error, '')).slice(0, mostErrors) } : { value };
}

function flatten(error: ValidationError, path: string): FieldError[] {
  const field = path ? `${path}.${error.property}` : error.property;
  const own = Object.entries(error.constraints ?? {});
  const first = own[0];
  const message =
    first &&
    (first[0] === 'whitelistValidation'
      ? `${error.property} is not known here; leave it out`
      : inWords(error, first[0], first[1]));
  return [
    ...(message ? [{ field, message: message.slice(0, longestMessage) }] : []),
    // What is no object, or no list, has nothing in it that could be wrong.
    ...(message ? [] : (error.children ?? [])).flatMap((child) => flatten(child, field)),
  ];
}

/** A message shows the value that is wrong, but not a novel. */
const longestMessage = 300;

/** People read the message, programs the field beside it. */
function inWords({ property, value }: ValidationError, rule: string, message: string): string {
  const name = nameOfField(property);
  const plain = plainRules[rule];
  if (plain && libraryWords.test(message)) return `${name} ${plain}`;
  if (typeof value === 'number' && !Number.isFinite(value)) return `${name} is no number`;
  const told = message
    .replaceAll(`"$value"`, () => valueWords(value))
    .replaceAll('$value', () => valueWords(value))
    .replaceAll(/is "?(null|undefined)"?(?=:)/g, 'is missing')
    .replaceAll(new RegExp(`\\b${property}\\b`, 'g'), name);
  return withMinus(told);
}

function valueWords(value: unknown): string {
  return value === null || value === undefined || value === '' ? 'missing' : 'something else';
}

/** The library's own sentences, where a rule has none of ours. */
const libraryWords =
  /must be (a UUID|a boolean value|a string|an ip address|a MAC Address|a valid ISO 8601|an array|an object)/;

/** What the library says in its own way, in ours. */
const plainRules: Record<string, string> = {
  isUuid: 'is missing or unknown',
  isBoolean: 'must be yes or no',
  isString: 'must be text',
  isIp: 'must be four numbers from 0 to 255, like 10.20.0.7',
  isMacAddress: 'must be a hardware address like 02:1a:2b:3c:4d:5e',
  isDateString: 'must be a time like 2026-05-04T09:30:00Z',
  isArray: 'must be a list',
  isObject: 'is missing',
};
