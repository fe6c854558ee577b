import type { Cause, PairingEnd } from '../pair';
import { readHidden } from '../hiddenPassphrase';
import { securityWords } from '../sheet';

export const securityKind: Cause = {
  cause: 'securityKind',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.security !== far.sheet.security
      ? {
          field: 'security',
          nearValue: securityWords[near.sheet.security],
          farValue: securityWords[far.sheet.security],
          reason: 'The ends ask for different kinds of security.',
          repair: 'Set both to WPA2, or both to WPA3 where both can.',
        }
      : undefined,
};

/** The values are never shown: a finding may be printed or sent. */
export const passphrase: Cause = {
  cause: 'passphrase',
  severity: 'blocks',
  find: ({ near, far }) => {
    const { security } = near.sheet;
    const [a, b] = [near.sheet.passphrase ?? '', far.sheet.passphrase ?? ''];
    if (security === 'open' || security !== far.sheet.security || a === b || !a || !b) return undefined;
    const [hiddenA, hiddenB] = [readHidden(a), readHidden(b)];
    if (hiddenA && hiddenA.digest === hiddenB?.digest) return undefined;
    const describe = (text: string): string => (readHidden(text) ? 'not shown' : `${text.length} characters`);
    const loose = (text: string): string => readHidden(text)?.looseDigest ?? text.toLowerCase();
    const unknown = !hiddenA !== !hiddenB;
    return {
      field: 'passphrase',
      nearValue: describe(a),
      farValue: describe(b),
      reason: unknown
        ? 'One passphrase was typed and the other is not shown, so nobody can tell whether they are the same.'
        : loose(a) === loose(b)
          ? 'The passphrases differ only by capital letters: the station is heard and refused.'
          : 'The passphrases are not the same: the station is heard and refused.',
      repair: 'Copy the passphrase from one end to the other.',
    };
  },
};

/** Nobody can type settings without one: it was left out of the file that the job came in by. */
export const passphraseAbsent: Cause = {
  cause: 'passphraseAbsent',
  severity: 'blocks',
  find: ({ near, far }) => {
    const known = ({ sheet }: PairingEnd): boolean => sheet.security === 'open' || !!sheet.passphrase;
    if (near.sheet.security !== far.sheet.security || (known(near) && known(far))) return undefined;
    const describe = (end: PairingEnd): string => (known(end) ? 'here' : 'not in this copy');
    return {
      field: 'passphrase',
      nearValue: describe(near),
      farValue: describe(far),
      reason: 'The passphrase is not in this copy of the job, so nobody can tell whether both ends have the same.',
      repair: 'Type it in, or bring in the file of the job with its secrets.',
    };
  },
};
