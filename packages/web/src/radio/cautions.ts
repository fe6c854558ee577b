import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { lawCaution } from '@kivram/core/spectrum/ruleSet';

/** What has to be said beside a limit: where it stands, whether it was looked up, and that local law wins. */
export function channelCautions({ near, far }: LinkPrediction): string[] {
  if (!near.lawKnown) return [lawCaution];
  const rules = [...new Set([near, far].flatMap((end) => end.allowance?.rules ?? []))];
  const sources = [...new Set(rules.flatMap((rule) => rule.source ?? []))];
  const doubt = rules.some((rule) => rule.verify)
    ? ' It is written down from memory: look it up before you build by it.'
    : '';
  return [`${sources.length ? `The limit: ${sources.join('; ')}.${doubt} ` : ''}${lawCaution}`];
}
