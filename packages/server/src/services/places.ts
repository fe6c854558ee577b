import type { ImportPlacesBody, NewPlaceBody, PlaceBody, PlacesImport } from '@kivram/contract';
import type { Sequelize } from 'sequelize';
import { JobRow, PlaceRow, RadioRow } from '../database/models';
import { readWaypoints } from '../formats/places';
import { ApiProblem, notFound } from '../http/problem';
import { terrainShelf } from '../terrain/shelf';
import { defined, differing, lockVersion, sentence } from './changes';
import { noteEvent } from './events';
import { groundAt } from './ground';
import { viewPlace } from './links';

/** Places on the map: made by hand or from a file, moved, removed. */
export class Places {
  constructor(private readonly sequelize: Sequelize) {}

  async create(jobId: string, { crewMemberId, ...body }: NewPlaceBody): Promise<PlaceRow> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const groundHeightM = body.groundHeightM ?? (await groundAt(body));
    return this.sequelize.transaction(async (transaction) => {
      const row = await PlaceRow.create({ ...body, groundHeightM, jobId }, { transaction });
      await noteEvent({ jobId, crewMemberId, kind: 'plan', summary: `Put ${row.name} on the map` }, transaction);
      return row;
    });
  }

  async change(
    placeId: string,
    { version, crewMemberId, groundFromTerrain, ...changes }: PlaceBody,
  ): Promise<PlaceRow> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await lockVersion(PlaceRow, placeId, version, 'place', transaction);
      if (changes.kind === 'landmark' && (await RadioRow.count({ where: { placeId }, transaction }))) {
        throw new ApiProblem(409, 'In use', `${row.name} carries radios, so it stays a site.`);
      }
      if (groundFromTerrain) {
        const at = { latitudeDeg: row.latitudeDeg, longitudeDeg: row.longitudeDeg, ...defined(changes) };
        changes.groundHeightM = await groundAt(at);
      }
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return row;
      await row.update(defined(changes), { transaction });
      await noteEvent(
        {
          jobId: row.jobId,
          crewMemberId,
          kind: 'plan',
          summary: `Moved or renamed ${row.name}: ${sentence(differences)}`,
          detail: { differences },
        },
        transaction,
      );
      return row;
    });
  }

  async remove(placeId: string): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      const row = await PlaceRow.findByPk(placeId, { transaction, lock: true });
      if (!row) throw notFound('place');
      if (await RadioRow.count({ where: { placeId }, transaction })) {
        throw new ApiProblem(409, 'In use', `${row.name} carries radios of a link, so it stays.`);
      }
      await row.destroy({ transaction });
      await noteEvent(
        { jobId: row.jobId, crewMemberId: null, kind: 'plan', summary: `Took ${row.name} off the map` },
        transaction,
      );
    });
  }

  /** Reads a file of waypoints in, all of it or nothing. Names that exist get a number. */
  async import(jobId: string, { fileName, text, kind, crewMemberId }: ImportPlacesBody): Promise<PlacesImport> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const { waypoints, notes } = readWaypoints(fileName, text);
    const terrain = await terrainShelf.heightsM(waypoints);
    return this.sequelize.transaction(async (transaction) => {
      const taken = new Set((await PlaceRow.findAll({ where: { jobId }, transaction })).map((p) => p.name));
      const rows = waypoints.map((waypoint, i) => {
        const name = freeName(waypoint.name, taken);
        taken.add(name);
        if (name !== waypoint.name) notes.push(`"${waypoint.name}" is called "${name}" here, for that name was taken.`);
        const known = terrain[i] as number;
        const groundHeightM = Number.isNaN(known) ? (waypoint.heightM ?? 0) : known;
        if (Number.isNaN(known) && waypoint.heightM === null) {
          notes.push(`${name}: neither the file nor the terrain knows its height; it stands at 0 m.`);
        }
        const { latitudeDeg, longitudeDeg } = waypoint;
        return { jobId, name, latitudeDeg, longitudeDeg, groundHeightM: Math.round(groundHeightM * 10) / 10, kind };
      });
      const places = await PlaceRow.bulkCreate(rows, { transaction });
      await noteEvent(
        { jobId, crewMemberId, kind: 'plan', summary: `Read ${places.length} places from ${fileName}` },
        transaction,
      );
      return { places: places.map(viewPlace), notes };
    });
  }
}

function freeName(name: string, taken: ReadonlySet<string>): string {
  for (let number = 1; ; number++) {
    const suffix = number === 1 ? '' : ` ${number}`;
    const candidate = name.slice(0, 60 - suffix.length) + suffix;
    if (!taken.has(candidate)) return candidate;
  }
}
