import type { Licence } from '@kivram/contract/entities/law';
import type { Model } from '@kivram/core/gear/model';
import { usableCentresMHz } from '@kivram/core/pairing/proposal';
import { protocolWords } from '@kivram/core/radio/kinds';
import type { RuleSet, SpectrumUse } from '@kivram/core/spectrum/ruleSet';
import { Select, Switch } from '@mantine/core';
import type { KeptForm } from '../drafts/useKeptForm';
import { channelLabel } from '../parts/channelLabel';
import { widthText } from '../parts/channelText';
import { NumberField } from '../parts/NumberField';
import { hasOwnAirs, type LinkForm } from './linkForm';

/** What all chosen models can do together. */
interface Choices {
  protocols: string[];
  widthsMHz: number[];
  channels: { value: string; label: string }[];
}

/** What all chosen models can do together, and the law allows; nothing while one is not chosen. */
export function choicesFor(
  models: readonly Model[] | null,
  law: RuleSet | null,
  widthMHz: number,
  use: SpectrumUse,
): Choices {
  const [first, ...others] = models ?? [];
  if (!first || !others.length) return { protocols: [], widthsMHz: [], channels: [] };
  const shared = <T,>(of: (model: Model) => readonly T[]): T[] =>
    of(first).filter((value) => others.every((model) => of(model).includes(value)));
  const gainDbi = Math.min(...[first, ...others].map((m) => m.antennaGainDbi));
  const centres = widthMHz
    ? usableCentresMHz(first, others[0] as Model, law, widthMHz, use).filter((centre) =>
        others.every((model) => usableCentresMHz(first, model, law, widthMHz, use).includes(centre)),
      )
    : [];
  return {
    protocols: shared((m) => m.protocols),
    widthsMHz: shared((m) => m.widthsMHz),
    channels: centres.map((centre) => ({
      value: String(centre),
      label: channelLabel({ centreMHz: centre, widthMHz }, law, use, gainDbi),
    })),
  };
}

interface AirProps {
  form: KeptForm<LinkForm>;
  choices: Choices;
  licensed: boolean;
  law: RuleSet | null;
  country: string;
  all: readonly Model[] | null;
  licences: readonly Licence[];
}

/** Width, channel and protocol of new links, or the frequencies of a licence. */
export function AirFields({
  form,
  choices: { protocols, widthsMHz, channels },
  licensed,
  law,
  country,
  all,
  licences,
}: AirProps) {
  const width = Number(form.values.widthMHz);
  const ownChannels = hasOwnAirs(form.values);
  return (
    <>
      <Select
        label="Channel width"
        data={widthsMHz.map((w) => ({ value: String(w), label: widthText(w) }))}
        disabled={!widthsMHz.length}
        description={all && !widthsMHz.length ? 'These models share no width' : 'of all models'}
        {...form.getInputProps('widthMHz')}
      />
      {licensed ? (
        <>
          <Select
            label="By licence"
            description="sets frequencies, spacing"
            data={licences.map(({ id, number }) => ({ value: id, label: number }))}
            placeholder={licences.length ? 'none is chosen' : 'none is on record'}
            clearable
            value={form.values.licenceId || null}
            onChange={(id) =>
              chooseLicence(
                form,
                licences.find((l) => l.id === id),
                widthsMHz,
              )
            }
          />
          <NumberField
            label="Near end sends on"
            unit="MHz"
            description="from the licence"
            {...form.getInputProps('centreMHz')}
          />
          <NumberField
            label="Far end sends on"
            unit="MHz"
            description="from the licence"
            {...form.getInputProps('returnMHz')}
          />
          <Switch label="Error correction" mt={34} {...form.getInputProps('errorCorrection', { type: 'checkbox' })} />
        </>
      ) : (
        !ownChannels && (
          <Select
            label="Channel"
            data={channels}
            disabled={!channels.length}
            description={channelDescription(law, country, width > 0 && !channels.length)}
            w={280}
            {...form.getInputProps('centreMHz')}
          />
        )
      )}
      <Select
        label="Protocol"
        data={protocols.map((p) => ({ value: p, label: protocolWords[p as keyof typeof protocolWords] }))}
        description="spoken by all"
        allowDeselect={false}
        {...form.getInputProps('protocol')}
      />
    </>
  );
}

/** A new pair by a licence: its frequencies, the near end sending what its place is licensed for, and its spacing where the gear has it. */
function chooseLicence(form: KeptForm<LinkForm>, licence: Licence | undefined, widthsMHz: readonly number[]): void {
  form.setFieldValue('licenceId', licence?.id ?? '');
  if (!licence) return;
  const { centreMHz, returnMHz, lowPlaceId, highPlaceId, widthMHz } = licence;
  const [low, high] = [Math.min(centreMHz, returnMHz), Math.max(centreMHz, returnMHz)];
  const { placeId } = form.values.near;
  const isLow = placeId !== '' && placeId === lowPlaceId;
  const isHigh = placeId !== '' && placeId === highPlaceId;
  form.setFieldValue('centreMHz', isLow ? low : isHigh ? high : centreMHz);
  form.setFieldValue('returnMHz', isLow ? high : isHigh ? low : returnMHz);
  if (widthsMHz.includes(widthMHz)) form.setFieldValue('widthMHz', String(widthMHz));
}

function channelDescription(law: RuleSet | null, country: string, none: boolean): string {
  if (none) return law ? 'None is allowed for all' : 'None that all models tune to';
  return law ? `allowed in ${law.name}` : `the rules of ${country} are not known here: look them up`;
}
