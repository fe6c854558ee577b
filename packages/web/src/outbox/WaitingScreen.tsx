import { nameOfField, unitOfField } from '@kivram/contract/fieldWords';
import { routes } from '@kivram/contract/routes';
import type { Route } from '@kivram/contract/routes/route';
import { momentText } from '@kivram/core/units/moment';
import { withMinus } from '@kivram/core/units/number';
import { Button } from '@mantine/core';
import { newId } from '../changeId';
import { Problem } from '../parts/Problem';
import { useFollow, useTrouble } from '../queries';
import { outbox, type Waiting } from './outbox';
import { useSender, useWaiting } from './useOutbox';

/** What was changed without a network and is not with the server yet; what it refused, with both versions side by side. */
export function WaitingScreen() {
  const waiting = useWaiting();
  const trouble = useTrouble();
  const by = useSender();
  const follow = useFollow();
  const refused = waiting.filter((change) => change.problem);
  const others = waiting.filter((change) => !change.problem);
  const sendNow = (): void => {
    if (by !== undefined) void outbox.flush(by).then(follow);
  };
  return (
    <>
      <h1>Waiting on this device</h1>
      {!waiting.length && <p className="soft">Nothing waits: everything that was changed here is with the server.</p>}
      {refused.length > 0 && (
        <p className="soft">What the server did not take is kept in this browser until you decide.</p>
      )}
      {refused.map((change) => (
        <Refused key={change.id} change={change} onDecided={sendNow} />
      ))}
      {others.length > 0 && (
        <p className="soft">
          These changes are kept in this browser. They are sent by themselves, each once, as soon as the server answers.
        </p>
      )}
      {others.length > 0 && (
        <ul className="plain">
          {others.map((change) => (
            <li key={change.id} className="timeline-line">
              <span className="note figure">{momentText(change.at)}</span>
              <span>
                {nameOf(change)} {wordsOf(change)}
                {change.by !== by && by !== undefined && (
                  <span className="note">
                    {' '}
                    (by {change.by ?? 'somebody at the computer'}, who must sign in to send it)
                  </span>
                )}
              </span>
              <Button size="xs" variant="default" onClick={() => void outbox.drop(change.id)}>
                Give it up
              </Button>
            </li>
          ))}
        </ul>
      )}
      {others.length > 0 && (
        <Button mt="md" disabled={!!trouble} onClick={sendNow}>
          Send now
        </Button>
      )}
    </>
  );
}

/** What was refused: because somebody else was faster, with both versions, or for what it says. */
function Refused({ change, onDecided }: { change: Waiting; onDecided(): void }) {
  const current = change.problem?.current;
  const fields = Object.keys(change.body ?? {}).filter((field) =>
    current
      ? field !== 'version' && JSON.stringify(current[field]) !== JSON.stringify(change.body?.[field])
      : isTyped(field, change.body?.[field]),
  );
  const insist = (): void => void outbox.insist(change, newId()).then(onDecided);
  return (
    <section className="waiting-refused" aria-label={`${nameOf(change)}, not taken`}>
      <h2>
        {nameOf(change)}, <span className="figure">{momentText(change.at)}</span>
      </h2>
      <Problem
        error={change.problem && new Error(current ? clashWords(change.problem.detail) : change.problem.detail)}
      />
      {(current || fields.length > 0) && (
        <div className="scroll">
          <table className="ruled">
            <thead>
              <tr>
                <th />
                <th>Changed here</th>
                {current && <th>As it is with the server now</th>}
              </tr>
            </thead>
            <tbody>
              {fields.map((field) => (
                <tr key={field}>
                  <th scope="row">{nameOfField(field)}</th>
                  <td>{valueText(field, change.body?.[field])}</td>
                  {current && <td>{valueText(field, current[field])}</td>}
                </tr>
              ))}
            </tbody>
          </table>
          {!fields.length && <p>Both say the same: nothing is lost if you give this one up.</p>}
        </div>
      )}
      <div className="row" style={{ marginTop: 8 }}>
        <Button size="sm" variant="default" onClick={insist}>
          {current ? 'Keep mine, and save it over theirs' : 'Send it again'}
        </Button>
        <Button size="sm" variant="default" onClick={() => void outbox.drop(change.id).then(onDecided)}>
          {current ? 'Leave theirs, give mine up' : 'Give it up'}
        </Button>
      </div>
    </section>
  );
}

/** What happened; the mend that the server names is for who has the entry open, and here it is the choice below. */
function clashWords(detail: string): string {
  return `${detail.split('. ')[0] ?? ''}. Which one is to stand?`;
}

function nameOf({ route }: Waiting): string {
  const { later = 'a change' } = routes[route] as Route<unknown, unknown>;
  return later.charAt(0).toUpperCase() + later.slice(1);
}

const texted = ['name', 'purpose', 'company', 'note', 'caption'];

/** Whether a person typed it: words or a number, to be read before it is given up. */
const isTyped = (field: string, value: unknown): boolean =>
  field !== 'version' &&
  (typeof value === 'number' || (texted.includes(field) && typeof value === 'string' && !!value));

/** What a change says, as far as one line can tell it. */
function wordsOf({ body, file }: Waiting): string {
  const texts = texted.flatMap((field) => {
    const text = body?.[field];
    return typeof text === 'string' && text ? text : [];
  });
  if (file) texts.push(`${Math.max(1, Math.round(file.size / 1000))} kB`);
  return texts.length ? `(${texts.join('; ').slice(0, 120)})` : '';
}

function valueText(field: string, value: unknown): string {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (typeof value === 'object') return 'another shape';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string' && field.endsWith('At')) return momentText(value);
  return withMinus(`${String(value as string | number)}${unitOfField(field)}`);
}
