import { rateText } from './channelText';
import { Figure } from './Figure';

/** A rate with the unit that suits it. */
export function Rate({ mbps }: { mbps: number | null | undefined }) {
  if (mbps === null || mbps === undefined) return <Figure value={null} unit="Mbit/s" />;
  const { value, unit, digits } = rateText(mbps);
  return <Figure value={value} unit={unit} digits={digits} />;
}
