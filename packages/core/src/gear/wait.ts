import type { Model } from './model';

/** How long radios want to be left alone where no spec sheet tells, s: common practice, no source. */
const usualBootS = 60;
const usualSaveS = 180;

/** How long a radio takes to start and to save: by its spec sheet, else the usual, which is said. Goes on after "a radio". */
export function waitWords({ bootS, saveS }: Pick<Model, 'bootS' | 'saveS'>): string {
  const unsaid = ' (its spec sheet does not say)';
  const starts = bootS === undefined ? `may take ${usualBootS} s to start${unsaid}` : `starts in ${bootS} s`;
  const saves = saveS === undefined ? `may take ${usualSaveS} s to save${unsaid}` : `saves in ${saveS} s`;
  return bootS === undefined && saveS === undefined
    ? `may take ${usualBootS} s to start and ${usualSaveS} s to save${unsaid}`
    : `${starts} and ${saves}`;
}
