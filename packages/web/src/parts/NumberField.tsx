import { NumberError, parseNumber } from '@kivram/core/units/number';
import { TextInput, type TextInputProps } from '@mantine/core';
import { useState, type KeyboardEvent } from 'react';

/** A number as a field holds it: null when it is empty, the text itself where it cannot be read, so that nothing typed is lost. */
export type TypedNumber = number | string | null;

/** The number in a field; NaN where there is none. */
export function numberIn(typed: TypedNumber | undefined): number {
  return typeof typed === 'number' ? typed : NaN;
}

interface Props extends Omit<TextInputProps, 'value' | 'onChange' | 'defaultValue'> {
  /** in the unit that is stored */
  value?: TypedNumber;
  onChange?(value: TypedNumber): void;
  /** what stands behind the number */
  unit?: string;
  /** stored units in one unit that is shown: 0.3048 where metres are shown as feet */
  perUnit?: number;
  /** most decimals of a number that was not typed here */
  digits?: number;
  /** by the arrow keys, in shown units */
  step?: number;
}

/**
 * A number to be typed. It is read as people write numbers, an empty field is empty and no last number, and it means the same when the units are
 * switched: only what is shown is counted anew.
 */
export function NumberField({ value = null, onChange, unit, perUnit = 1, digits = 5, step = 1, ...input }: Props) {
  const [typed, setTyped] = useState<{ text: string; value: TypedNumber; perUnit: number } | null>(null);
  const fresh = typed && typed.value === value && typed.perUnit === perUnit;
  const text = fresh ? typed.text : shown(value, perUnit, digits);
  const take = (next: string): void => {
    const read = readNumber(next, perUnit);
    setTyped({ text: next, value: read, perUnit });
    onChange?.(read);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    const by = { ArrowUp: step, ArrowDown: -step }[event.key];
    if (by !== undefined && typeof value === 'number') {
      event.preventDefault();
      take(String(Number((value / perUnit + by).toFixed(digits))));
    }
    input.onKeyDown?.(event);
  };
  return (
    <TextInput
      {...input}
      inputMode="decimal"
      autoComplete="off"
      value={text}
      onChange={(event) => take(event.currentTarget.value)}
      onKeyDown={onKeyDown}
      error={(typeof value === 'string' ? whyNot(value) : undefined) ?? input.error}
      rightSection={unit && <span className="field-unit">{unit.trim()}</span>}
      rightSectionWidth={unit ? Math.max(34, 14 + 8.5 * unit.trim().length) : undefined}
      rightSectionPointerEvents="none"
      classNames={{ input: 'field-number' }}
    />
  );
}

function readNumber(text: string, perUnit: number): TypedNumber {
  try {
    const read = parseNumber(text);
    return read === null ? null : read * perUnit;
  } catch (error) {
    if (error instanceof NumberError) return text;
    throw error;
  }
}

function whyNot(text: string): string | undefined {
  try {
    parseNumber(text);
    return undefined;
  } catch (error) {
    return (error as Error).message;
  }
}

function shown(value: TypedNumber, perUnit: number, digits: number): string {
  if (value === null) return '';
  return typeof value === 'string' ? value : String(Number((value / perUnit).toFixed(digits)));
}
