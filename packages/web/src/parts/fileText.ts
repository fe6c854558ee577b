/** What a file says, in whatever a shell or a spreadsheet wrote it: UTF-8, or UTF-16 as by a Windows shell, told by its mark or by its zeros. */
export async function fileText(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  return new TextDecoder(encodingOf(bytes)).decode(bytes);
}

function encodingOf([a, b, c, d]: Uint8Array): string {
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  if (a && b === 0 && c && d === 0) return 'utf-16le';
  return a === 0 && b && c === 0 && d ? 'utf-16be' : 'utf-8';
}
