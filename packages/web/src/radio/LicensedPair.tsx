import type { LinkView } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { Choice } from '../parts/Choice';
import { NumberField } from '../parts/NumberField';
import { Tick } from '../parts/Tick';
import { draftByLicence } from './licensedDraft';
import type { DraftErrors, PlanDraft } from './planDraft';

interface Props {
  view: LinkView;
  draft: PlanDraft;
  setDraft(change: (draft: PlanDraft) => PlanDraft): void;
  errors: DraftErrors;
  /** that is tried */
  gear: Record<End, Model>;
}

/** Frequencies and coding of a licensed pair, as its licence has them. */
export function LicensedPair({ view, draft, setDraft, errors, gear }: Props) {
  const { near, far, licences } = view;
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
      {licences.length === 0 && (
        <p className="note">No licence is on record: note it under Law, then choose it here.</p>
      )}
      {licences.length > 0 && (
        <Choice
          label="By licence"
          data={licences.map(({ id, number }) => ({ value: id, label: number }))}
          value={draft.licenceId ?? ''}
          other="none is chosen"
          onChoose={(id) => {
            const chosen = licences.find((l) => l.id === id);
            if (chosen) setDraft((d) => draftByLicence(view, d, chosen, gear));
          }}
          w={190}
        />
      )}
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
