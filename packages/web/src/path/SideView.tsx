import type { LinkEnd } from '@kivram/contract';
import { earthBulgeM, fresnelRadiusM, type LinkPrediction } from '@kivram/core';

const widthPx = 1200;
const heightPx = 190;
const marginPx = 70;

interface Props {
  prediction: LinkPrediction;
  near: LinkEnd;
  far: LinkEnd;
}

/** Side view of a link over the smooth Earth: masts, sight line, first Fresnel zone with its 60 % line. Heights are stretched. */
export function SideView({ prediction, near, far }: Props) {
  const { distanceM } = prediction;
  const samples = Array.from({ length: 61 }, (_, i) => {
    const d = (i / 60) * distanceM;
    const bulgeM = earthBulgeM(d, distanceM - d);
    const along = d / distanceM;
    const sightM = prediction.near.antennaHeightAslM * (1 - along) + prediction.far.antennaHeightAslM * along;
    // The frequency follows from the zone's middle radius, which the prediction holds.
    const zoneM =
      i % 60
        ? (prediction.fresnelMidRadiusM * fresnelRadiusM(d, distanceM - d, 1000)) /
          fresnelRadiusM(distanceM / 2, distanceM / 2, 1000)
        : 0;
    const groundM = near.place.groundHeightM * (1 - along) + far.place.groundHeightM * along;
    return { along, bulgeM, sightM, zoneM, groundM };
  });
  const top = Math.max(...samples.map((s) => s.sightM + s.zoneM));
  const bottom = Math.min(...samples.map((s) => Math.min(s.sightM - s.zoneM, s.bulgeM, s.groundM))) - 1;
  const x = (along: number): number => marginPx + along * (widthPx - 2 * marginPx);
  const y = (m: number): number => 12 + ((top - m) / Math.max(1, top - bottom)) * (heightPx - 34);
  const line = (of: (s: (typeof samples)[number]) => number): string =>
    samples.map((s, i) => `${i ? 'L' : 'M'}${x(s.along)} ${y(of(s))}`).join('');
  const zone = (share: number): string =>
    `${line((s) => s.sightM + share * s.zoneM)}${samples
      .map((s) => `L${x(s.along)} ${y(s.sightM - share * s.zoneM)}`)
      .reverse()
      .join('')}Z`;
  const post = (along: number, end: LinkEnd, antennaM: number, colour: string) => (
    <>
      <path d={`M${x(along)} ${y(end.place.groundHeightM)}V${y(antennaM)}`} stroke={colour} strokeWidth="5" />
      <circle cx={x(along)} cy={y(antennaM)} r="6" fill={colour} />
    </>
  );
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${widthPx} ${heightPx}`}
        width="100%"
        role="img"
        aria-label="Side view of the link over a smooth Earth"
      >
        <path d={zone(1)} fill="var(--wash)" stroke="var(--rule)" />
        <path d={zone(0.6)} fill="none" stroke="var(--soft)" strokeDasharray="5 5" />
        <path d={line((s) => s.sightM)} stroke="var(--ink)" strokeWidth="1.6" />
        <path d={line((s) => s.bulgeM)} stroke="var(--soft)" strokeWidth="1.6" fill="none" />
        {post(0, near, prediction.near.antennaHeightAslM, 'var(--near)')}
        {post(1, far, prediction.far.antennaHeightAslM, 'var(--far)')}
        <text x={widthPx / 2} y={heightPx - 4} textAnchor="middle" fontSize="13" fill="var(--soft)">
          sea level over the curved Earth; heights stretched; dashed: 60 % of the first Fresnel zone
        </text>
      </svg>
    </figure>
  );
}
