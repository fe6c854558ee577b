import { parseRate } from '@kivram/core/throughput/unit';
import { useState } from 'react';
import { NumberField, type TypedNumber } from './NumberField';

interface Props {
  label: string;
  value: TypedNumber;
  onChange(value: TypedNumber): void;
  error?: string;
  /** what is shown, and what one of it is in Mbit/s */
  unit?: string;
  perUnit?: number;
  w?: number;
}

/** A rate in Mbit/s. Typed with another unit ("1 MB/s") it is put right, and that is said: bits and bytes are never guessed. */
export function RateField({ value, onChange, unit = 'Mbit/s', ...rest }: Props) {
  const [read, setRead] = useState<string | null>(null);
  const take = (typed: TypedNumber): void => {
    const rate = typeof typed === 'string' ? parseRate(typed) : null;
    setRead(
      rate && rate.unit !== 'Mbit/s' ? `${rate.value} ${rate.unit} is ${Number(rate.mbps.toFixed(4))} Mbit/s` : null,
    );
    onChange(rate ? rate.mbps : typed);
  };
  return (
    <NumberField
      {...rest}
      value={value}
      onChange={take}
      unit={unit}
      description={read ?? undefined}
      inputWrapperOrder={['label', 'input', 'error', 'description']}
    />
  );
}
