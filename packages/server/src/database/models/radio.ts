import type { AirRole } from '@kivram/core/air/air';
import type { RadioBasis } from '@kivram/core/evidence/basis';
import type { CableRun } from '@kivram/core/gear/cable';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, json, number, Row, tableOptions, text, time, uuid, version, whole } from './columns';

export class RadioRow extends Row<RadioRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare placeId: string;
  declare modelId: string;
  declare modelRevision: number;
  declare airId: string;
  declare role: AirRole;
  declare mountHeightM: number;
  declare polarisation: CreationOptional<'vertical' | 'horizontal' | 'dual'>;
  declare conductedDbm: number;
  declare cableLossDb: CreationOptional<number>;
  declare cable: CreationOptional<CableRun | null>;
  declare aimOffDeg: CreationOptional<number>;
  declare interferenceDb: CreationOptional<number>;
  declare azimuthDeg: CreationOptional<number | null>;
  declare tiltDeg: CreationOptional<number | null>;
  declare note: CreationOptional<string>;
  declare serial: CreationOptional<string | null>;
  declare mac: CreationOptional<string | null>;
  declare mountedAt: CreationOptional<Date | null>;
  declare mountedBy: CreationOptional<string | null>;
  declare mountBasis: CreationOptional<RadioBasis | null>;
  declare version: CreationOptional<number>;
}

export function initRadio(sequelize: Sequelize): void {
  RadioRow.init(
    attributes({
      id,
      jobId: uuid,
      placeId: uuid,
      modelId: text,
      modelRevision: whole,
      airId: uuid,
      role: text,
      mountHeightM: number,
      polarisation: { ...text, defaultValue: 'dual' },
      conductedDbm: number,
      cableLossDb: { ...number, defaultValue: 0 },
      cable: json,
      aimOffDeg: { ...number, defaultValue: 0 },
      interferenceDb: { ...number, defaultValue: 0 },
      azimuthDeg: number,
      tiltDeg: number,
      note: { ...text, defaultValue: '' },
      serial: text,
      mac: text,
      mountedAt: time,
      mountedBy: uuid,
      mountBasis: json,
      version,
    }),
    tableOptions(sequelize, 'RadioRow', 'radio', 'locked'),
  );
}
