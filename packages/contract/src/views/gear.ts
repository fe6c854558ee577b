import type { Model } from '@kivram/core/gear/model';

export const gearDocumentFormat = 'kivram-gear';
export const gearDocumentVersion = 1;

/** Spec sheets as one file; see docs/gear-document.md. */
export interface GearDocument {
  format: typeof gearDocumentFormat;
  formatVersion: typeof gearDocumentVersion;
  exportedAt: string;
  models: Model[];
}

/** A spec sheet of the catalogue in its newest revision. */
export interface CatalogueEntry {
  spec: Model;
  revision: number;
  madeAt: string;
  /** radios that are planned with it, in any revision */
  radios: number;
  /** jobs with radios that are planned with an older revision */
  older: { jobId: string; job: string; radios: number }[];
}

/** What became of the spec sheets of a file, each by its name. */
export interface ModelsImport {
  taken: { id: string; name: string; what: 'new' | 'revision' | 'known' }[];
  refused: { name: string; reasons: string[] }[];
}
