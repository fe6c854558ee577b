import { channelCentresMHz, channelFits } from '../../spectrum/channel';
import { isKnown, lawOf, needsRadarWatch, radarListenMin, rulesFor } from '../../spectrum/ruleSet';
import { apAndStation, isRelayPair, type Cause, type Pair, type PairingEnd } from '../pair';

const describe = (end: PairingEnd): string =>
  end.sheet.role !== 'station'
    ? `sends on ${end.sheet.centreMHz} MHz`
    : end.sheet.scanMHz.length
      ? `listens on ${end.sheet.scanMHz.join(', ')} MHz`
      : 'listens on all';

/** Causes about channels concern unlicensed bands, and need somebody who sets the channel: an access point, or either of two relays. */
const channelled = (pair: Pair) => {
  const roles = isRelayPair(pair) ? { ap: pair.near, station: pair.far } : apAndStation(pair);
  return roles && roles.ap.sheet.band !== 'licensed' ? roles : undefined;
};

export const channelNotScanned: Cause = {
  cause: 'channelNotScanned',
  severity: 'blocks',
  find: (pair) => {
    const roles = channelled(pair);
    if (!roles || isRelayPair(pair)) return undefined;
    const { scanMHz } = roles.station.sheet;
    if (!scanMHz.length || scanMHz.includes(roles.ap.sheet.centreMHz)) return undefined;
    return {
      field: 'scanMHz',
      nearValue: describe(pair.near),
      farValue: describe(pair.far),
      reason: `The station's frequency list leaves out the access point's channel.`,
      repair: `Add ${roles.ap.sheet.centreMHz} MHz to the station's list, or clear the list.`,
    };
  },
};

/** The country of one end does not allow the access point's channel: it will not send there, or the other will not listen. */
export const channelNotAllowed: Cause = {
  cause: 'channelNotAllowed',
  severity: 'blocks',
  find: (pair) => {
    const roles = channelled(pair);
    if (!roles) return undefined;
    const { centreMHz, widthMHz } = roles.ap.sheet;
    // Where no rules are at hand nothing can be said of them.
    const refused = [roles.ap, roles.station].find((end) => {
      const law = lawOf(pair.law, end.sheet.country);
      return isKnown(law) && !rulesFor(law, { centreMHz, widthMHz }).length;
    });
    if (!refused) return undefined;
    return {
      field: 'centreMHz',
      nearValue: `${pair.near.sheet.country}, ${describe(pair.near)}`,
      farValue: `${pair.far.sheet.country}, ${describe(pair.far)}`,
      reason: `${centreMHz} MHz, ${widthMHz} MHz wide, is not allowed in ${refused.sheet.country}: that radio will not use it.`,
      repair: 'Set the true country on both, then choose a channel that it allows.',
    };
  },
};

/** No such channel in the band at this width, or outside what one of the radios tunes to. */
export const channelOutOfReach: Cause = {
  cause: 'channelOutOfReach',
  severity: 'blocks',
  find: (pair) => {
    const roles = channelled(pair);
    if (!roles) return undefined;
    const { band, centreMHz, widthMHz } = roles.ap.sheet;
    const reached = [roles.ap, roles.station].every((end) =>
      channelFits({ centreMHz, widthMHz }, end.model.lowestMHz, end.model.highestMHz),
    );
    if (reached && channelCentresMHz(band, widthMHz).includes(centreMHz)) return undefined;
    return {
      field: 'centreMHz',
      nearValue: describe(pair.near),
      farValue: describe(pair.far),
      reason: reached
        ? `There is no ${widthMHz} MHz channel centred on ${centreMHz} MHz.`
        : `${centreMHz} MHz lies outside what one of the radios tunes to.`,
      repair: 'Choose a channel from the list of the plan.',
    };
  },
};

/** Radar has the right of way: the access point listens before it sends, and leaves when it hears some. */
export const radarChannel: Cause = {
  cause: 'radarChannel',
  severity: 'warns',
  find: (pair) => {
    const roles = channelled(pair);
    if (!roles) return undefined;
    const { centreMHz, widthMHz } = roles.ap.sheet;
    const law = lawOf(pair.law, roles.ap.sheet.country);
    if (!needsRadarWatch(law, { centreMHz, widthMHz })) return undefined;
    const listens = radarListenMin(law, { centreMHz, widthMHz }) > 1 ? 'up to ten minutes' : 'a minute';
    return {
      field: 'centreMHz',
      nearValue: describe(pair.near),
      farValue: describe(pair.far),
      reason: `On this channel radar has the right of way: the radio listens ${listens} before it sends, and leaves when it sees radar.`,
      repair:
        'Give it that time before you look for a fault. Where the link must never drop, take a channel without radar.',
    };
  },
};
