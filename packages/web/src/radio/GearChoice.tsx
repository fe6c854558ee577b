import type { LinkView } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { Select } from '@mantine/core';
import { modelFor } from './planDraft';

/** Gear for one end out of a catalogue that may be long. */
export function GearChoice({
  side,
  end,
  models,
  modelId,
  choose,
}: {
  side: End;
  end: LinkView[End];
  models: readonly Model[];
  modelId: string;
  choose(modelId: string): void;
}) {
  return (
    <Select
      aria-label={`Gear at the ${side} end`}
      data={gearChoices(end, models)}
      value={modelId}
      onChange={(value) => value && choose(value)}
      allowDeselect={false}
      searchable
      w={200}
      size="sm"
    />
  );
}

/** The catalogue, and what hangs there though it is offered no longer. */
function gearChoices(end: LinkView[End], models: readonly Model[]): { value: string; label: string }[] {
  const label = ({ maker, name }: Model): string => `${maker} ${name}`;
  const isDuplex = end.model.band === 'licensed';
  const offered = models.filter((m) => (m.band === 'licensed') === isDuplex);
  const own = modelFor(end, end.radio.modelId, models) ?? end.model;
  const others = offered.filter((m) => m.id !== own.id);
  return [own, ...others].map((m) => ({ value: m.id, label: label(m) }));
}
