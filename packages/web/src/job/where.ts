import { fileText } from '../parts/fileText';
import { NewPlaceBody } from '@kivram/contract/requests/place';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { placesLimits } from '@kivram/contract/views/terrain';
import { CoordinateError, type Position } from '@kivram/core/geodesy/coordinates';
import { parsePosition } from '@kivram/core/geodesy/utm';
import { call } from '../api';
import { terrainBatch } from '../map/terrainBatch';
import { uploadTerrain } from '../map/uploadTerrain';
import { numberIn } from '../parts/NumberField';
import type { JobForm } from './jobForm';
import { terrainEndings } from './terrainEndings';

interface ReadPlace {
  body: { name: string } | null;
  errors: Record<string, string>;
}

/** The first place of a new job as the contract knows it; none where nothing of it was typed. */
export function readPlace({
  placeName,
  position,
  groundM,
}: Pick<JobForm, 'placeName' | 'position' | 'groundM'>): ReadPlace {
  if (!placeName.trim() && !position.trim() && groundM === null) return { body: null, errors: {} };
  const errors: Record<string, string> = {};
  let at: Position = { latitudeDeg: 0, longitudeDeg: 0 };
  try {
    at = parsePosition(position);
  } catch (error) {
    if (!(error instanceof CoordinateError)) throw error;
    errors.position = error.message;
  }
  if (!placeName.trim()) errors.placeName = 'What is the place called?';
  const { latitudeDeg, longitudeDeg } = at;
  const groundHeightM = groundM === null ? undefined : numberIn(groundM);
  const body = { name: placeName.trim(), latitudeDeg, longitudeDeg, kind: 'site', groundHeightM };
  for (const { field, message } of check(NewPlaceBody, body).errors ?? []) {
    const shown = field === 'groundHeightM' ? 'groundM' : field === 'name' ? 'placeName' : 'position';
    errors[shown] ??= message;
  }
  return { body, errors };
}

/** Brings in what says where a job is: terrain first, so that places find their heights on it. @returns what could not be used, each with its reason */
export async function bringWhere(jobId: string, place: ReadPlace['body'], files: readonly File[]): Promise<string[]> {
  const problems: string[] = [];
  const tell = (error: unknown, of: string): void => {
    problems.push(`${of}: ${error instanceof Error ? error.message : String(error)}`);
  };
  const batch = await terrainBatch(
    files.filter((file) => terrainEndings.test(file.name)),
    '',
  );
  problems.push(...batch.problems);
  for (const { file, epsg } of batch.jobs) {
    await uploadTerrain(file, epsg, () => undefined).done.catch((error: unknown) => tell(error, file.name));
  }
  if (place)
    await call(routes.createPlace, { jobId }, place).catch((error: unknown) => tell(error, `Place ${place.name}`));
  for (const file of files.filter(({ name }) => !terrainEndings.test(name))) {
    if (file.size > placesLimits.characters) {
      tell(new Error('it is too large to hold the places of one job'), file.name);
      continue;
    }
    const body = { fileName: file.name.slice(0, 200), text: await fileText(file), kind: 'site' };
    await call(routes.importPlaces, { jobId }, body).catch((error: unknown) => tell(error, file.name));
  }
  return problems;
}
