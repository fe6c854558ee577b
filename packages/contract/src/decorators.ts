import 'reflect-metadata';
import { IsIn, IsInt, IsNumber, IsString, Length, Max, Min, type ValidationOptions } from 'class-validator';

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
  return IsIn([...words], { message: `$property is "$value": it must be one of ${words.join(', ')}` });
}
