import { LevelProfileBody } from '@kivram/contract/requests/level';
import { check } from '@kivram/contract/validate';
import {
  profileDocumentFormat,
  profileDocumentVersion,
  type LevelProfile,
  type ProfileDocument,
  type ProfilesImport,
} from '@kivram/contract/views/level';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { LevelProfileRow } from '../database/models/levelProfile';
import { LevelSourceRow } from '../database/models/levelSource';
import type { Author } from '../http/author';
import { isUuid } from '../http/serve';
import { ApiProblem, changedMeanwhile, notFound } from '../http/apiProblem';
import { makeOnce } from './changes';

/** What a file of profiles may hold. */
const mostProfiles = 500;

/** What is read of which kind of radio, and where it stands in its answers. */
export class LevelProfiles {
  constructor(private readonly sequelize: Sequelize) {}

  async list(): Promise<LevelProfile[]> {
    const used = await this.sequelize.query<{ id: string; used: string }>(
      'SELECT profile_id AS id, count(*) AS used FROM level_source WHERE profile_id IS NOT NULL GROUP BY profile_id',
      { type: QueryTypes.SELECT },
    );
    const counts = new Map(used.map(({ id, used: count }) => [id, Number(count)]));
    const rows = await LevelProfileRow.findAll({ order: [['name', 'ASC']] });
    return rows.map((row) => ({ ...bodyOf(row), version: row.version, id: row.id, used: counts.get(row.id) ?? 0 }));
  }

  async save(id: string, body: LevelProfileBody, author: Author): Promise<LevelProfile> {
    refuseEmpty(body);
    await makeOnce(this.sequelize, author, async (transaction) => {
      const row = await LevelProfileRow.findByPk(id, { transaction, lock: true });
      if ((row?.version ?? -1) !== body.version) throw changedMeanwhile('profile');
      await refuseTwin(id, body.name, transaction);
      await keep(id, body, row, transaction);
      return null;
    });
    const saved = (await this.list()).find((profile) => profile.id === id);
    if (!saved) throw notFound('profile');
    return saved;
  }

  async remove(id: string, version: number, author: Author): Promise<void> {
    await makeOnce(this.sequelize, author, async (transaction) => {
      const row = await LevelProfileRow.findByPk(id, { transaction, lock: true });
      if (!row) throw notFound('profile');
      if (row.version !== version) throw changedMeanwhile('profile');
      const used = await LevelSourceRow.count({ where: { profileId: id }, transaction });
      if (used)
        throw new ApiProblem(
          409,
          'In use',
          `${used} end${used > 1 ? 's are' : ' is'} read by "${row.name}": choose another profile there first.`,
        );
      await row.destroy({ transaction });
      return null;
    });
  }

  async export(): Promise<ProfileDocument> {
    const rows = await LevelProfileRow.findAll({ order: [['name', 'ASC']] });
    return {
      format: profileDocumentFormat,
      formatVersion: profileDocumentVersion,
      profiles: rows.map((row) => ({ id: row.id, ...bodyOf(row) })),
    };
  }

  /** Takes what is sound, and says of the rest what is wrong. A profile of an identifier that is known replaces it. */
  async import(text: string, author: Author): Promise<ProfilesImport> {
    const plain = profilesIn(text);
    return makeOnce(this.sequelize, author, async (transaction) => {
      const result: ProfilesImport = { taken: [], refused: [] };
      for (const [index, profile] of plain.entries()) {
        const { id, ...fields } = profile as Record<string, unknown>;
        const name = typeof fields.name === 'string' && fields.name ? fields.name.slice(0, 60) : `number ${index + 1}`;
        const reasons = await keepForeign(id, fields, transaction);
        if (reasons.length) result.refused.push({ name, reasons });
        else result.taken.push(name);
      }
      return result;
    });
  }
}

function bodyOf({ name, way, values }: LevelProfileRow): Omit<LevelProfileBody, 'version'> {
  return { name, way, ...values };
}

async function keepForeign(id: unknown, fields: object, transaction: Transaction): Promise<string[]> {
  if (typeof id !== 'string' || !isUuid(id)) return ['its id is no UUID'];
  const checked = check(LevelProfileBody, { version: 0, ...fields });
  if (checked.errors) return checked.errors.map((e) => e.message);
  try {
    refuseEmpty(checked.value);
    await refuseTwin(id, checked.value.name, transaction);
  } catch (error) {
    return [(error as Error).message];
  }
  await keep(id, checked.value, await LevelProfileRow.findByPk(id, { transaction }), transaction);
  return [];
}

/** Puts a profile in, or in the place of one of this identifier. */
export async function keep(
  id: string,
  { name, way, level, chains, noise, txRate, rxRate }: Omit<LevelProfileBody, 'version'>,
  row: LevelProfileRow | null,
  transaction: Transaction,
): Promise<void> {
  const plain = JSON.parse(JSON.stringify({ level, chains, noise, txRate, rxRate })) as LevelProfileRow['values'];
  if (row) await row.update({ name, way, values: plain }, { transaction });
  else await LevelProfileRow.create({ id, name, way, values: plain }, { transaction });
}

async function refuseTwin(id: string, name: string, transaction: Transaction): Promise<void> {
  const rows = await LevelProfileRow.findAll({ transaction });
  if (rows.some((row) => row.id !== id && row.name.toLowerCase() === name.toLowerCase()))
    throw new ApiProblem(409, 'Name taken', `There is another profile called "${name}": give this one another name.`);
}

function refuseEmpty({ level, chains }: Pick<LevelProfileBody, 'level' | 'chains'>): void {
  if (!level && !chains.length)
    throw new ApiProblem(
      422,
      'Nothing to read',
      'Say where the level stands, or where the levels of the chains stand.',
    );
}

function profilesIn(text: string): object[] {
  const wrong = (detail: string): ApiProblem => new ApiProblem(422, 'Not valid', detail);
  let file: unknown;
  try {
    file = JSON.parse(text);
  } catch {
    throw wrong('This file is no JSON. Choose a file that Kivram has written.');
  }
  const { format, formatVersion, profiles } = (file ?? {}) as Partial<ProfileDocument>;
  if (format !== profileDocumentFormat || !Array.isArray(profiles))
    throw wrong(`This file holds no profiles: "format" should be "${profileDocumentFormat}".`);
  if (formatVersion !== profileDocumentVersion)
    throw wrong(`formatVersion is ${String(formatVersion)}, and this Kivram reads version ${profileDocumentVersion}.`);
  if (profiles.length > mostProfiles) throw wrong(`The file holds more than ${mostProfiles} profiles.`);
  return profiles.filter(
    (profile): profile is (typeof profiles)[number] => typeof profile === 'object' && profile !== null,
  );
}
