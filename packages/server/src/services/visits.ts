import type { Photo, PhotoSubject, Visit } from '@kivram/contract/entities/visit';
import type { NewVisitBody, PhotoBody, VisitBody } from '@kivram/contract/requests/visit';
import type { VisitsView } from '@kivram/contract/views/visit';
import { momentText } from '@kivram/core/units/moment';
import type { Sequelize } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { JobRow } from '../database/models/job';
import { PhotoRow } from '../database/models/photo';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import { VisitRow } from '../database/models/visit';
import type { ScaledPhoto } from '../formats/photo';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { defined, differing, jobOf, lockVersion, makeChange, sentence, type Difference } from './changes';
import { viewMember } from './people';

/** Visits to a site, and the photos of its radios, places and visits. */
export class Visits {
  constructor(private readonly sequelize: Sequelize) {}

  async list(jobId: string): Promise<VisitsView> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const [visits, photos, crew] = await Promise.all([
      VisitRow.findAll({ where: { jobId }, order: [['startedAt', 'DESC']] }),
      PhotoRow.findAll({ where: { jobId }, order: [['addedAt', 'DESC']] }),
      CrewMemberRow.findAll({ where: { jobId }, order: [['name', 'ASC']] }),
    ]);
    return { visits: visits.map(viewVisit), photos: photos.map(viewPhoto), crew: crew.map(viewMember) };
  }

  /** A visit gets the identifier of the change that makes it, so that what is noted without a network can speak of it. */
  async create(jobId: string, body: NewVisitBody, author: Author): Promise<Visit> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, crewMemberId, note }) => {
      const startedAt = new Date(body.startedAt);
      await VisitRow.create({ ...body, startedAt, id: author.changeId, jobId, crewMemberId }, { transaction });
      await note({ kind: 'visit', summary: `Began a visit: ${body.purpose}` });
      return null;
    });
    return viewVisit(await VisitRow.findByPk(author.changeId, { rejectOnEmpty: true }));
  }

  async change(id: string, { version, startedAt, endedAt, ...words }: VisitBody, author: Author): Promise<Visit> {
    const jobId = await jobOf(VisitRow, id, 'visit');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(VisitRow, id, version, 'visit', transaction);
      const before = viewVisit(row);
      const times = defined({ startedAt: isoOf(startedAt), endedAt: endedAt === null ? null : isoOf(endedAt) });
      const after = { ...before, ...times };
      if (after.endedAt && after.endedAt < after.startedAt)
        throw new ApiProblem(
          422,
          'Not possible',
          `The visit ends on ${momentText(after.endedAt)}, before it began on ${momentText(after.startedAt)}.`,
        );
      const differences = differing(before, { ...words, ...times });
      if (!differences.length) return null;
      const dates = Object.fromEntries(Object.entries(times).map(([field, text]) => [field, text && new Date(text)]));
      await row.update({ ...defined(words), ...dates }, { transaction });
      const summary =
        times.endedAt && !before.endedAt
          ? `Ended the visit: ${row.purpose}`
          : `Changed a visit: ${sentence(differences.map(inWords))}`;
      await note({ kind: 'visit', summary, detail: { differences } });
      return null;
    });
    return viewVisit(await VisitRow.findByPk(id, { rejectOnEmpty: true }));
  }

  /** What a photo is of must be in the job, before the picture is looked at. */
  async refuseStray(jobId: string, of: PhotoSubject, id: string): Promise<void> {
    const table = { radio: RadioRow, place: PlaceRow, visit: VisitRow }[of];
    const row = await (table as typeof PlaceRow).findOne({ where: { id, jobId }, attributes: ['id'] });
    if (!row) throw notFound(of);
  }

  async addPhoto(
    jobId: string,
    { of, id, caption, keepPosition }: { of: PhotoSubject; id: string; caption: string; keepPosition: boolean },
    { full, small, latitudeDeg, longitudeDeg, ...scaled }: ScaledPhoto,
    author: Author,
  ): Promise<Photo> {
    await makeChange(this.sequelize, jobId, author, async ({ transaction, crewMemberId, note }) => {
      await PhotoRow.create(
        {
          ...scaled,
          takenAt: scaled.takenAt === null ? null : new Date(scaled.takenAt),
          latitudeDeg: keepPosition ? latitudeDeg : null,
          longitudeDeg: keepPosition ? longitudeDeg : null,
          id: author.changeId,
          jobId,
          radioId: of === 'radio' ? id : null,
          placeId: of === 'place' ? id : null,
          visitId: of === 'visit' ? id : null,
          crewMemberId,
          caption,
          fullJpeg: Buffer.from(full),
          smallJpeg: Buffer.from(small),
        },
        { transaction },
      );
      await note({ kind: 'visit', summary: `Added a photo of a ${of}${caption && `: ${caption}`}` });
      return null;
    });
    return viewPhoto(await PhotoRow.findByPk(author.changeId, { rejectOnEmpty: true }));
  }

  async changePhoto(id: string, { version, caption }: PhotoBody, author: Author): Promise<Photo> {
    const jobId = await jobOf(PhotoRow, id, 'photo');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(PhotoRow, id, version, 'photo', transaction);
      if (row.caption === caption) return null;
      await row.update({ caption }, { transaction });
      await note({ kind: 'visit', summary: `Wrote under a photo: ${caption || 'nothing'}` });
      return null;
    });
    return viewPhoto(await PhotoRow.findByPk(id, { rejectOnEmpty: true }));
  }

  async picture(id: string, size: 'small' | 'full'): Promise<Buffer> {
    const row = await PhotoRow.unscoped().findByPk(id, { attributes: [size === 'full' ? 'fullJpeg' : 'smallJpeg'] });
    if (!row) throw notFound('photo');
    return size === 'full' ? row.fullJpeg : row.smallJpeg;
  }
}

/** Times as people write them. */
const inWords = (difference: Difference): Difference => {
  if (!difference.field.endsWith('At')) return difference;
  const told = (value: unknown): unknown => (typeof value === 'string' ? momentText(value) : value);
  return { ...difference, before: told(difference.before), after: told(difference.after) };
};

const isoOf = (text: string | undefined): string | undefined => text && new Date(text).toISOString();

export function viewVisit(row: VisitRow): Visit {
  const { jobId, startedAt, endedAt, ...rest } = row.get({ plain: true });
  void jobId;
  return { ...rest, startedAt: startedAt.toISOString(), endedAt: endedAt?.toISOString() ?? null };
}

export function viewPhoto(row: PhotoRow): Photo {
  const { jobId, addedAt, takenAt, fullJpeg, smallJpeg, ...rest } = row.get({ plain: true });
  void [jobId, fullJpeg, smallJpeg];
  return { ...rest, addedAt: addedAt.toISOString(), takenAt: takenAt?.toISOString() ?? null };
}
