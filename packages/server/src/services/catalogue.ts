import { SpecRecord, type SpecFields } from '@kivram/contract/entities/spec';
import type { ModelBody } from '@kivram/contract/requests/gear';
import { check } from '@kivram/contract/validate';
import {
  gearDocumentFormat,
  gearDocumentVersion,
  type CatalogueEntry,
  type GearDocument,
  type ModelsImport,
} from '@kivram/contract/views/gear';
import type { Model } from '@kivram/core/gear/model';
import { checkSpec } from '@kivram/core/gear/plausible';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { GearModelRow } from '../database/models/gearModel';
import type { Author } from '../http/author';
import { ApiProblem, changedMeanwhile, notFound } from '../http/apiProblem';
import { makeOnce } from './changes';
import { keepModel, newestModels } from './gear';
import { notPossible } from './gearChecks';
import { sameJson } from './sameJson';

/** What a file of spec sheets may hold. */
const mostModels = 1000;

/** The spec sheets that radios are planned with. A change makes a new revision; radios keep theirs until they are told to follow. */
export class Catalogue {
  constructor(private readonly sequelize: Sequelize) {}

  async list(): Promise<CatalogueEntry[]> {
    const rows = await this.sequelize.query<CatalogueEntry>(entries, { type: QueryTypes.SELECT });
    return rows.map((row) => ({ ...row, madeAt: new Date(row.madeAt).toISOString() }));
  }

  async create(fields: SpecFields, author: Author): Promise<CatalogueEntry> {
    refuse(fields);
    const id = await makeOnce(this.sequelize, author, async (transaction) => {
      const taken = await newestModels(transaction);
      const twin = taken.find(({ spec }) => sameName(spec, fields));
      if (twin)
        throw new ApiProblem(
          409,
          'Name taken',
          `${twin.spec.maker} ${twin.spec.name} is in the catalogue already: change that one, or give this one another name.`,
        );
      const fresh = await freeId(fields, transaction);
      await keepModel(specOf(fresh, fields), transaction);
      return fresh;
    });
    return this.entry(id);
  }

  async change(id: string, { revision, spec }: ModelBody, author: Author): Promise<CatalogueEntry> {
    refuse(spec);
    await makeOnce(this.sequelize, author, async (transaction) => {
      // Whoever changes this sheet too waits here, and then finds that it has changed.
      const rows = await GearModelRow.findAll({
        where: { id },
        order: [['revision', 'DESC']],
        transaction,
        lock: true,
      });
      const newest = rows.find((row) => row.offered);
      if (!newest) throw notFound('spec sheet');
      if (newest.revision !== revision) throw changedMeanwhile('spec sheet');
      const next = specOf(id, spec);
      if (sameJson(newest.spec, next)) return null;
      await GearModelRow.create(
        { id, revision: (rows[0]?.revision ?? 0) + 1, spec: next, offered: true },
        { transaction },
      );
      return null;
    });
    return this.entry(id);
  }

  /** Radios that are planned with it keep it. */
  async retire(id: string, author: Author): Promise<void> {
    await makeOnce(this.sequelize, author, async (transaction) => {
      const [count] = await GearModelRow.update({ offered: false }, { where: { id, offered: true }, transaction });
      if (!count) throw notFound('spec sheet');
      return null;
    });
  }

  async export(): Promise<GearDocument> {
    const models = (await newestModels()).map((row) => row.spec);
    return {
      format: gearDocumentFormat,
      formatVersion: gearDocumentVersion,
      exportedAt: new Date().toISOString(),
      models,
    };
  }

  /** Takes what is sound, and says of the rest what is wrong. A sheet of an identifier that is known becomes its next revision. */
  async import(text: string, author: Author): Promise<ModelsImport> {
    const plain = modelsIn(text);
    return makeOnce(this.sequelize, author, async (transaction) => {
      const result: ModelsImport = { taken: [], refused: [] };
      const known = new Map((await newestModels(transaction)).map((row) => [row.id, row.spec]));
      for (const [index, model] of plain.entries()) {
        const checked = check(SpecRecord, model);
        const name = nameIn(model) || `number ${index + 1}`;
        const reasons = checked.errors ? checked.errors.map((e) => e.message) : forbidden(checked.value);
        if (checked.errors || reasons.length) {
          result.refused.push({ name, reasons });
          continue;
        }
        const spec = { ...checked.value };
        const before = known.get(spec.id);
        const what = !before ? 'new' : sameJson(before, spec) ? 'known' : 'revision';
        if (what !== 'known') await keepModel(spec, transaction);
        known.set(spec.id, spec);
        result.taken.push({ id: spec.id, name, what });
      }
      return result;
    });
  }

  private async entry(id: string): Promise<CatalogueEntry> {
    const entry = (await this.list()).find(({ spec }) => spec.id === id);
    if (!entry) throw notFound('spec sheet');
    return entry;
  }
}

/** The newest revisions with how many radios are planned with them, and in which jobs with older ones. */
const entries = `
  WITH newest AS (
    SELECT DISTINCT ON (id) id, revision, spec, made_at FROM gear_model WHERE offered ORDER BY id, revision DESC
  ), used AS (
    SELECT n.id, r.job_id, count(*)::integer AS radios, count(*) FILTER (WHERE r.model_revision < n.revision)::integer AS older
    FROM newest n JOIN radio r ON r.model_id = n.id GROUP BY n.id, r.job_id
  )
  SELECT n.spec, n.revision, n.made_at AS "madeAt", coalesce(sum(u.radios), 0)::integer AS radios,
    coalesce(jsonb_agg(jsonb_build_object('jobId', j.id, 'job', j.name, 'radios', u.older) ORDER BY j.name) FILTER (WHERE u.older > 0), '[]') AS older
  FROM newest n LEFT JOIN used u ON u.id = n.id LEFT JOIN job j ON j.id = u.job_id
  GROUP BY n.id, n.spec, n.revision, n.made_at ORDER BY n.spec ->> 'maker', n.spec ->> 'name', n.id`;

/** @throws ApiProblem with everything that cannot be */
function refuse(fields: SpecFields): void {
  const reasons = forbidden(specOf('new', fields));
  if (reasons.length) throw notPossible(reasons.join(' '));
}

function forbidden(spec: Model): string[] {
  return checkSpec(spec).flatMap(({ severity, reason }) => (severity === 'forbids' ? [reason] : []));
}

/** A spec sheet as it is kept: plain data, what is not said left out. */
function specOf(id: string, fields: SpecFields): Model {
  const said = Object.entries(fields).filter(([, value]) => value !== null && value !== undefined);
  return JSON.parse(JSON.stringify({ id, ...Object.fromEntries(said) })) as Model;
}

function sameName(a: Pick<Model, 'maker' | 'name'>, b: Pick<Model, 'maker' | 'name'>): boolean {
  const words = ({ maker, name }: Pick<Model, 'maker' | 'name'>): string => `${maker} ${name}`.trim().toLowerCase();
  return words(a) === words(b);
}

const longestId = 60;

/** An identifier from maker and name that no spec sheet has had, in whatever revision. */
async function freeId({ maker, name }: SpecFields, transaction: Transaction): Promise<string> {
  const stem =
    `${maker} ${name}`
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, longestId - 5) || 'model';
  const rows = await GearModelRow.findAll({ attributes: ['id'], transaction });
  const taken = new Set(rows.map((row) => row.id));
  let id = stem;
  for (let n = 2; taken.has(id); n++) id = `${stem}-${n}`;
  return id;
}

/** The sheets in a file. @throws ApiProblem where it is none of spec sheets */
function modelsIn(text: string): unknown[] {
  let plain: unknown;
  try {
    plain = JSON.parse(text);
  } catch (error) {
    throw notPossible(`This file is no JSON: ${error instanceof Error ? error.message : String(error)}.`);
  }
  const { format, formatVersion, models } = (plain ?? {}) as Record<string, unknown>;
  if (format !== gearDocumentFormat || !Array.isArray(models))
    throw notPossible('This is no file of spec sheets: "format" should be "kivram-gear", and "models" a list.');
  if (formatVersion !== gearDocumentVersion)
    throw notPossible(
      `This file is of version ${JSON.stringify(formatVersion)?.slice(0, 20) ?? 'none'}; this Kivram reads version ${gearDocumentVersion}.`,
    );
  if (models.length > mostModels)
    throw notPossible(`The file holds ${models.length} spec sheets; ${mostModels} can be read at a time.`);
  return models;
}

function nameIn(model: unknown): string {
  const { maker, name } = (typeof model === 'object' && model !== null ? model : {}) as Record<string, unknown>;
  return [maker, name]
    .filter((word): word is string => typeof word === 'string')
    .join(' ')
    .slice(0, 120);
}
