import type { EndChoices, PlanChoices } from '@kivram/contract/entities/alternative';
import type { LinkView } from '@kivram/contract/views/link';
import { ends, type End } from '@kivram/core/budget/plan';
import { numberIn } from '../parts/NumberField';
import { draftOf, type PlanDraft } from './planDraft';

/** What a draft chooses, to be kept; NaN where a field holds no number, which no check lets pass. */
export function choicesOf(draft: PlanDraft): PlanChoices {
  const { widthMHz, protocol, errorCorrection, licenceId, returnMHz, rainMmPerH } = draft;
  const end = (side: End): EndChoices => {
    const kind = draft[`${side}CableKind`];
    return {
      modelId: draft[`${side}ModelId`],
      mountHeightM: numberIn(draft[`${side}MountHeightM`]),
      conductedDbm: numberIn(draft[`${side}ConductedDbm`]),
      cableLossDb: numberIn(draft[`${side}CableLossDb`]),
      cable:
        kind === 'none'
          ? null
          : {
              kind,
              lengthM: numberIn(draft[`${side}CableLengthM`]),
              connectors: numberIn(draft[`${side}Connectors`]),
            },
      aimOffDeg: numberIn(draft[`${side}AimOffDeg`]),
      interferenceDb: numberIn(draft[`${side}InterferenceDb`]),
      polarisation: draft[`${side}Polarisation`],
    };
  };
  return {
    centreMHz: numberIn(draft.centreMHz),
    returnMHz: returnMHz === null ? null : numberIn(returnMHz),
    widthMHz,
    protocol,
    errorCorrection,
    licenceId,
    near: end('near'),
    far: end('far'),
    needNearToFarMbps: numberIn(draft.needNearToFarMbps),
    needFarToNearMbps: numberIn(draft.needFarToNearMbps),
    wantedMarginDb: numberIn(draft.wantedMarginDb),
    rainMmPerH: rainMmPerH === null ? null : numberIn(rainMmPerH),
    treeYears: numberIn(draft.treeYears),
  };
}

/** The draft that kept choices are. */
export function draftWith(view: LinkView, choices: PlanChoices): PlanDraft {
  const { near, far, ...shared } = choices;
  const both = { near, far };
  const draft: Record<string, unknown> = { ...draftOf(view), ...shared };
  // A licence may be gone since the plan was kept.
  if (!view.licences.some(({ id }) => id === draft.licenceId)) draft.licenceId = null;
  for (const side of ends) {
    const { cable, ...own } = both[side];
    const fields: Record<string, unknown> = { ...own, cableKind: cable?.kind ?? 'none' };
    if (cable) Object.assign(fields, { cableLengthM: cable.lengthM, connectors: cable.connectors });
    for (const [key, value] of Object.entries(fields)) draft[side + key.charAt(0).toUpperCase() + key.slice(1)] = value;
  }
  return draft as unknown as PlanDraft;
}
