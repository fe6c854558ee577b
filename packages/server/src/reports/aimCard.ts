import type { LinkView } from '@kivram/contract/views/link';
import { keepOutOf } from '@kivram/core/budget/keepOut';
import { otherEnd, planOf, type End } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { formatDms } from '@kivram/core/geodesy/coordinates';
import { magneticBearingDeg, magneticDeclination } from '@kivram/core/geodesy/declination';
import { landmarkWords } from '@kivram/core/path/landmark';
import { heightIn, lengthIn, type Quantity, type UnitSystem } from '@kivram/core/units';
import { dateText } from '@kivram/core/units/moment';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';

/** Colours of the ends on paper, as on the screens by day. */
const endColours: Record<End, string> = { near: '#00566b', far: '#98380f' };
const softColour = '#4d5962';

const say = ({ value, unit, digits }: Quantity): string => `${value.toFixed(digits)} ${unit}`;
const signed = (value: number, digits: number): string => (value < 0 ? '−' : '+') + Math.abs(value).toFixed(digits);

/** A card for one end's pocket, A6: where to point before the radios can say it. */
export function cardDefinition(
  view: LinkView,
  prediction: LinkPrediction,
  end: End,
  units: UnitSystem,
  date: string,
): TDocumentDefinitions {
  const here = view[end];
  const there = view[otherEnd(end)];
  const { azimuthDeg, tiltDeg, rslDbm } = prediction[end];
  const { declinationDeg, valid } = magneticDeclination(here.place, here.place.groundHeightM, date);
  const isShaft = view.link.pathKind === 'shaft';
  const sight = view.landmarks[end];
  const line = (name: string, value: string): Content => ({
    columns: [
      { text: name, color: softColour, width: 82 },
      { text: value, width: '*' },
    ],
    margin: [0, 1.5],
  });
  const landmark = sight
    ? `${sight.name}, ${say(lengthIn(units, sight.distanceM))}: ${landmarkWords(sight)}${sight.terrainKnown ? '' : ' (no terrain known: look whether you see it)'}`
    : 'none seen within a degree of the bearing';
  return {
    pageSize: 'A6',
    pageMargins: [20, 18, 20, 16],
    info: { title: `Aim card, ${view.link.name}, ${end} end` },
    defaultStyle: { font: 'Text', fontSize: 9, lineHeight: 1.05, color: '#111a20' },
    content: [
      { text: `${view.link.name}, ${end} end`, fontSize: 9, color: softColour },
      {
        text: [{ text: here.place.name, bold: true }, ' looks at ', { text: there.place.name, bold: true }],
        fontSize: 13,
        color: endColours[end],
      },
      { canvas: [{ type: 'line', x1: 0, y1: 3, x2: 257, y2: 3, lineWidth: 2, lineColor: endColours[end] }] },
      isShaft ? upright(tiltDeg) : byCompass(azimuthDeg, declinationDeg, tiltDeg, endColours[end]),
      ...(isShaft ? [] : [line('landmark', landmark)]),
      line('distance', say(lengthIn(units, prediction.distanceM))),
      line(
        'mount',
        `${say(heightIn(units, here.radio.mountHeightM))} above ground, ${here.radio.polarisation === 'dual' ? 'both polarisations' : `${here.radio.polarisation} polarisation`}`,
      ),
      line('radio', `${here.model.name}, ${channelText(view.air)}`),
      line('beam', `${here.model.beamWidth.azimuthDeg}° wide, ${here.model.beamWidth.elevationDeg}° high`),
      line('level expected', `${signed(rslDbm, 1)} dBm; within 3 dB is right`),
      line(
        'position',
        `${formatDms(here.place.latitudeDeg, 'latitude')} ${formatDms(here.place.longitudeDeg, 'longitude')}`,
      ),
      {
        text: `Keep ${say(heightIn(units, keepOutOf(planOf(view), end).distanceM))} clear in front of the running antenna. ${isShaft ? shaftSafety : ladderSafety} Local codes and licensed practice come first.`,
        fontSize: 7.5,
        margin: [0, 7, 0, 0],
      },
      ...(isShaft
        ? []
        : [
            {
              text: `World Magnetic Model WMM2025 of ${dateText(date)}${valid ? '' : ' (out of date)'}. Steel nearby turns the needle.`,
              fontSize: 7,
              color: softColour,
              margin: [0, 4, 0, 0] as [number, number, number, number],
            },
          ]),
    ],
  };
}

const ladderSafety =
  'Ladder 4 up to 1 out, three points of contact, not alone, not in wind, ice or thunder, far from power lines.';
const shaftSafety = 'Only with the lift or hoist firm, the car locked off; harness over the pit; never alone.';

const big = (text: string, fontSize: number): Content => ({
  text,
  font: 'Figures',
  bold: true,
  fontSize,
  margin: [8, 0, 0, 0],
  lineHeight: 1,
});
const small = (text: string, above: number): Content => ({ text, color: softColour, margin: [8, above, 0, 0] });

/** What a compass in the hand shows, and the dial as it then stands: its north is the needle's. */
function byCompass(azimuthDeg: number, declinationDeg: number, tiltDeg: number, colour: string): Content {
  const compassDeg = magneticBearingDeg(azimuthDeg, declinationDeg);
  return {
    columns: [
      { svg: dial(compassDeg, colour), width: 92, margin: [0, 8, 8, 0] },
      [
        small('compass', 10),
        big(`${compassDeg.toFixed(1)}°`, 30),
        {
          text: `true ${azimuthDeg.toFixed(2)}°, needle ${Math.abs(declinationDeg).toFixed(1)}° ${declinationDeg < 0 ? 'west' : 'east'}`,
          margin: [8, 0, 0, 0],
        },
        small('tilt', 6),
        big(`${signed(tiltDeg, 2)}°`, 20),
      ],
    ],
  };
}

function upright(tiltDeg: number): Content {
  return [small('points', 10), big(tiltDeg > 0 ? 'straight up' : 'straight down', 24)];
}

/** A dial with the needle's north up and the bearing as an arrow. */
function dial(compassDeg: number, colour: string): string {
  const ticks = Array.from(
    { length: 36 },
    (_, i) =>
      `<path d="M50 ${i % 9 ? 8 : 4}V12" stroke="#111a20" stroke-width="${i % 9 ? 0.7 : 1.6}" transform="rotate(${i * 10} 50 50)"/>`,
  ).join('');
  return `<svg viewBox="0 0 100 100" xmlns="http://www.w3.org/2000/svg"><circle cx="50" cy="50" r="47" fill="none" stroke="#111a20" stroke-width="1"/>${ticks}<text x="50" y="24" font-size="10" text-anchor="middle" font-family="Text">N</text><path d="M50 82V18M42 30L50 16L58 30" fill="none" stroke="${colour}" stroke-width="4" transform="rotate(${compassDeg.toFixed(2)} 50 50)"/></svg>`;
}

/** Narrowband channels are named in kilohertz. */
function channelText({ centreMHz, returnMHz, widthMHz }: LinkView['air']): string {
  const width = widthMHz < 1 ? `${Number((1000 * widthMHz).toFixed(3))} kHz` : `${widthMHz} MHz`;
  return `${returnMHz === null ? centreMHz : `${centreMHz} and ${returnMHz}`} MHz, ${width} wide`;
}
