import { NativeSelect, type NativeSelectProps } from '@mantine/core';

interface Props extends Omit<NativeSelectProps, 'data' | 'value' | 'onChange'> {
  data: { value: string; label: string }[];
  value: string;
  /** how the value is said where it is none of the list: it is shown all the same, so that nobody takes the first one for chosen */
  other?: string;
  onChoose(value: string): void;
}

/** One of a short list with its label, shown as the browser does it: light to load, and a phone's own wheel. */
export function Choice({ data, value, other, onChoose, ...rest }: Props) {
  const isListed = data.some((option) => option.value === value);
  return (
    <NativeSelect
      {...rest}
      data={isListed ? data : [{ value, label: other ?? value }, ...data]}
      value={value}
      onChange={(event) => onChoose(event.currentTarget.value)}
    />
  );
}
