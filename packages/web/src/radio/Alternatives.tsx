import type { Alternative } from '@kivram/contract/entities/alternative';
import { routes } from '@kivram/contract/routes';
import type { LinkView, LinksOnAirView } from '@kivram/contract/views/link';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { Button, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Problem } from '../parts/Problem';
import { Tick } from '../parts/Tick';
import { sendThen, useChange, useMay } from '../queries';
import { Comparison, type Column } from './Comparison';
import { choicesOf, draftWith } from './planChoices';
import { draftBody, draftChanged, draftErrors, draftOf, isTrying, type PlanDraft } from './planDraft';
import { planOnAir } from './planOnAir';

/** Columns that can be told apart. */
const mostColumns = 4;

/** Plans side by side: the one in place, the one that is being tried, and those that were kept; any of them can become the plan. */
export function Alternatives({
  view,
  draft,
  models,
  onAir,
  tryAgain,
  adopted,
}: {
  view: LinkView;
  draft: PlanDraft;
  models: readonly Model[];
  /** read where the air is shared */
  onAir: LinksOnAirView | undefined;
  tryAgain(draft: PlanDraft): void;
  adopted(): void;
}) {
  const may = useMay(view.link.jobId);
  const trying = isTrying(view, draft);
  const all = useMemo((): Column[] => {
    const column = (key: string, name: string, of: PlanDraft, kept: Alternative | null): Column => {
      const { plan } = planOnAir(view, of, models, onAir);
      return { key, name, draft: of, plan, prediction: plan && tryPredict(plan).prediction, kept };
    };
    return [
      column('place', 'The plan in place', draftOf(view), null),
      ...(trying ? [column('tried', 'What is being tried', draft, null)] : []),
      ...view.alternatives.map((kept) => column(kept.id, kept.name, draftWith(view, kept.choices), kept)),
    ];
  }, [view, draft, models, onAir, trying]);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const shown = all.filter(({ key }) => !hidden.has(key)).slice(0, mostColumns);
  const left = all.filter((column) => !shown.includes(column));
  const toggle = (key: string): void => {
    const next = new Set(hidden);
    if (shown.some((column) => column.key === key)) next.add(key);
    else {
      next.delete(key);
      // Room for it: the last of those that are shown goes.
      const last = shown.at(-1);
      if (shown.length === mostColumns && last) next.add(last.key);
    }
    setHidden(next);
  };
  return (
    <section>
      <h2>Side by side</h2>
      {may.work && trying && <KeepForm view={view} draft={draft} />}
      {all.length === 1 && (
        <p>
          Nothing is kept yet. Change something under “The plan” or take gear from the ranking, then keep it here under
          a name.
        </p>
      )}
      {all.length > 1 && (
        <fieldset className="row alternatives-choice">
          <legend>Shown, up to {mostColumns}</legend>
          {all.map(({ key, name }) => (
            <Tick key={key} label={name} checked={shown.some((column) => column.key === key)} set={() => toggle(key)} />
          ))}
          {left.length > 0 && <span className="note">{left.length} not shown</span>}
        </fieldset>
      )}
      <div className="scroll" tabIndex={0} role="region" aria-label="Plans side by side">
        <Comparison columns={shown} place={all[0] ?? null} />
      </div>
      {may.work && (
        <div className="row">
          {shown
            .filter(({ kept }) => kept)
            .map((column) => (
              <KeptActions key={column.key} view={view} column={column} tryAgain={tryAgain} adopted={adopted} />
            ))}
        </div>
      )}
    </section>
  );
}

function KeepForm({ view, draft }: { view: LinkView; draft: PlanDraft }) {
  const [name, setName] = useState('');
  const keep = useChange(routes.keepAlternative, { linkId: view.link.id });
  const known = view.alternatives.some((kept) => kept.name.toLowerCase() === name.trim().toLowerCase());
  return (
    <form
      className="row alternatives-keep"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) sendThen(keep, { name: name.trim(), choices: choicesOf(draft) }, () => setName(''));
      }}
    >
      <TextInput
        label="Keep what is being tried as"
        placeholder="40 MHz, small antennas"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
        w={300}
      />
      <Button type="submit" disabled={!name.trim()} loading={keep.isPending} mt={24}>
        {known ? 'Replace it' : 'Keep it'}
      </Button>
      <Problem error={keep.error} />
    </form>
  );
}

/** What can be done with a kept plan. */
function KeptActions({
  view,
  column: { name, draft, kept, prediction },
  tryAgain,
  adopted,
}: {
  view: LinkView;
  column: Column;
  tryAgain(draft: PlanDraft): void;
  adopted(): void;
}) {
  const adopt = useChange(routes.changePlan, { linkId: view.link.id });
  const remove = useChange(
    routes.removeAlternative,
    { alternativeId: kept?.id ?? '' },
    `?version=${kept?.version ?? 0}`,
  );
  const wrong = Object.values(draftErrors(view, draft))[0];
  return (
    <div className="alternatives-actions">
      <strong>{name}</strong>
      <div className="row">
        <Button
          size="compact-md"
          disabled={!prediction || !draftChanged(view, draft) || !!wrong}
          loading={adopt.isPending}
          onClick={() => sendThen(adopt, draftBody(view, draft), adopted)}
        >
          Make it the plan
        </Button>
        <Button size="compact-md" variant="default" onClick={() => tryAgain(draft)}>
          Go on with it
        </Button>
        <Button
          size="compact-md"
          variant="subtle"
          color="red"
          loading={remove.isPending}
          onClick={() => remove.mutate(undefined)}
        >
          Throw away
        </Button>
      </div>
      <Problem error={adopt.error ?? remove.error} />
    </div>
  );
}
