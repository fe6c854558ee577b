import 'reflect-metadata';
import { Type, type ClassConstructor } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsString,
  Length,
  Max,
  Min,
  ValidateBy,
  ValidateIf,
  ValidateNested,
  type ValidationOptions,
} from 'class-validator';
import { spokenWord } from './storedWords';

/** A number between two limits; the message names the value, the limits and the unit. */
export function Between(low: number, high: number, unit: string, options: ValidationOptions = {}): PropertyDecorator {
  const message = `$property is $value: it must be a number from ${low} to ${high} ${unit}`.trim();
  return (target, key) => {
    IsNumber({ allowNaN: false, allowInfinity: false }, { ...options, message })(target, key as string);
    Min(low, { ...options, message })(target, key as string);
    Max(high, { ...options, message })(target, key as string);
  };
}

/** A whole number between two limits. */
export function WholeBetween(low: number, high: number, unit = ''): PropertyDecorator {
  return (target, key) => {
    IsInt({ message: `$property is $value: it must be a whole number` })(target, key as string);
    Between(low, high, unit)(target, key);
  };
}

/** A field that may be left out. Nothing (null) is not the same: it would say that the value is to be taken away. */
export const MayBeLeftOut = (): PropertyDecorator => ValidateIf((_body, value) => value !== undefined);

/** The count of changes of a row, or the number of a revision. */
export const Count = (least = 0): PropertyDecorator => WholeBetween(least, 2 ** 31 - 1);

/** Text of a length; the message names the limits. */
export function Text(least: number, most: number): PropertyDecorator {
  const message = `$property must be text of ${least} to ${most} characters`;
  return (target, key) => {
    IsString({ message })(target, key as string);
    Length(least, most, { message })(target, key as string);
  };
}

/** One of a list of words. */
export function OneOf(words: readonly string[]): PropertyDecorator {
  return IsIn([...words], { message: `$property is "$value": it must be one of ${words.map(spokenWord).join('; ')}` });
}

/** Some of a list of words, each once. */
export function SomeOf(words: readonly string[]): PropertyDecorator {
  const message = `$property must be one or more of ${words.map(spokenWord).join('; ')}`;
  return (target, key) => {
    IsArray({ message })(target, key as string);
    ArrayMinSize(1, { message })(target, key as string);
    ArrayUnique({ message })(target, key as string);
    IsIn([...words], { each: true, message })(target, key as string);
  };
}

/** A list of numbers between two limits. */
export function NumbersBetween(
  low: number,
  high: number,
  unit: string,
  [least, most]: [number, number],
): PropertyDecorator {
  const message = `$property must be ${least} to ${most} numbers from ${low} to ${high} ${unit}`.trim();
  return (target, key) => {
    IsArray({ message })(target, key as string);
    ArrayMinSize(least, { message })(target, key as string);
    ArrayMaxSize(most, { message })(target, key as string);
    IsNumber({ allowNaN: false, allowInfinity: false }, { each: true, message })(target, key as string);
    Min(low, { each: true, message })(target, key as string);
    Max(high, { each: true, message })(target, key as string);
  };
}

const momentPattern = /^\d{4}-\d\d-\d\d(T\d\d:\d\d(:\d\d(\.\d{1,9})?)?(Z|[+-]\d\d:\d\d))?$/;
const [earliestMs, latestMs] = [Date.UTC(2000, 0), Date.UTC(2100, 0)];

/** A moment of this century as ISO 8601 writes it, with its zone. */
export function Moment(): PropertyDecorator {
  return ValidateBy(
    {
      name: 'moment',
      validator: {
        validate: (text: unknown) => {
          if (typeof text !== 'string' || !momentPattern.test(text)) return false;
          const ms = Date.parse(text);
          return ms >= earliestMs && ms < latestMs;
        },
      },
    },
    { message: '$property is "$value": it must be a time of this century like 2026-05-04T09:30:00Z' },
  );
}

/** A month of thirteen, or a day that a month has not, is none. */
function isDay(text: string): boolean {
  const date = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text);
}

/** A day of this century, as in 2026-01-31. */
export function Day(): PropertyDecorator {
  return ValidateBy(
    {
      name: 'day',
      validator: {
        validate: (text: unknown) => typeof text === 'string' && /^20\d\d-\d\d-\d\d$/.test(text) && isDay(text),
      },
    },
    { message: '$property is "$value": it must be a day like 2026-05-04' },
  );
}

/** An object of a class of its own. Nothing, or a list, is none. */
export function Nested(type: () => ClassConstructor<object>): PropertyDecorator {
  return (target, key) => {
    const message = '$property is missing: it must be an object';
    IsObject({ message })(target, key as string);
    ValidateNested({ message })(target, key as string);
    Type(type)(target, key as string);
  };
}

/** A list of objects of a class, and how many at most. */
export function ListOf(type: () => ClassConstructor<object>, most: number): PropertyDecorator {
  return (target, key) => {
    IsArray({ message: '$property must be a list' })(target, key as string);
    ArrayMaxSize(most, { message: `$property holds more than ${most}` })(target, key as string);
    IsObject({ each: true, message: '$property must hold objects only' })(target, key as string);
    ValidateNested({ each: true })(target, key as string);
    Type(type)(target, key as string);
  };
}
