import type { Model } from '@kivram/core/gear/model';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { GearModelRow } from '../database/models/gearModel';
import { sameJson } from './sameJson';

/** The newest revision of every spec sheet. */
export async function newestModels(transaction?: Transaction): Promise<GearModelRow[]> {
  const sequelize = GearModelRow.sequelize as Sequelize;
  return sequelize.query(`SELECT DISTINCT ON (id) * FROM gear_model WHERE offered ORDER BY id, revision DESC`, {
    type: QueryTypes.SELECT,
    transaction,
    model: GearModelRow,
    mapToModel: true,
  });
}

/** Puts a spec sheet in: as a new revision, unless one of its revisions says just that. @returns the revision that says it */
export async function keepModel(spec: Model, transaction?: Transaction): Promise<number> {
  const revisions = await revisionsOf(spec, transaction);
  const same = revisions.find((row) => sameJson(row.spec, spec));
  if (same && !same.offered) await same.update({ offered: true }, { transaction });
  return same?.revision ?? addRevision(spec, revisions, true, transaction);
}

/** Keeps a spec sheet that came with a job's file. Where the catalogue has one of that name, radios that are planned here are none of its. */
export async function keepForeignModel(spec: Model, transaction: Transaction): Promise<number> {
  const revisions = await revisionsOf(spec, transaction);
  const same = revisions.find((row) => sameJson(row.spec, spec));
  return same?.revision ?? addRevision(spec, revisions, !revisions.length, transaction);
}

function revisionsOf({ id }: Model, transaction?: Transaction): Promise<GearModelRow[]> {
  return GearModelRow.findAll({ where: { id }, order: [['revision', 'ASC']], transaction });
}

async function addRevision(
  spec: Model,
  revisions: readonly GearModelRow[],
  offered: boolean,
  transaction?: Transaction,
): Promise<number> {
  const revision = (revisions.at(-1)?.revision ?? 0) + 1;
  await GearModelRow.create({ id: spec.id, revision, spec, offered }, { transaction });
  return revision;
}
