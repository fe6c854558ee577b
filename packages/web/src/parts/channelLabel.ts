import { channelNumber, type Channel } from '@kivram/core/spectrum/channel';
import { allowanceOf, type RuleSet, type SpectrumUse } from '@kivram/core/spectrum/ruleSet';

/** A channel as it is offered: its number, its middle, what the law allows on it with an antenna, and whether radar has the right of way. */
export function channelLabel(channel: Channel, law: RuleSet | null, use: SpectrumUse, gainDbi: number): string {
  const allowance = allowanceOf(law, channel, use, gainDbi);
  return [
    channelNumber(channel),
    `${channel.centreMHz} MHz`,
    ...(allowance ? [`up to ${Number(allowance.mostEirpDbm.toFixed(1))} dBm EIRP`] : []),
    ...(allowance?.radar ? ['radar'] : []),
  ].join(', ');
}
