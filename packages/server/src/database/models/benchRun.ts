import type { Basis } from '@kivram/core/evidence/basis';
import type { EvidenceKind } from '@kivram/core/evidence/evidence';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, json, now, Row, tableOptions, text, uuid } from './columns';

/** A try to pair, by stand-in radios or as an installer tells it. */
export class BenchRunRow extends Row<BenchRunRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare at: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare linked: boolean;
  declare evidenceKind: EvidenceKind;
  declare basis: Basis | null;
}

export function initBenchRun(sequelize: Sequelize): void {
  BenchRunRow.init(
    attributes({ id, linkId: uuid, at: now, crewMemberId: uuid, linked: flag, evidenceKind: text, basis: json }),
    tableOptions(sequelize, 'BenchRunRow', 'bench_run'),
  );
}
