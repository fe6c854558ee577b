import { fileText } from '../parts/fileText';
import { parseNsma } from '@kivram/core/antenna/nsma';
import { cutWidthDeg, parsePatternCsv, PatternError, type AntennaPattern } from '@kivram/core/antenna/pattern';
import { Button } from '@mantine/core';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Problem } from '../parts/Problem';
import type { SpecForm } from './specForm';

interface Props {
  form: SpecForm;
  onChange(changes: Partial<SpecForm>): void;
}

/** A pattern file beside the beam widths: the prediction then goes by it wherever an antenna does not point at the other. */
export function PatternPanel({ form, onChange }: Props) {
  const [failed, setFailed] = useState<string | null>(null);
  const [said, setSaid] = useState<string[]>([]);
  const take = async (file: File): Promise<void> => {
    setFailed(null);
    setSaid([]);
    try {
      const { changes, words } = read(await fileText(file), form);
      onChange(changes);
      setSaid(words);
    } catch (error) {
      if (!(error instanceof PatternError)) throw error;
      setFailed(`${file.name}: ${error.message}`);
    }
  };
  const { getInputProps, getRootProps, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => {
      if (file) void take(file);
    },
  });
  return (
    <div {...getRootProps()} className="spec-pattern">
      <input {...getInputProps({ 'aria-label': 'Pattern file' })} />
      {form.pattern && (
        <div className="row">
          <PatternFigure words="left to right" points={form.pattern.azimuth} />
          <PatternFigure words="up and down" points={form.pattern.elevation} />
        </div>
      )}
      <div className="row">
        <Button size="sm" variant="default" onClick={open}>
          {form.pattern ? 'Another pattern file' : 'Read a pattern file'}
        </Button>
        {form.pattern && (
          <Button size="sm" variant="default" onClick={() => onChange({ pattern: null })}>
            Without a pattern
          </Button>
        )}
        <span className="note">
          NSMA WG16.99.050 text, or CSV with cut, angle and level. Without one, ITU-R F.1336 draws it from the beam
          widths.
        </span>
      </div>
      {said.map((words) => (
        <p key={words} className="note">
          {words}
        </p>
      ))}
      <Problem error={failed ? new Error(failed) : null} />
    </div>
  );
}

/** A file's pattern, and of the fields that are empty those that it knows. @throws PatternError */
function read(text: string, form: SpecForm): { changes: Partial<SpecForm>; words: string[] } {
  if (!/^\s*REVNUM:/im.test(text.slice(0, 2000))) return { changes: { pattern: parsePatternCsv(text) }, words: [] };
  const { maker, model, gainDbi, azimuthWidthDeg, elevationWidthDeg, pattern } = parseNsma(text);
  const width = (said: number | null, cut: AntennaPattern['azimuth']): number =>
    said ?? Math.round(10 * cutWidthDeg(cut)) / 10;
  const known: Partial<SpecForm> = {
    ...(!form.maker && maker && { maker }),
    ...(!form.name && model && { name: model }),
    ...(form.antennaGainDbi === null && gainDbi !== null && { antennaGainDbi: gainDbi }),
    ...(form.azimuthDeg === null && { azimuthDeg: width(azimuthWidthDeg, pattern.azimuth) }),
    ...(form.elevationDeg === null && { elevationDeg: width(elevationWidthDeg, pattern.elevation) }),
  };
  const filled = Object.keys(known).length;
  return {
    changes: { pattern, ...known },
    words: [
      `Pattern of ${[maker, model].filter(Boolean).join(' ') || 'an antenna without a name'}${filled ? '; empty fields were filled in from it' : ''}.`,
    ],
  };
}

const size = 180;
const middle = size / 2;
/** What is drawn at the middle, dB under the peak. */
const floorDb = 40;

/** One cut around its middle: the peak to the right, 10 dB from ring to ring. */
function PatternFigure({ words, points }: { words: string; points: AntennaPattern['azimuth'] }) {
  const radius = (lossDb: number): number => (middle - 4) * Math.max(0, 1 - lossDb / floorDb);
  const line = points
    .map(({ angleDeg, lossDb }) => {
      const angle = (angleDeg * Math.PI) / 180;
      return `${(middle + radius(lossDb) * Math.cos(angle)).toFixed(1)},${(middle - radius(lossDb) * Math.sin(angle)).toFixed(1)}`;
    })
    .join(' ');
  const width = cutWidthDeg(points);
  return (
    <figure className="spec-figure">
      <svg viewBox={`0 0 ${size} ${size}`} width={size} height={size} role="img" aria-label={`Pattern ${words}`}>
        {[0, 10, 20, 30].map((db) => (
          <circle key={db} cx={middle} cy={middle} r={radius(db)} fill="none" stroke="var(--rule)" />
        ))}
        <polyline points={line} fill="none" stroke="var(--near)" strokeWidth="2" />
      </svg>
      <figcaption className="note">
        {words}
        {!Number.isNaN(width) && `, ${width.toFixed(1)}° between the 3 dB points`}; a ring is 10 dB
      </figcaption>
    </figure>
  );
}
