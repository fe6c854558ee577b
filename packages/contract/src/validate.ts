import 'reflect-metadata';
import { plainToInstance, type ClassConstructor } from 'class-transformer';
import { validateSync, type ValidationError } from 'class-validator';
import { nameOfField } from './fieldWords';
import type { FieldError } from './problem';

/**
 * Checks a plain value against a request class; both sides use this. Unknown fields are errors.
 * @returns the instance, or the errors, each naming its field
 */
export function check<T extends object>(
  type: ClassConstructor<T>,
  plain: unknown,
): { value: T; errors?: undefined } | { value?: undefined; errors: FieldError[] } {
  if (typeof plain !== 'object' || plain === null || Array.isArray(plain)) {
    return { errors: [{ field: '', message: 'the body must be a JSON object' }] };
  }
  const value = plainToInstance(type, plain);
  const errors = validateSync(value, { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true });
  return errors.length ? { errors: errors.flatMap((error) => flatten(error, '')) } : { value };
}

function flatten(error: ValidationError, path: string): FieldError[] {
  const field = path ? `${path}.${error.property}` : error.property;
  const own = Object.entries(error.constraints ?? {});
  const first = own[0];
  const message =
    first &&
    (first[0] === 'whitelistValidation'
      ? `${error.property} is not known here; leave it out`
      : inWords(error, first[1]));
  return [
    ...(message ? [{ field, message }] : []),
    ...(error.children ?? []).flatMap((child) => flatten(child, field)),
  ];
}

/** People read the message, programs the field beside it. */
function inWords({ property }: ValidationError, message: string): string {
  return message.startsWith(`${property} `) ? nameOfField(property) + message.slice(property.length) : message;
}
