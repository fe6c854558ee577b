import type { KeptNeed } from '@kivram/contract/entities/need';
import { routes } from '@kivram/contract/routes';
import { activities, activityKinds, doubtRate, type ActivityKind } from '@kivram/core/need/activity';
import { placeNeed, usualItem } from '@kivram/core/need/sum';
import { ActionIcon, Button, Select, TextInput } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useState } from 'react';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { Rate } from '../parts/Rate';
import { numberIn, NumberField } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { Told } from '../parts/Told';
import { RateField } from '../parts/RateField';
import { sendDraft, useChange, useMay } from '../queries';
import { needBody, needDraftOf, needErrors, needIn, unitChoices, type ItemDraft, type NeedDraft } from './needDraft';

interface Props {
  draftKey: string;
  jobId: string;
  place: { id: string; name: string };
  places: readonly { id: string; name: string }[];
  kept: KeptNeed | undefined;
}

/** What is done at one place, item by item. */
export function PlaceNeedForm({ draftKey, jobId, place, places, kept }: Props) {
  const draft = useDraft<NeedDraft>(draftKey, needDraftOf(kept), String(kept?.version ?? 0));
  const save = useChange(routes.saveNeed, { placeId: place.id });
  const may = useMay(jobId);
  const need = draft.value;
  const errors = needErrors(need);
  const set = (changes: Partial<NeedDraft>): void => draft.set((before) => ({ ...before, ...changes }));
  const setItem = (index: number, changes: Partial<ItemDraft>): void =>
    set({ items: need.items.map((item, i) => (i === index ? { ...item, ...changes } : item)) });
  const percent = (key: 'atOncePercent' | 'growthPercent' | 'headroomPercent', label: string) => (
    <NumberField
      label={label}
      value={need[key]}
      onChange={(value) => set({ [key]: value })}
      unit="%"
      error={errors[key]}
      w={150}
    />
  );
  if (may.onlyReads)
    return (
      <section className="need-place">
        <h3>{place.name}</h3>
        <Told
          rows={[
            ...need.items.map(
              ({ count, kind, toMbps, fromMbps, towardPlaceId }, index) =>
                [
                  `${index + 1}. ${String(count)} × ${activities[kind].words}`,
                  `${String(toMbps)} Mbit/s to the place and ${String(fromMbps)} from it, each; ${
                    places.find(({ id }) => id === towardPlaceId)?.name ?? 'the feed'
                  }`,
                ] as const,
            ),
            [
              'At once, growth, headroom',
              `${String(need.atOncePercent)} %, ${String(need.growthPercent)} %, ${String(need.headroomPercent)} %`,
            ],
            [
              'Between radio and devices',
              need.adapterName && `${need.adapterName}, ${String(need.adapterMbps)} Mbit/s`,
            ],
          ]}
        />
        <Together need={need} placeId={place.id} />
      </section>
    );
  return (
    <form
      className="need-place"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        if (Object.keys(errors).length || !draft.changed || draft.peeking) return;
        sendDraft(save, needBody(need, Number(draft.base)), draft.send());
      }}
    >
      <fieldset disabled={!may.work || draft.peeking}>
        <legend>{place.name}</legend>
        <Clash draft={draft} what={`What ${place.name} needs`} />
        {need.items.map((item, index) => (
          <Item
            key={index}
            item={item}
            index={index}
            places={places.filter(({ id }) => id !== place.id)}
            errors={errors}
            set={(changes) => setItem(index, changes)}
            remove={() => set({ items: need.items.filter((_, i) => i !== index) })}
          />
        ))}
        <div className="row need-add">
          {activityKinds.map((kind) => (
            <Button
              key={kind}
              size="compact-md"
              variant="default"
              onClick={() => set({ items: [...need.items, { ...usualItem(kind), towardPlaceId: '' }] })}
            >
              + {activities[kind].words}
            </Button>
          ))}
        </div>
        <div className="row need-factors">
          {percent('atOncePercent', 'At once')}
          {percent('growthPercent', 'Growth')}
          {percent('headroomPercent', 'Headroom')}
          <TextInput
            label="Between radio and devices"
            placeholder="nothing slow"
            maxLength={60}
            value={need.adapterName}
            onChange={(event) => set({ adapterName: event.currentTarget.value })}
            w={220}
          />
          <RateField
            label="It passes"
            value={need.adapterMbps}
            onChange={(value) => set({ adapterMbps: value })}
            error={errors.adapterMbps}
            w={150}
          />
          {may.work && (
            <Button
              type="submit"
              disabled={!draft.changed || draft.peeking || draft.stale || Object.keys(errors).length > 0}
              loading={save.isPending}
              mt={24}
            >
              Save
            </Button>
          )}
        </div>
        <Together need={need} placeId={place.id} />
        <Problem error={save.error} />
      </fieldset>
    </form>
  );
}

/** What the place asks of the way to it, with growth and headroom. */
function Together({ need, placeId }: { need: NeedDraft; placeId: string }) {
  const reckoned = needIn(placeId, need);
  if (!reckoned || !need.items.length) return null;
  const { toMbps, fromMbps } = placeNeed(reckoned);
  return (
    <p className="note">
      Together <Rate mbps={toMbps} beside={[fromMbps]} /> to the place and <Rate mbps={fromMbps} beside={[toMbps]} />{' '}
      from it.
    </p>
  );
}

function Item({
  item,
  index,
  places,
  errors,
  set,
  remove,
}: {
  item: ItemDraft;
  index: number;
  places: readonly { id: string; name: string }[];
  errors: Record<string, string>;
  set(changes: Partial<ItemDraft>): void;
  remove(): void;
}) {
  const [unit, setUnit] = useState(unitChoices[1]?.unit ?? 'Mbit/s');
  const perUnit = unitChoices.find((choice) => choice.unit === unit)?.perUnit ?? 1;
  const rate = (key: 'toMbps' | 'fromMbps', label: string) => (
    <RateField
      label={label}
      value={item[key]}
      onChange={(value) => set({ [key]: value })}
      unit={unit}
      perUnit={perUnit}
      error={errors[`items.${index}.${key}`]}
      w={150}
    />
  );
  return (
    <div className="need-item">
      <div className="row">
        <NumberField
          label="How many"
          value={item.count}
          onChange={(count) => set({ count })}
          error={errors[`items.${index}.count`]}
          w={100}
        />
        <Select
          label="What"
          data={activityKinds.map((kind) => ({ value: kind, label: activities[kind].words }))}
          value={item.kind}
          onChange={(kind) => kind && set({ kind: kind as ActivityKind })}
          allowDeselect={false}
          w={180}
        />
        {rate('toMbps', 'Each, to the place')}
        {rate('fromMbps', 'Each, from the place')}
        <Select
          label="Typed in"
          data={unitChoices.map((choice) => choice.unit)}
          value={unit}
          onChange={(value) => value && setUnit(value as typeof unit)}
          allowDeselect={false}
          w={120}
        />
        <Select
          label="Goes to"
          data={[{ value: '', label: 'the feed' }, ...places.map(({ id, name }) => ({ value: id, label: name }))]}
          value={item.towardPlaceId}
          onChange={(value) => set({ towardPlaceId: value ?? '' })}
          allowDeselect={false}
          searchable
          w={180}
        />
        <ActionIcon
          variant="subtle"
          color="gray"
          size={44}
          mt={22}
          onClick={remove}
          aria-label={`Remove ${activities[item.kind].words}`}
        >
          <IconX size={18} />
        </ActionIcon>
      </div>
      <Doubt item={item} take={set} />
    </div>
  );
}

/** A rate that was hardly meant, with what likely was. */
function Doubt({ item, take }: { item: ItemDraft; take(changes: Partial<ItemDraft>): void }) {
  for (const key of ['toMbps', 'fromMbps'] as const) {
    const doubt = doubtRate(item.kind, numberIn(item[key]));
    if (!doubt) continue;
    return (
      <p className="need-doubt">
        {doubt.words}{' '}
        <Button size="compact-sm" variant="default" onClick={() => take({ [key]: doubt.likelyMbps })}>
          Take {doubt.likelyMbps} Mbit/s
        </Button>
      </p>
    );
  }
  return null;
}
