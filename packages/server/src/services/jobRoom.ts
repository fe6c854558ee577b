import { jobFileLimits } from '@kivram/contract/jobDocument/limits';
import { QueryTypes, type Sequelize } from 'sequelize';
import { ApiProblem } from '../http/apiProblem';

/** What a job may hold, so that its file can always be brought back: under what a file may hold by what comes before it is counted again. */
export interface RoomLimits {
  /** rows of each list, by what they are called */
  lists: Readonly<Record<string, number>>;
  values: number;
  characters: number;
  readings: number;
  photoMegabytes: number;
}

const { links, values, characters, readings, photos, photoMegabytes } = jobFileLimits;
const share = 0.9;
const usualLimits: RoomLimits = {
  lists: {
    links,
    places: 4 * links,
    'settings sheets': 10 * links,
    'bench runs': 10 * links,
    alignments: 5 * links,
    'throughput tests': 5 * links,
    'path checks': 5 * links,
    'kept plans': 20 * links,
    'lines of timeline': 50 * links,
    'things in the way': 2 * links,
    cables: 4 * links,
    people: 500,
    'local rules': 1000,
    licences: 1000,
    visits: 5000,
    photos,
  },
  values,
  characters,
  readings,
  photoMegabytes,
};

/** A job is counted again after so many changes. */
const changesBetween = 50;

/** Requests that leave no more than a line on the timeline. */
const takesNoRoom = /^(GET|DELETE) |\/(finish|abandon|passphrases) /;

const inJob = 'job_id = :jobId';
const ofLink = 'link_id IN (SELECT id FROM link WHERE job_id = :jobId)';
const ofRadio = 'radio_id IN (SELECT id FROM radio WHERE job_id = :jobId)';

/** Each list: its table, which of its rows are of a job, and how many bytes of a row stand for one value in the file, at least, as counted in the demo. */
const lists: readonly [list: string | null, table: string, where: string, bytesOfValue: number][] = [
  ['links', 'link', inJob, 12],
  ['places', 'place', inJob, 10],
  [null, 'air', inJob, 9],
  [null, 'radio', inJob, 12],
  ['settings sheets', 'sheet', ofRadio, 10],
  ['bench runs', 'bench_run', ofLink, 18],
  ['alignments', 'alignment', ofLink, 18],
  [null, 'aim_mark', `alignment_id IN (SELECT id FROM alignment WHERE ${ofLink})`, 15],
  ['throughput tests', 'test_without_file', ofLink, 18],
  ['path checks', 'path_check', ofLink, 10],
  ['kept plans', 'alternative', ofLink, 10],
  ['lines of timeline', 'event', inJob, 15],
  ['things in the way', 'obstacle', inJob, 10],
  ['cables', 'cable', inJob, 10],
  [null, 'place_need', 'place_id IN (SELECT id FROM place WHERE job_id = :jobId)', 10],
  ['people', 'crew_member', inJob, 10],
  ['local rules', 'local_rule', inJob, 10],
  ['licences', 'licence', inJob, 10],
  [null, 'known_device', 'network_id IN (SELECT id FROM network WHERE job_id = :jobId)', 10],
  ['visits', 'visit', inJob, 10],
];

/** The names of fields stand in the file with each row, and not in the database: so many characters are there for a byte here, at most. */
const charactersOfByte = 1.8;

const counting = `
  WITH test_without_file AS (
    SELECT id, link_id, at, direction, source, verdict, basis, conditions, note, file_name, warning FROM throughput_test
  )
  ${lists
    .map(
      ([list, table, where, bytesOfValue]) =>
        `SELECT '${list ?? ''}' AS list, count(*)::float8 AS rows, coalesce(sum(octet_length(t::text)), 0)::float8 AS bytes, ${bytesOfValue}::float8 AS "bytesOfValue"
         FROM ${table} t WHERE ${where}`,
    )
    .join(' UNION ALL ')}
  UNION ALL SELECT 'photos', count(*), coalesce(sum(octet_length(full_jpeg)), 0), NULL FROM photo WHERE ${inJob}
  UNION ALL SELECT 'readings', count(*), 0, NULL FROM reading
    WHERE alignment_id IN (SELECT id FROM alignment WHERE ${ofLink})`;

interface Counted {
  list: string;
  rows: number;
  bytes: number;
  bytesOfValue: number | null;
}

const rooms = new WeakMap<Sequelize, JobRoom>();

/** The room of the jobs of a database. */
export function roomOf(sequelize: Sequelize): JobRoom {
  const room = rooms.get(sequelize) ?? new JobRoom(sequelize);
  rooms.set(sequelize, room);
  return room;
}

/** How full each job is, counted beside the changes, so that none of them waits for it. */
export class JobRoom {
  private readonly changes = new Map<string, number>();
  private readonly full = new Map<string, string>();
  private counted: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly sequelize: Sequelize,
    private limits: RoomLimits = usualLimits,
  ) {}

  /** For tests, which do not write half a million rows. */
  limitTo(limits: Partial<RoomLimits>): void {
    this.limits = { ...usualLimits, ...limits };
  }

  /**
   * @param madeBy what is asked for: whatever takes something away, or ends it, may be done in a full job too
   * @throws ApiProblem where the job holds all that its file can carry
   */
  refuseFull(jobId: string, madeBy: string): void {
    const what = this.full.get(jobId);
    if (what === undefined || takesNoRoom.test(madeBy)) return;
    throw new ApiProblem(
      409,
      'The job is full',
      `This job holds ${what}, which is all that its file can carry. Remove what is not needed, or begin another job with its plan.`,
    );
  }

  isFull(jobId: string): boolean {
    return this.full.has(jobId);
  }

  /** A change was made. */
  noteChange(jobId: string): void {
    const made = this.changes.get(jobId) ?? 0;
    this.changes.set(jobId, made + 1);
    // A full job is looked at each time: something may have been removed.
    if (made % changesBetween === 0 || this.full.has(jobId)) this.count(jobId).catch(() => undefined);
  }

  /** Counts a job; one after the other, since a large one takes a while. */
  count(jobId: string): Promise<void> {
    const counting = this.counted.then(() => this.look(jobId));
    // Where the database does not answer now, it is counted with a later change.
    this.counted = counting.catch(() => undefined);
    return counting;
  }

  private async look(jobId: string): Promise<void> {
    const rows = await this.sequelize.query<Counted>(counting, { type: QueryTypes.SELECT, replacements: { jobId } });
    const what = fullest(rows, this.limits);
    if (what === null) this.full.delete(jobId);
    else this.full.set(jobId, what);
  }
}

/** What a job holds too much of to hold more, in words; null where there is room. */
function fullest(rows: readonly Counted[], limits: RoomLimits): string | null {
  const stored = rows.filter(({ bytesOfValue }) => bytesOfValue !== null);
  const sum = (of: (row: Counted) => number): number => stored.reduce((so, row) => so + of(row), 0);
  const of = (list: string): Counted | undefined => rows.find((row) => row.list === list);
  const sizes: [what: string, is: number, most: number][] = [
    ...Object.entries(limits.lists).map(([list, most]): [string, number, number] => [list, of(list)?.rows ?? 0, most]),
    ['readings', of('readings')?.rows ?? 0, limits.readings],
    ['MB of photos', (of('photos')?.bytes ?? 0) / 1e6, limits.photoMegabytes],
    ['values', sum(({ bytes, bytesOfValue }) => bytes / (bytesOfValue ?? 1)), limits.values],
    ['characters', sum(({ bytes }) => bytes * charactersOfByte), limits.characters],
  ];
  const full = sizes.find(([, is, most]) => is >= share * most);
  return full ? `${Math.round(full[1]).toLocaleString('en-GB')} ${full[0]}` : null;
}
