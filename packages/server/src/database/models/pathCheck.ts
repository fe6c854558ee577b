import type { PathCheckBody } from '@kivram/contract/requests/pathCheck';
import type { InstrumentJudgement } from '@kivram/core/instruments/school';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, json, now, number, Row, tableOptions, uuid } from './columns';

/** A path measured with a signal generator and an analyser. */
export class PathCheckRow extends Row<PathCheckRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare at: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare setup: PathCheckBody['setup'];
  declare ticked: boolean[];
  declare readingsDbm: number[];
  declare predictedDbm: number;
  declare judgement: InstrumentJudgement;
}

export function initPathCheck(sequelize: Sequelize): void {
  PathCheckRow.init(
    attributes({
      id,
      linkId: uuid,
      at: now,
      crewMemberId: uuid,
      setup: json,
      ticked: json,
      readingsDbm: json,
      predictedDbm: number,
      judgement: json,
    }),
    tableOptions(sequelize, 'PathCheckRow', 'path_check'),
  );
}
