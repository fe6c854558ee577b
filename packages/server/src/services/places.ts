import type { ImportPlacesBody, NewPlaceBody, PlaceBody } from '@kivram/contract/requests/place';
import type { PlacesImport } from '@kivram/contract/views/terrain';
import type { Sequelize } from 'sequelize';
import { JobRow } from '../database/models/job';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import { ApiProblem, notFound } from '../http/apiProblem';
import type { Intake } from '../intake/intake';
import { terrainShelf } from '../terrain/shelf';
import type { Author } from '../http/author';
import { defined, differing, lockVersion, makeChange, sentence } from './changes';
import { freeName } from './freeName';
import { groundAt, groundsAtZero } from './ground';
import { viewPlace } from './rowViews';

/** Characters of a place's name. */
const longestName = 60;

/** Places on the map: made by hand or from a file, moved, renamed. */
export class Places {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly intake: Intake,
  ) {}

  async create(jobId: string, body: NewPlaceBody, author: Author): Promise<PlaceRow> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const groundHeightM = body.groundHeightM ?? (await groundAt(body));
    const id = await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await PlaceRow.create({ ...body, groundHeightM, jobId }, { transaction });
      await note({ kind: 'plan', summary: `Put ${row.name} on the map` });
      return row.id;
    });
    return PlaceRow.findByPk(id, { rejectOnEmpty: true });
  }

  async change(
    placeId: string,
    { version, groundFromTerrain, ...changes }: PlaceBody,
    author: Author,
  ): Promise<PlaceRow> {
    const before = await PlaceRow.findByPk(placeId);
    if (!before) throw notFound('place');
    if (groundFromTerrain) {
      const at = { latitudeDeg: before.latitudeDeg, longitudeDeg: before.longitudeDeg, ...defined(changes) };
      changes.groundHeightM = await groundAt(at);
    }
    await makeChange(this.sequelize, before.jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(PlaceRow, placeId, version, 'place', transaction);
      if (changes.kind === 'landmark' && (await RadioRow.count({ where: { placeId }, transaction }))) {
        throw new ApiProblem(409, 'In use', `${row.name} carries radios, so it stays a site.`);
      }
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return null;
      await row.update(defined(changes), { transaction });
      await note({
        kind: 'plan',
        summary: `Moved or renamed ${row.name}: ${sentence(differences)}`,
        detail: { placeId, differences },
      });
      return null;
    });
    return PlaceRow.findByPk(placeId, { rejectOnEmpty: true });
  }

  /** Gives places that stand at 0 m the heights of the terrain, where it knows better. What somebody has changed meanwhile stays. */
  async takeGround(jobId: string, author: Author): Promise<{ changed: number }> {
    const before = await PlaceRow.findAll({ where: { jobId }, order: [['name', 'ASC']] });
    const grounds = await groundsAtZero(before);
    const changed = await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const names: string[] = [];
      for (const row of await PlaceRow.findAll({
        where: { id: [...grounds.keys()], groundHeightM: 0 },
        order: [['name', 'ASC']],
        transaction,
        lock: true,
      })) {
        await row.update({ groundHeightM: grounds.get(row.id) }, { transaction });
        names.push(row.name);
      }
      if (!names.length) return 0;
      const shown = names.slice(0, 3).join(', ');
      const more = names.length > 3 ? ` and ${names.length - 3} more` : '';
      await note({ kind: 'plan', summary: `Took the terrain's height for ${shown}${more}` });
      return names.length;
    });
    return { changed };
  }

  /** Reads a file of waypoints in, all of it or nothing. What is there already under that name and at that position is left as it is; other names that exist get a number. */
  async import(jobId: string, { fileName, text, kind }: ImportPlacesBody, author: Author): Promise<PlacesImport> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const { waypoints, notes } = await this.intake.run('places', { fileName, text });
    const terrain = await terrainShelf.heightsM(waypoints);
    return makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const known = await PlaceRow.findAll({ where: { jobId }, transaction });
      const taken = new Set(known.map((p) => p.name));
      const there = new Set(known.map(spotOf));
      const fresh = waypoints.flatMap((waypoint, i) => {
        const spot = spotOf(waypoint);
        if (there.has(spot)) return [];
        there.add(spot);
        return [{ waypoint, terrainM: terrain[i] as number }];
      });
      const again = waypoints.length - fresh.length;
      if (again)
        notes.push(
          `${again === 1 ? 'One was' : `${again} were`} here already, by name and position, and left as they are.`,
        );
      const unknown: string[] = [];
      const rows = fresh.map(({ waypoint, terrainM }) => {
        const name = freeName(waypoint.name, taken, longestName);
        taken.add(name);
        if (name !== waypoint.name) notes.push(`"${waypoint.name}" is called "${name}" here, for that name was taken.`);
        const groundHeightM = Number.isNaN(terrainM) ? (waypoint.heightM ?? 0) : terrainM;
        if (Number.isNaN(terrainM) && waypoint.heightM === null) unknown.push(name);
        const { latitudeDeg, longitudeDeg } = waypoint;
        return { jobId, name, latitudeDeg, longitudeDeg, groundHeightM: Math.round(groundHeightM * 10) / 10, kind };
      });
      if (unknown.length) notes.push(heightUnknown(unknown));
      const places = await PlaceRow.bulkCreate(rows, { transaction });
      await note({ kind: 'plan', summary: `Read ${places.length} places from ${fileName}` });
      return { places: places.map(viewPlace), notes };
    });
  }
}

/** One sentence for all of them: sixty equal ones are read by nobody. */
function heightUnknown(names: readonly string[]): string {
  const shown = names.slice(0, 3).join(', ');
  if (names.length === 1) return `${shown}: neither the file nor the terrain knows its height; it stands at 0 m.`;
  const more = names.length > 3 ? ` and ${names.length - 3} more` : '';
  return `${shown}${more}: neither the file nor the terrain knows their heights; they stand at 0 m until the terrain is here.`;
}

/** A name at a position, to about a metre: exported places come back rounded. */
function spotOf({
  name,
  latitudeDeg,
  longitudeDeg,
}: {
  name: string;
  latitudeDeg: number;
  longitudeDeg: number;
}): string {
  return `${name.trim().toLowerCase()} ${latitudeDeg.toFixed(5)} ${longitudeDeg.toFixed(5)}`;
}
