import type { Photo } from '@kivram/contract/entities/visit';
import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { FieldError } from '@kivram/contract/problem';
import { createHash, randomUUID } from 'node:crypto';

/** Where a document refers to something that it must hold itself: a job's file says nothing of other jobs. */
export function strayReferences(document: JobDocument): FieldError[] {
  const { crew, places, airs, radios, links, network } = document;
  const known = {
    crew: idsOf(crew),
    places: idsOf(places),
    airs: idsOf(airs),
    licences: idsOf(document.licences ?? []),
    radios: idsOf(radios),
    links: idsOf(links),
  };
  const models = new Set(document.models.map(({ revision, spec }) => `${spec.id} ${revision}`));
  const errors: FieldError[] = [];
  const look = (field: string, id: string | null | undefined, among: keyof typeof known): void => {
    if (id && !known[among].has(id)) errors.push({ field, message: `${id} is not among the ${among} of this file` });
  };
  const each = <T>(list: readonly T[], name: string, see: (row: T, field: string) => void): void =>
    list.forEach((row, i) => see(row, `${name}.${i}`));

  each(airs, 'airs', ({ kind, licenceId }, at) => {
    look(`${at}.licenceId`, licenceId, 'licences');
    if (licenceId && kind !== 'duplex')
      errors.push({ field: `${at}.licenceId`, message: 'only a licensed pair is planned by a licence' });
  });
  each(document.licences ?? [], 'licences', ({ lowPlaceId, highPlaceId }, at) => {
    look(`${at}.lowPlaceId`, lowPlaceId, 'places');
    look(`${at}.highPlaceId`, highPlaceId, 'places');
    if (lowPlaceId && lowPlaceId === highPlaceId)
      errors.push({ field: `${at}.highPlaceId`, message: 'one place cannot send low and high' });
  });
  each(radios, 'radios', (radio, at) => {
    look(`${at}.placeId`, radio.placeId, 'places');
    look(`${at}.airId`, radio.airId, 'airs');
    look(`${at}.mountedBy`, radio.mountedBy, 'crew');
    const model = `${radio.modelId} ${radio.modelRevision}`;
    if (!models.has(model)) errors.push({ field: `${at}.modelId`, message: `${model} is not among the models` });
  });
  each(links, 'links', (link, at) => {
    look(`${at}.airId`, link.airId, 'airs');
    look(`${at}.nearRadioId`, link.nearRadioId, 'radios');
    look(`${at}.farRadioId`, link.farRadioId, 'radios');
    if (link.jobId !== document.job.id) errors.push({ field: `${at}.jobId`, message: `${link.jobId} is another job` });
  });
  look('network.feedPlaceId', network?.feedPlaceId, 'places');
  each(document.sheets, 'sheets', (sheet, at) => {
    look(`${at}.radioId`, sheet.radioId, 'radios');
    look(`${at}.crewMemberId`, sheet.crewMemberId, 'crew');
  });
  each(document.logins, 'logins', (login, at) => look(`${at}.radioId`, login.radioId, 'radios'));
  each(document.pathChecks ?? [], 'pathChecks', (check, at) => {
    look(`${at}.linkId`, check.linkId, 'links');
    look(`${at}.crewMemberId`, check.crewMemberId, 'crew');
  });
  each(document.needs ?? [], 'needs', (need, at) => {
    look(`${at}.placeId`, need.placeId, 'places');
    each(need.items, `${at}.items`, (item, here) => look(`${here}.towardPlaceId`, item.towardPlaceId, 'places'));
  });
  each(document.cables ?? [], 'cables', (cable, at) => {
    look(`${at}.aPlaceId`, cable.aPlaceId, 'places');
    look(`${at}.bPlaceId`, cable.bPlaceId, 'places');
  });
  each(document.alternatives ?? [], 'alternatives', (alternative, at) => {
    look(`${at}.linkId`, alternative.linkId, 'links');
    look(`${at}.crewMemberId`, alternative.crewMemberId, 'crew');
  });
  each(document.levelSources ?? [], 'levelSources', (source, at) => {
    look(`${at}.radioId`, source.radioId, 'radios');
    look(`${at}.peerId`, source.peerId, 'radios');
  });
  each(document.visits, 'visits', (visit, at) => look(`${at}.crewMemberId`, visit.crewMemberId, 'crew'));
  for (const name of ['benchRuns', 'alignments', 'tests', 'events'] as const) {
    each<{ linkId: string | null; crewMemberId: string | null }>(document[name], name, (record, at) => {
      look(`${at}.linkId`, record.linkId, 'links');
      look(`${at}.crewMemberId`, record.crewMemberId, 'crew');
    });
  }
  each(document.alignments, 'alignments', ({ marks }, at) =>
    each(marks, `${at}.marks`, (mark, here) => {
      look(`${here}.radioId`, mark.radioId, 'radios');
      look(`${here}.peerId`, mark.peerId, 'radios');
    }),
  );
  return errors;
}

function idsOf(rows: readonly { id: string }[]): Set<string> {
  return new Set(rows.map((row) => row.id));
}

/** Everything in a document that has an identifier of its own. */
function* owned({ job, network, alignments, ...document }: JobDocument): Generator<string> {
  yield job.id;
  if (network) yield network.id;
  for (const list of [
    document.crew,
    document.places,
    document.airs,
    document.radios,
    document.obstacles ?? [],
    document.localRules ?? [],
    document.licences ?? [],
    document.alternatives ?? [],
    document.cables ?? [],
    document.devices,
    document.links,
    document.benchRuns,
    document.tests,
    document.visits,
    document.pathChecks ?? [],
    alignments,
    ...alignments.map((a) => a.marks),
  ]) {
    for (const { id } of list) yield id;
  }
}

/**
 * Identifiers for everything in a document, so that it can lie beside what it was copied from. They follow from the one that the job gets: what is brought in once more for the
 * same job is the same things.
 */
export function newIds(document: JobDocument, jobId: string = randomUUID()): Map<string, string> {
  return new Map(Array.from(owned(document), (id) => [id, id === document.job.id ? jobId : derivedId(jobId, id)]));
}

/** A UUID by its name in a name space, as RFC 9562 section 5.5 makes them, by SHA-256. */
function derivedId(space: string, name: string): string {
  const digest = createHash('sha256').update(`${space} ${name}`).digest();
  digest.writeUInt8(((digest[6] ?? 0) & 0x0f) | 0x50, 6);
  digest.writeUInt8(((digest[8] ?? 0) & 0x3f) | 0x80, 8);
  return digest.toString('hex', 0, 16).replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}

/** The same value with identifiers replaced wherever they stand, also in the details of events. */
export function renamed<T>(value: T, ids: ReadonlyMap<string, string>): T {
  const rename = (part: unknown): unknown => {
    if (typeof part === 'string') return ids.get(part) ?? part;
    if (Array.isArray(part)) return part.map(rename);
    if (typeof part !== 'object' || part === null) return part;
    return Object.fromEntries(Object.entries(part).map(([key, inner]) => [key, rename(inner)]));
  };
  return rename(value) as T;
}

/** Where a photo refers to something that its document does not hold, or to none or several things. */
export function strayPhoto(
  { radioId, placeId, visitId, crewMemberId }: Photo,
  { radios, places, visits, crew }: JobDocument,
  field: string,
): FieldError[] {
  if ([radioId, placeId, visitId].filter(Boolean).length !== 1)
    return [{ field, message: 'a photo is of one radio, place or visit' }];
  const looks: [string | null, readonly { id: string }[], string][] = [
    [radioId, radios, 'radioId'],
    [placeId, places, 'placeId'],
    [visitId, visits, 'visitId'],
    [crewMemberId, crew, 'crewMemberId'],
  ];
  return looks.flatMap(([id, among, name]) =>
    id && !among.some((row) => row.id === id)
      ? [{ field: `${field}.${name}`, message: `${id} is not in this file` }]
      : [],
  );
}
