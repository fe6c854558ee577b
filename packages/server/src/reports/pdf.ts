import { createRequire } from 'node:module';
import pdfmake from 'pdfmake';
import type { TDocumentDefinitions } from 'pdfmake/interfaces';

const require = createRequire(import.meta.url);
const file = (family: string, weight: number): string =>
  require.resolve(
    `@fontsource/atkinson-hyperlegible-${family}/files/atkinson-hyperlegible-${family}-latin-${weight}-normal.woff`,
  );

pdfmake.setFonts({
  Text: { normal: file('next', 400), bold: file('next', 600) },
  Figures: { normal: file('mono', 400), bold: file('mono', 600) },
});
// Nothing is read or fetched but the fonts of the application. The published types do not know these two yet.
const access = pdfmake as unknown as Record<
  'setUrlAccessPolicy' | 'setLocalAccessPolicy',
  (allow: (at: string) => boolean) => void
>;
access.setUrlAccessPolicy(() => false);
access.setLocalAccessPolicy((path) => path.includes('@fontsource'));

/** A document as the bytes of a PDF. */
export function renderPdf(definition: TDocumentDefinitions): Promise<Buffer> {
  return pdfmake.createPdf(definition).getBuffer();
}
