import type { Model } from '@kivram/core';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { GearModelRow } from '../database/models';

/** The newest revision of every spec sheet. */
export async function newestModels(): Promise<GearModelRow[]> {
  const sequelize = GearModelRow.sequelize as Sequelize;
  return sequelize.query(`SELECT DISTINCT ON (id) * FROM gear_model ORDER BY id, revision DESC`, {
    type: QueryTypes.SELECT,
    model: GearModelRow,
    mapToModel: true,
  });
}

/** Puts a spec sheet in: as a new revision, unless one of its revisions says just that. @returns the revision that says it */
export async function keepModel(spec: Model, transaction?: Transaction): Promise<number> {
  const revisions = await GearModelRow.findAll({ where: { id: spec.id }, order: [['revision', 'ASC']], transaction });
  const same = revisions.find((row) => sameSpec(row.spec, spec));
  if (same) return same.revision;
  const revision = (revisions.at(-1)?.revision ?? 0) + 1;
  await GearModelRow.create({ id: spec.id, revision, spec }, { transaction });
  return revision;
}

/** The database keeps no order of keys. */
function sameSpec(a: unknown, b: unknown): boolean {
  return canonical(a) === canonical(b);
}

function canonical(value: unknown): string {
  return JSON.stringify(value, (_key, part: unknown) =>
    part && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );
}
