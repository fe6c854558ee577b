import type { LinkView } from '@kivram/contract/views/link';
import { doubtFrequency, doubtLoss, doubtPower, doubtWidth, type ChoiceDoubt } from '@kivram/core/budget/doubts';
import { ends } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { doubtRate } from '@kivram/core/need/activity';
import { withMinus } from '@kivram/core/units/number';
import { Button } from '@mantine/core';
import { numberIn } from '../parts/NumberField';
import { modelFor, type PlanDraft } from './planDraft';

interface Props {
  view: LinkView;
  draft: PlanDraft;
  models: readonly Model[];
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
}

interface Found {
  key: keyof PlanDraft;
  unit: string;
  where: string;
  doubt: ChoiceDoubt;
}

/** Choices that were hardly meant as they were typed, each with what likely was, to be taken over. */
export function Doubts({ view, draft, models, set }: Props) {
  const found = doubtsOf(view, draft, models);
  if (!found.length) return null;
  return (
    <ul className="doubts">
      {found.map(({ key, unit, where, doubt: { words, likely } }) => (
        <li key={key}>
          {where}
          {withMinus(words)}{' '}
          {likely !== null && (
            <Button size="compact-sm" variant="default" onClick={() => set(key)(likely as never)}>
              Take {withMinus(String(likely))} {unit}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}

export function doubtsOf(view: LinkView, draft: PlanDraft, models: readonly Model[]): Found[] {
  const found: Found[] = [];
  const look = (key: keyof PlanDraft, unit: string, where: string, doubt: ChoiceDoubt | undefined): void => {
    if (doubt) found.push({ key, unit, where, doubt });
  };
  const both = ends.map((side) => modelFor(view[side], draft[`${side}ModelId`], models) ?? view[side].model);
  for (const [i, side] of ends.entries()) {
    const model = both[i] as Model;
    const where = `${side === 'near' ? 'Near' : 'Far'} end: `;
    look(`${side}ConductedDbm`, 'dBm', where, doubtPower(numberIn(draft[`${side}ConductedDbm`]), model));
    look(`${side}CableLossDb`, 'dB', where, doubtLoss(numberIn(draft[`${side}CableLossDb`]), 'A loss'));
  }
  for (const key of ['centreMHz', 'returnMHz'] as const) {
    if (draft[key] === null) continue;
    const wrong = both.map((model) => doubtFrequency(numberIn(draft[key]), model)).find((doubt) => doubt);
    look(key, 'MHz', '', wrong);
  }
  for (const key of ['needNearToFarMbps', 'needFarToNearMbps'] as const) {
    const doubt = doubtRate('other', numberIn(draft[key]));
    look(key, 'Mbit/s', '', doubt && { words: doubt.words, likely: doubt.likelyMbps });
  }
  look('widthMHz', 'MHz', '', doubtWidth(draft.widthMHz, both, draft.errorCorrection));
  return found;
}
