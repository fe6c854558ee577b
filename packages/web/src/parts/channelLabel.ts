import { channelNumber, type Channel } from '@kivram/core/spectrum/channel';
import { allowanceOf } from '@kivram/core/spectrum/allowance';
import type { RuleSet, SpectrumUse } from '@kivram/core/spectrum/ruleSet';

/** A channel as it is offered: its number, its middle, what the law allows on it with an antenna, whether radar has the right of way, and whether it is to be looked up first. */
export function channelLabel(channel: Channel, law: RuleSet | null, use: SpectrumUse, gainDbi: number): string {
  const allowance = allowanceOf(law, channel, use, gainDbi);
  return [
    channelNumber(channel),
    `${channel.centreMHz} MHz`,
    ...(allowance ? [`up to ${Number(allowance.mostEirpDbm.toFixed(1))} dBm EIRP`] : []),
    ...(allowance?.radar ? ['radar'] : []),
    ...(allowance?.doubts.length ? ['look it up'] : []),
  ].join(', ');
}
