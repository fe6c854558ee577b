import { expect, it } from 'vitest';
import { fileText } from './fileText';

const text = '{"ü": 1}\r\n';
const utf16 = Buffer.from(text, 'utf16le');
const swapped = Buffer.from(utf16).swap16();

it.each([
  ['UTF-8', Buffer.from(text)],
  ['UTF-8 with a mark', Buffer.from(`\uFEFF${text}`)],
  ['UTF-16 of a Windows shell', Buffer.concat([Buffer.from([0xff, 0xfe]), utf16])],
  ['UTF-16 the other way round', Buffer.concat([Buffer.from([0xfe, 0xff]), swapped])],
  ['UTF-16 without a mark', utf16],
  ['UTF-16 the other way round without a mark', swapped],
])('%s is read as what was written', async (_, bytes) => {
  expect(await fileText(new Blob([bytes]))).toBe(text);
});

it('reads nothing in an empty file, and never throws', async () => {
  expect(await fileText(new Blob([]))).toBe('');
  await fileText(new Blob([Buffer.from([0xff, 0xfe, 0x41])]));
});
