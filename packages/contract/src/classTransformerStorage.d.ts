declare module 'class-transformer/cjs/storage.js' {
  import type { MetadataStorage } from 'class-transformer/types/MetadataStorage';
  /** What @Type has recorded; the package exports it under no public name. */
  export const defaultMetadataStorage: MetadataStorage;
}
