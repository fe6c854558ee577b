/** Letters and digits that are not mistaken for one another when read out or typed with gloves: no 0 o 1 l i. */
const alphabet = 'abcdefghjkmnpqrstuvwxyz23456789';
const groups = 5;
const groupLength = 4;

/**
 * A passphrase of five groups of four characters: 20 characters of 31 kinds, 99 bits.
 * @param randomBytes a cryptographic source
 */
export function makePassphrase(randomBytes: (count: number) => Uint8Array): string {
  // Values past the last whole multiple of the alphabet are thrown away, so that each character is equally likely.
  const limit = 256 - (256 % alphabet.length);
  let text = '';
  while (text.length < groups * groupLength) {
    for (const byte of randomBytes(32)) {
      if (byte < limit && text.length < groups * groupLength) text += alphabet[byte % alphabet.length];
    }
  }
  return (text.match(/.{4}/g) ?? []).join('-');
}

/** Guesses that fall first: digits in a row, one character, keyboard rows, the usual words. */
const commonPassphrases = /^(\d{8,10}|(.)\2+|password.*|passwort.*|qwert.*|letmein.*|admin.*|welcome.*|internet.*)$/i;

/** Why a passphrase is weak, or undefined. */
export function passphraseWeakness(passphrase: string, networkName: string): string | undefined {
  if (commonPassphrases.test(passphrase)) return 'it is among the first that are guessed';
  if (networkName && passphrase.toLowerCase().includes(networkName.toLowerCase()))
    return 'it contains the network name';
  if (passphrase.length < 12) return `${passphrase.length} characters can be tried out; 12 or more cannot`;
  return undefined;
}
