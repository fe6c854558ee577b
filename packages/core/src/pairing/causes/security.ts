import type { Cause } from '../pair';
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
    if (security === 'open' || security !== far.sheet.security || (a === b && a !== '')) return undefined;
    const describe = (text: string): string => (text ? `${text.length} characters` : 'missing');
    const caseOnly = a.toLowerCase() === b.toLowerCase() && a !== '';
    return {
      field: 'passphrase',
      nearValue: describe(a),
      farValue: describe(b),
      reason: caseOnly
        ? 'The passphrases differ only by capital letters: the station is heard and refused.'
        : 'The passphrases are not the same: the station is heard and refused.',
      repair: 'Copy the passphrase from one end to the other.',
    };
  },
};
