import type { Problem } from '@kivram/contract/problem';
import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import type { TerrainFile, TerrainUpload } from '@kivram/contract/views/terrain';
import { tokenHeaders, noAnswer } from '../api';
import { newId } from '../changeId';

export interface UploadState {
  phase: 'sending' | 'reading';
  /** 0 to 1 */
  share: number;
}

/** How often it is asked how far a file has been read, ms. */
const askMs = 400;

/** Sends a terrain file and follows how it is read. An XMLHttpRequest, because fetch does not tell how much has been sent. */
export function uploadTerrain(
  file: File,
  epsgText: string,
  onState: (state: UploadState) => void,
): { done: Promise<TerrainFile>; cancel(): void } {
  const request = new XMLHttpRequest();
  let asking: ReturnType<typeof setInterval> | undefined;
  let over = false;
  const done = new Promise<TerrainFile>((resolve, reject) => {
    const epsg = /^(?:epsg:)?\s*(\d+)$/i.exec(epsgText.trim())?.[1];
    if (epsgText.trim() && !epsg) {
      reject(new Error(`"${epsgText}" is no projection code: write it like EPSG:32624.`));
      return;
    }
    const uploadId = newId();
    const query = new URLSearchParams({ name: file.name, upload: uploadId, ...(epsg && { epsg }) });
    request.open('POST', `${routes.uploadTerrain.path}?${query.toString()}`);
    const headers = { 'content-type': 'application/octet-stream', ...tokenHeaders() };
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => onState({ phase: 'sending', share: total ? loaded / total : 0 });
    request.upload.onload = () => {
      asking = setInterval(
        () => void shareOf(uploadId).then((share) => over || onState({ phase: 'reading', share })),
        askMs,
      );
    };
    request.onload = () => {
      if (request.status === 200) return resolve(request.response as TerrainFile);
      const problem = request.response as Problem | null;
      reject(
        new Error(
          problem?.detail ?? `${file.name} could not be imported: the server answered with something unreadable.`,
        ),
      );
    };
    request.onerror = () => reject(new Error(`${noAnswer} Drop the file again.`));
    request.onabort = () => reject(new Error(`${file.name}: given up, nothing was kept of it.`));
    onState({ phase: 'sending', share: 0 });
    request.send(file);
  }).finally(() => {
    // An answer that is still on its way comes too late.
    over = true;
    clearInterval(asking);
  });
  return { done, cancel: () => request.abort() };
}

/** How far a file has been read; an answer that does not come is no matter, for the next one will. */
async function shareOf(uploadId: string): Promise<number> {
  try {
    const answer = await fetch(fillPath(routes.terrainUpload.path, { uploadId }));
    return ((await answer.json()) as Partial<TerrainUpload>).share ?? 0;
  } catch {
    return 0;
  }
}
