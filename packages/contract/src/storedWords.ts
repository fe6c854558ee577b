import { levelWayWords } from '@kivram/core/aiming/levelWay';
import { cables } from '@kivram/core/gear/cable';
import { bandWords, pairingKindWords } from '@kivram/core/gear/model';
import { poeWords } from '@kivram/core/gear/poe';
import { activities } from '@kivram/core/need/activity';
import { roleWords, securityWords } from '@kivram/core/pairing/sheet';
import { obstacleRules } from '@kivram/core/path/obstacles';
import { polarisationWords } from '@kivram/core/path/polarisation';
import { climates } from '@kivram/core/propagation/climate';
import { protocolWords, radioKinds } from '@kivram/core/radio/kinds';

/** How people call what is stored as one word: "WPA2, passphrase" for `wpa2-psk`. */
const storedWords: Record<string, string> = {
  ...bandWords,
  ...protocolWords,
  ...roleWords,
  ...securityWords,
  ...polarisationWords,
  ...poeWords,
  ...pairingKindWords,
  ...Object.fromEntries(Object.values(radioKinds).map(({ phy, words }) => [phy, words])),
  ...Object.fromEntries(Object.entries(cables).map(([kind, { words }]) => [kind, words])),
  ...Object.fromEntries(Object.entries(activities).map(([kind, { words }]) => [kind, words])),
  ...Object.fromEntries(Object.entries(climates).map(([kind, { words }]) => [kind, words])),
  ...Object.fromEntries(Object.entries(obstacleRules).map(([kind, { words }]) => [kind, words])),
  access: 'access point',
  endByEnd: 'end by end',
  axisByAxis: 'axis by axis',
  ...levelWayWords,
  otherEnd: 'to the other end',
  callMe: 'call me',
  endStop: 'end stop',
  nearToFar: 'near to far',
  farToNear: 'far to near',
  duplex: 'licensed pair',
  outdoor: 'over the ground',
  azimuth: 'left and right',
  tilt: 'up and down',
  none: 'nothing',
  eye: 'by eye',
  accessPoint: 'access point',
};

/** A stored word as people say it; a word that they say themselves stays as it is. */
export function spokenWord(stored: string): string {
  return storedWords[stored] ?? stored;
}
