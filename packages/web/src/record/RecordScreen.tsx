import type { Event } from '@kivram/contract/entities/event';
import type { AlignmentSummary } from '@kivram/contract/views/alignment';
import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { momentText } from '@kivram/core/units/moment';
import { withMinus } from '@kivram/core/units/number';
import { evidenceText } from '@kivram/core/verdict/steps';
import { Button } from '@mantine/core';
import { AimResult } from '../aim/AimResult';
import { settingText, settingWords } from '../bench/sheetFields';
import { useLinkContext } from '../link/LinkLayout';
import { Figure } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { StateMark } from '../parts/StateMark';
import { useAlignments, useTimeline } from '../queries';
import { EndsNotes } from '../visits/EndsNotes';

/** A link's record: where it stands, who did what when, what was left behind. */
export function RecordScreen() {
  const { view } = useLinkContext();
  const timeline = useTimeline(view.link.id);
  const alignments = useAlignments(view.link.id);
  const crewName = (id: string | null): string => timeline.data?.crew.find((c) => c.id === id)?.name ?? 'somebody';
  return (
    <>
      <div className="columns">
        <section>
          <h2>Where this link stands</h2>
          <table className="ruled">
            <tbody>
              {view.state.steps.map((s) => (
                <tr key={s.step}>
                  <td style={{ width: 90 }}>{s.step}</td>
                  <td>
                    <StateMark state={s.state} because={s.because} />
                    {s.evidence && (
                      <div className="note">
                        {evidenceText(s)}, {crewName(s.evidence.crewMemberId)}
                      </div>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="row" style={{ marginTop: 14 }}>
            <Button
              component="a"
              href={fillPath(routes.testsCsv.path, { linkId: view.link.id })}
              download
              variant="default"
            >
              Tests as CSV
            </Button>
            <Button component="a" href={`/api/jobs/${view.link.jobId}/export`} download variant="default">
              Job as JSON
            </Button>
          </div>
        </section>
        <section>
          <h2>Timeline</h2>
          <Problem error={timeline.error} />
          <ol className="plain">
            {timeline.data?.events.map((event) => (
              <li key={event.id} style={{ borderBottom: '1px solid var(--rule)', padding: '5px 0' }}>
                <div className="note">
                  <span className="figure">{momentText(event.at)}</span>, {crewName(event.crewMemberId)}
                </div>
                {withMinus(event.summary)}
                <Differences event={event} />
              </li>
            ))}
          </ol>
        </section>
      </div>
      <EndsNotes view={view} />
      <Alignments list={alignments.data ?? []} near={view.near.place.name} far={view.far.place.name} />
    </>
  );
}

interface Difference {
  field: keyof Sheet;
  before: unknown;
  after: unknown;
}

/** What a change of settings changed, at which end, from what to what. */
function Differences({ event }: { event: Event }) {
  const changes = event.detail.changes as Partial<Record<'near' | 'far', Difference[]>> | undefined;
  if (event.kind !== 'settings' || !changes) return null;
  const list = (['near', 'far'] as const).flatMap((end) => (changes[end] ?? []).map((d) => ({ end, ...d })));
  const shown = list.filter((d) => d.before !== null);
  if (!shown.length) return null;
  return (
    <ul className="plain note">
      {shown.map((d) => (
        <li key={`${d.end} ${d.field}`}>
          <span className={d.end}>{d.end}</span> {settingWords[d.field]}:{' '}
          <span className="figure">{settingText(d.field, d.before)}</span> to{' '}
          <span className="figure">{settingText(d.field, d.after)}</span>
        </li>
      ))}
    </ul>
  );
}

function minutes({ startedAt, finishedAt }: AlignmentSummary): number {
  return finishedAt ? Math.round((Date.parse(finishedAt) - Date.parse(startedAt)) / 60_000) : 0;
}

function Alignments({ list, near, far }: { list: AlignmentSummary[]; near: string; far: string }) {
  const finished = list.filter((a) => a.state === 'finished');
  const [latest, ...earlier] = finished;
  return (
    <section style={{ marginTop: 28 }}>
      {latest && <AimResult alignment={latest} near={near} far={far} />}
      {earlier.length > 0 && (
        <>
          <h2>Earlier alignments</h2>
          <table className="ruled">
            <tbody>
              {earlier.map((a) => (
                <tr key={a.id}>
                  <td>{momentText(a.startedAt)}</td>
                  <td className="near">
                    <Figure value={a.result?.near.rslDbm ?? null} unit="dBm" />
                  </td>
                  <td className="far">
                    <Figure value={a.result?.far.rslDbm ?? null} unit="dBm" />
                  </td>
                  <td className="figure">{minutes(a)} min</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}
