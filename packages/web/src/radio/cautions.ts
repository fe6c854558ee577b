import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { lawCaution } from '@kivram/core/spectrum/ruleSet';

/** What has to be said beside a limit: where it stands, whether it was looked up, and that local law wins. */
export function channelCautions({ near, far }: LinkPrediction): string[] {
  const refusals = [...new Set([near, far].flatMap((end) => end.lawRefusal ?? []))];
  const doubts = [...new Set([near, far].flatMap((end) => end.allowance?.doubts ?? []))];
  const rules = [...new Set([near, far].flatMap((end) => end.allowance?.rules ?? []))];
  const sources = [...new Set(rules.flatMap((rule) => rule.source ?? []))];
  const doubt = rules.some((rule) => rule.verify)
    ? ' It is written down from memory: look it up before you build by it.'
    : '';
  return [
    ...refusals.map((words) => `Not allowed: ${words}.`),
    ...doubts.map((words) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`),
    `${sources.length ? `The limit: ${sources.join('; ')}.${doubt} ` : ''}${lawCaution}`,
  ];
}
