import { terrainUploadPath, type TerrainFile, type TerrainImportLine } from '@kivram/contract';

export interface UploadState {
  phase: 'sending' | 'reading';
  /** 0 to 1 */
  share: number;
}

/** Sends a terrain file and follows how it is read. An XMLHttpRequest, because fetch does not tell how much has been sent. */
export function uploadTerrain(
  file: File,
  epsgText: string,
  onState: (state: UploadState) => void,
): { done: Promise<TerrainFile>; cancel(): void } {
  const request = new XMLHttpRequest();
  const done = new Promise<TerrainFile>((resolve, reject) => {
    const epsg = /^(?:epsg:)?\s*(\d+)$/i.exec(epsgText.trim())?.[1];
    if (epsgText.trim() && !epsg) {
      reject(new Error(`"${epsgText}" is no projection code: write it like EPSG:32624.`));
      return;
    }
    const query = new URLSearchParams({ name: file.name, ...(epsg && { epsg }) });
    request.open('POST', `${terrainUploadPath}?${query.toString()}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = ({ loaded, total }) => onState({ phase: 'sending', share: total ? loaded / total : 0 });
    request.onprogress = () => {
      const line = linesOf(request.responseText).at(-1);
      if (line?.type === 'progress') onState({ phase: 'reading', share: line.share });
    };
    request.onload = () => {
      const last = linesOf(request.responseText).at(-1);
      if (last?.type === 'done') resolve(last.file);
      else if (last?.type === 'failed') reject(new Error(last.detail));
      else reject(new Error(`${file.name} could not be imported: the server answered with something unreadable.`));
    };
    request.onerror = () =>
      reject(new Error('The Kivram server does not answer. Is it still running? Drop the file again.'));
    request.onabort = () => reject(new Error(`${file.name}: given up, nothing was kept of it.`));
    onState({ phase: 'sending', share: 0 });
    request.send(file);
  });
  return { done, cancel: () => request.abort() };
}

/** The complete lines of an answer that is still coming in. */
export function linesOf(text: string): TerrainImportLine[] {
  return text
    .slice(0, text.lastIndexOf('\n') + 1)
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as TerrainImportLine);
}
