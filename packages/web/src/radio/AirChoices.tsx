import type { LinkView } from '@kivram/contract/views/link';
import { spectrumUse } from '@kivram/core/air/air';
import type { Model } from '@kivram/core/gear/model';
import { usableCentresMHz } from '@kivram/core/pairing/proposal';
import { protocolWords } from '@kivram/core/radio/kinds';
import { lazy, Suspense } from 'react';
import { channelLabel } from '../parts/channelLabel';
import { widthText } from '../parts/channelText';
import { Choice } from '../parts/Choice';
import { numberIn } from '../parts/NumberField';
import type { DraftErrors, PlanDraft } from './planDraft';

const LicensedPair = lazy(async () => ({ default: (await import('./LicensedPair')).LicensedPair }));

interface AirChoicesProps {
  view: LinkView;
  draft: PlanDraft;
  setDraft(change: (draft: PlanDraft) => PlanDraft): void;
  errors: DraftErrors;
  near: Model;
  far: Model;
}

/** What both ends share: width, channel and protocol, or the two frequencies of a licence. */
export function AirChoices({ view, draft, setDraft, errors, near, far }: AirChoicesProps) {
  const { law } = view;
  const licensed = view.air.kind === 'duplex';
  const isOutdoor = view.link.pathKind !== 'shaft';
  const use = spectrumUse(view.air, isOutdoor);
  const widths = near.widthsMHz.filter((w) => far.widthsMHz.includes(w));
  const centres = usableCentresMHz(near, far, law, draft.widthMHz, use);
  const gainDbi = Math.min(near.antennaGainDbi, far.antennaGainDbi);
  const spoken = near.protocols.filter((p) => far.protocols.includes(p));
  return (
    <>
      <Choice
        label={licensed ? 'Spacing' : 'Width'}
        value={String(draft.widthMHz)}
        data={widths.map((w) => ({ value: String(w), label: widthText(w) }))}
        other={widthText(draft.widthMHz)}
        onChoose={(w) => {
          const next = usableCentresMHz(near, far, law, Number(w), use);
          // A channel of another width lies on another raster: take the nearest.
          const centreMHz = nearest(next, draft.centreMHz);
          setDraft((d) => ({ ...d, widthMHz: Number(w), centreMHz }));
        }}
        error={!widths.includes(draft.widthMHz) && 'not both have it'}
        w={130}
      />
      {licensed ? (
        <Suspense>
          <LicensedPair draft={draft} setDraft={setDraft} view={view} errors={errors} gear={{ near, far }} />
        </Suspense>
      ) : (
        <>
          <Choice
            label="Channel"
            value={String(draft.centreMHz)}
            data={centres.map((c) => ({
              value: String(c),
              label: channelLabel({ centreMHz: c, widthMHz: draft.widthMHz }, law, use, gainDbi),
            }))}
            other={`${draft.centreMHz ?? '–'} MHz`}
            onChoose={(value) => setDraft((d) => ({ ...d, centreMHz: Number(value) }))}
            w={230}
            error={!centres.includes(numberIn(draft.centreMHz)) && 'not allowed here'}
          />
          <Choice
            label="Protocol"
            value={draft.protocol}
            data={spoken.map((p) => ({ value: p, label: protocolWords[p] }))}
            other={protocolWords[draft.protocol]}
            onChoose={(value) => setDraft((d) => ({ ...d, protocol: value as PlanDraft['protocol'] }))}
            w={130}
          />
        </>
      )}
    </>
  );
}

/** The channel that lies nearest to the one before; that one where there is none. */
export function nearest(centresMHz: readonly number[], before: PlanDraft['centreMHz']): PlanDraft['centreMHz'] {
  const from = numberIn(before);
  return centresMHz.reduce(
    (a, b) => (Math.abs(b - from) < Math.abs(a - from) ? b : a),
    centresMHz[0] ?? (Number.isNaN(from) ? 0 : from),
  );
}
