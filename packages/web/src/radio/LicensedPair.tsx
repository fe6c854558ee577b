import type { LinkView } from '@kivram/contract';
import { NumberField } from '../parts/NumberField';
import { Tick } from '../parts/Tick';
import type { DraftErrors, PlanDraft } from './planDraft';

interface Props {
  view: LinkView;
  draft: PlanDraft;
  setDraft(change: (draft: PlanDraft) => PlanDraft): void;
  errors: DraftErrors;
}

/** Frequencies and coding of a licensed pair, as its licence has them. */
export function LicensedPair({ view: { near, far }, draft, setDraft, errors }: Props) {
  const nearSends = near.radio.role === 'access' ? 'centreMHz' : 'returnMHz';
  const farSends = nearSends === 'centreMHz' ? 'returnMHz' : 'centreMHz';
  const frequency = (key: 'centreMHz' | 'returnMHz', place: string) => (
    <NumberField
      label={`${place} sends on`}
      value={draft[key]}
      onChange={(value) => setDraft((d) => ({ ...d, [key]: value }))}
      unit="MHz"
      error={errors[key]}
      w={180}
    />
  );
  return (
    <>
      {frequency(nearSends, near.place.name)}
      {frequency(farSends, far.place.name)}
      <Tick
        label="Error correction"
        checked={draft.errorCorrection}
        set={(errorCorrection) => setDraft((d) => ({ ...d, errorCorrection }))}
      />
    </>
  );
}
