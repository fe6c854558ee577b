import { readHidden } from '../hiddenPassphrase';
import { passphraseWeakness } from '../passphrase';
import type { Cause } from '../pair';

/** Of one that is not shown it was found where it is known. */
function weaknessOf(passphrase: string, networkName: string): string | undefined {
  const hidden = readHidden(passphrase);
  return hidden ? hidden.weakness : passphraseWeakness(passphrase, networkName);
}

export const weakPassphrase: Cause = {
  cause: 'weakPassphrase',
  severity: 'warns',
  find: ({ near, far }) => {
    for (const sheet of [near.sheet, far.sheet]) {
      const why =
        sheet.security === 'open'
          ? 'the link is open to anyone in range'
          : sheet.passphrase && weaknessOf(sheet.passphrase, sheet.networkName);
      if (!why) continue;
      return {
        field: sheet.security === 'open' ? 'security' : 'passphrase',
        nearValue: near.sheet.security,
        farValue: far.sheet.security,
        reason: `Weak protection: ${why}.`,
        repair: 'Let Kivram propose a passphrase.',
      };
    }
    return undefined;
  },
};

export const sameDeviceName: Cause = {
  cause: 'sameDeviceName',
  severity: 'warns',
  find: ({ near, far }) =>
    near.sheet.deviceName === far.sheet.deviceName
      ? {
          field: 'deviceName',
          nearValue: near.sheet.deviceName,
          farValue: far.sheet.deviceName,
          reason: 'Both radios carry the same name; nobody will know which one a page belongs to.',
          repair: 'Let the name say site and role.',
        }
      : undefined,
};

export const firmwareDiffers: Cause = {
  cause: 'firmwareDiffers',
  severity: 'warns',
  find: ({ near, far }) =>
    // What nobody looked up is no difference.
    near.model.id === far.model.id &&
    near.sheet.firmware &&
    far.sheet.firmware &&
    near.sheet.firmware !== far.sheet.firmware
      ? {
          field: 'firmware',
          nearValue: near.sheet.firmware,
          farValue: far.sheet.firmware,
          reason: 'The firmware versions differ.',
          repair: 'Bring both to the same version on the bench, from a downloaded file.',
        }
      : undefined,
};

export const countryDiffers: Cause = {
  cause: 'countryDiffers',
  severity: 'warns',
  find: ({ near, far }) =>
    near.sheet.country !== far.sheet.country
      ? {
          field: 'country',
          nearValue: near.sheet.country,
          farValue: far.sheet.country,
          reason: 'The radios are told they stand in different countries.',
          repair: 'Set the country they truly stand in; the law of that country holds.',
        }
      : undefined,
};
