import type { Licence } from '@kivram/contract/entities/law';
import { sendingChannel, spectrumUse } from '@kivram/core/air/air';
import type { End } from '@kivram/core/budget/plan';
import { usualPowerDbm } from '@kivram/core/budget/usualPower';
import type { Model } from '@kivram/core/gear/model';
import { askLaw } from '@kivram/core/spectrum/lawAnswer';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { MapRadio } from '@kivram/contract/views/job';
import { numberIn } from '../parts/NumberField';
import { airOf, modelAt, nearOf, type EndForm, type LinkForm } from './linkForm';

/** Gear, radios and law that new links are planned with. */
export interface PowerSurroundings {
  models: readonly Model[];
  radios: readonly MapRadio[];
  law: RuleSet | null;
  licences: readonly Licence[];
  /** today at the server, as in 2026-01-31 */
  day: string;
}

/** The power of an end of a link of the form: as typed; where nothing is typed, what a radio begins with there. NaN while that cannot be said. */
export function endPowerDbm(form: LinkForm, index: number, end: End, around: PowerSurroundings): number {
  const hop = form.hops[index];
  const typed = endAt(form, index, end);
  if (typed?.conductedDbm !== null) return numberIn(typed?.conductedDbm);
  return hop ? (usualDbm(form, index, end, around) ?? NaN) : NaN;
}

/** What a radio begins with at an end of a link of the form; undefined while no model is chosen there. */
export function usualDbm(
  form: LinkForm,
  index: number,
  end: End,
  { models, radios, law, licences, day }: PowerSurroundings,
): number | undefined {
  const [typed, hop] = [endAt(form, index, end), form.hops[index]];
  const model = typed && modelAt(typed, models, radios);
  if (!model || !hop) return undefined;
  const joined = radios.find((r) => r.id === form.near.radioId);
  const air = airOf(form, hop, joined, model.band === 'licensed');
  if (!air.centreMHz || !air.widthMHz) return usualPowerDbm(model, undefined);
  const channel = sendingChannel(air, end === 'near' ? 'access' : 'station');
  const right = {
    law,
    isLicensed: air.kind === 'duplex',
    licence: licences.find((l) => l.id === air.licenceId),
    day,
  };
  const use = spectrumUse(air, form.pathKind !== 'shaft' || form.shape !== 'pair');
  return usualPowerDbm(model, askLaw(right, channel, use, model.antennaGainDbi).allowance?.mostEirpDbm);
}

function endAt(form: LinkForm, index: number, end: End): EndForm | undefined {
  return end === 'near' ? nearOf(form, index) : form.hops[index]?.far;
}
