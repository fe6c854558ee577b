import { heightIn, lengthIn } from '@kivram/core/units';
import { useSettings } from '../settings';

interface Props {
  value: number | null | undefined;
  unit: string;
  digits?: number;
  /** a change carries its sign, also when it is a gain */
  signed?: boolean;
}

/** A typeset figure: tabular, with its unit. */
export function Figure({ value, unit, digits = 1, signed = false }: Props) {
  const known = value !== null && value !== undefined && Number.isFinite(value);
  return (
    <span className="figure">
      {known ? typeset(value, digits, signed) : '–'}
      <span className={unit === '°' ? 'unit unit-close' : 'unit'}>{unit}</span>
    </span>
  );
}

/** A distance in the chosen units. */
export function Length({ metres }: { metres: number | null }) {
  const { units } = useSettings();
  if (metres === null) return <Figure value={null} unit="m" />;
  const { value, unit, digits } = lengthIn(units, metres);
  return <Figure value={value} unit={unit} digits={digits} />;
}

/** A height in the chosen units. */
export function Height({ metres }: { metres: number }) {
  const { units } = useSettings();
  const { value, unit, digits } = heightIn(units, metres);
  return <Figure value={value} unit={unit} digits={digits} />;
}

/** A number with a true minus sign; zero never carries one. */
export function typeset(value: number, digits: number, signed = false): string {
  const text = Math.abs(value).toFixed(digits);
  if (Number(text) === 0) return text;
  return value < 0 ? `−${text}` : signed ? `+${text}` : text;
}
