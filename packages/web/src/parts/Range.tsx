import type { InputHTMLAttributes } from 'react';
import './range.css';

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'value' | 'type'> {
  min: number;
  max: number;
  step: number;
  value: number;
  onMove(value: number): void;
}

/** A value to be moved by hand, as the browser itself shows it: light to load, and as large as a fingertip on a phone. */
export function Range({ onMove, className = '', ...rest }: Props) {
  return (
    <input
      {...rest}
      type="range"
      className={`range ${className}`}
      onChange={(event) => onMove(Number(event.currentTarget.value))}
    />
  );
}
