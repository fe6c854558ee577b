import type { SelectHTMLAttributes } from 'react';

interface Props extends Omit<SelectHTMLAttributes<HTMLSelectElement>, 'onChange' | 'value'> {
  options: { value: string; label: string }[];
  value: string;
  onChoose(value: string): void;
}

/** A short list as the browser itself shows it: light to load, and a phone's own wheel. */
export function PlainSelect({ options, value, onChoose, ...rest }: Props) {
  return (
    <select {...rest} className="plain-select" value={value} onChange={(event) => onChoose(event.currentTarget.value)}>
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.label}
        </option>
      ))}
    </select>
  );
}
