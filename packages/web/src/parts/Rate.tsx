import { rateText } from './channelText';
import { Figure } from './Figure';

/** A rate with the unit that suits it, and those that stand in one row with it. */
export function Rate({
  mbps,
  beside = [],
}: {
  mbps: number | null | undefined;
  beside?: readonly (number | null | undefined)[];
}) {
  if (mbps === null || mbps === undefined) return <Figure value={null} unit="Mbit/s" />;
  const { value, unit, digits } = rateText(mbps, Math.max(...beside.map((other) => other ?? 0), 0));
  return <Figure value={value} unit={unit} digits={digits} />;
}
