/** A kind of picture file, told by its first bytes. */
interface PhotoKind {
  words: string;
  is(head: Uint8Array): boolean;
  readable: boolean;
}

const ascii = (head: Uint8Array, from: number, to: number): string => String.fromCharCode(...head.subarray(from, to));

const kinds: readonly PhotoKind[] = [
  { words: 'JPEG', is: (head) => head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff, readable: true },
  { words: 'PNG', is: (head) => ascii(head, 1, 4) === 'PNG', readable: true },
  { words: 'WebP', is: (head) => ascii(head, 0, 4) === 'RIFF' && ascii(head, 8, 12) === 'WEBP', readable: true },
  {
    // ISO/IEC 14496-12, file type box; the brands of ISO/IEC 23008-12
    words: 'HEIC',
    is: (head) => ascii(head, 4, 8) === 'ftyp' && /^(hei[cxms]|hev[cxms]|mif1|msf1)/.test(ascii(head, 8, 12)),
    readable: false,
  },
];

/** Bytes that tell what kind a picture is. */
export const photoHeadBytes = 16;

/** Why a file is no photo that can be read, with what to do; undefined for one that can be, as far as its first bytes tell. */
export function refusePhoto(head: Uint8Array): string | undefined {
  const kind = kinds.find(({ is }) => is(head));
  if (kind?.readable) return undefined;
  return kind
    ? `This is a ${kind.words} picture, which cannot be read here. Set the phone's camera to "most compatible" (JPEG), or send the photo as JPEG.`
    : 'This is no photo that can be read here: JPEG, PNG and WebP can.';
}
