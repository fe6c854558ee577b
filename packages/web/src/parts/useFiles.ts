import { useState } from 'react';
import { fileText } from './fileText';
import { useDropzone, type DropzoneState } from 'react-dropzone';

/** What became of a file: what the server read in it, or why it did not. */
export type FileResult<Read> = { name: string } & ({ read: Read; error: null } | { read: null; error: string });

export interface FileLimit {
  /** the longest text that the server takes */
  characters: number;
  /** what to do about a longer one, as a sentence */
  mend: string;
}

/** As long as a name of a file may be in a request. */
const nameLength = 200;

/** Files that are chosen or dropped, sent one after the other: each is told by its name, and one that is refused stops no other. */
export function useFiles<Read>(
  limit: FileLimit,
  send: (file: { fileName: string; text: string }) => Promise<Read>,
): { drop: DropzoneState; results: FileResult<Read>[] } {
  const [results, setResults] = useState<FileResult<Read>[]>([]);
  const bring = async (file: File): Promise<FileResult<Read>> => {
    const { name, size } = file;
    if (size > limit.characters) {
      const error = `${(size / 1e6).toFixed(1)} MB are more than the ${limit.characters / 1e6} MB that can be read. ${limit.mend}`;
      return { name, read: null, error };
    }
    try {
      return {
        name,
        read: await send({ fileName: name.slice(0, nameLength), text: await fileText(file) }),
        error: null,
      };
    } catch (error) {
      return { name, read: null, error: error instanceof Error ? error.message : String(error) };
    }
  };
  const bringAll = async (files: readonly File[]): Promise<void> => {
    setResults([]);
    for (const file of files) {
      const result = await bring(file);
      setResults((before) => [...before, result]);
    }
  };
  const drop = useDropzone({ onDrop: (files) => void bringAll(files), noClick: true, noKeyboard: true });
  return { drop, results };
}
