import type { AlignmentEndResult, AlignmentSummary } from '@kivram/contract/views/alignment';
import type { Diagnosis } from '@kivram/core/aiming/diagnoses';
import { levelWayWords } from '@kivram/core/aiming/levelWay';
import type { End } from '@kivram/core/budget/plan';
import { momentText } from '@kivram/core/units/moment';
import { withMinus } from '@kivram/core/units/number';
import type { State } from '@kivram/core/verdict/verdict';
import { Facing } from '../parts/Facing';
import { Figure, typeset } from '../parts/Figure';
import { StateMark } from '../parts/StateMark';

const called: Record<Diagnosis, { state: State; words: string }> = {
  clear: { state: 'holds', words: 'path clear' },
  stronger: { state: 'thin', words: 'stronger than predicted' },
  obstructed: { state: 'thin', words: 'path not clear' },
  sideLobe: { state: 'fails', words: 'on a side lobe' },
  crossedPolarisation: { state: 'fails', words: 'polarisation crossed' },
  otherEnd: { state: 'thin', words: 'short because of the other end' },
  unswept: { state: 'open', words: 'only a level is known' },
  unsearched: { state: 'open', words: 'perhaps a side lobe: nobody looked beside it' },
  unknown: { state: 'fails', words: 'nothing heard' },
};

/** What an alignment ended with: measured beside predicted, and what that means. */
export function AimResult({ alignment, near, far }: { alignment: AlignmentSummary; near: string; far: string }) {
  const { result } = alignment;
  if (!result) return null;
  const each = (of: (end: AlignmentEndResult) => React.ReactNode) => ({ near: of(result.near), far: of(result.far) });
  return (
    <section style={{ marginBottom: 28 }} aria-label="Result of the alignment">
      <h2>Last alignment, {momentText(alignment.startedAt)}</h2>
      <Facing
        near={`Near: ${near}`}
        far={`Far: ${far}`}
        rows={[
          { key: 'measured', name: <strong>Measured</strong>, ...each((e) => <Figure value={e.rslDbm} unit="dBm" />) },
          { key: 'predicted', name: 'Predicted', ...each((e) => <Figure value={e.expectedDbm} unit="dBm" />) },
          {
            key: 'short',
            name: 'Difference',
            ...each((e) => <Figure value={e.shortDb === null ? null : -e.shortDb} unit="dB" signed />),
          },
          {
            key: 'verdict',
            name: 'Means',
            ...each((e) => <StateMark state={called[e.diagnosis].state} because={called[e.diagnosis].words} />),
          },
          ...(alignment.levelsFrom.length
            ? [{ key: 'levels', name: 'Level told by', near: waysOf(alignment, 'near'), far: waysOf(alignment, 'far') }]
            : []),
          { key: 'reason', name: 'Because', ...each((e) => <span className="note">{withMinus(e.reason)}</span>) },
          {
            key: 'chains',
            name: 'Chains',
            ...each((e) =>
              e.chainsDbm.length ? (
                <span className="figure">{e.chainsDbm.map((c) => typeset(c, 1)).join('  ')} dBm</span>
              ) : (
                <span className="note">not told</span>
              ),
            ),
          },
        ]}
      />
    </section>
  );
}

/** Where the level of an end came from, one after the other where that was changed. */
function waysOf({ levelsFrom }: AlignmentSummary, end: End): string {
  return levelsFrom
    .filter((from) => from.end === end)
    .map(({ way }) => levelWayWords[way])
    .join(', then ');
}
