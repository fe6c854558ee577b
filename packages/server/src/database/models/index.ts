import type { AimMark, Model as Spec, Obstacle, ObstacleKind, ThroughputVerdict } from '@kivram/core';
import type { AlignmentSummary, EventKind, PlaceKind } from '@kivram/contract';
import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelAttributes,
  type Sequelize,
} from 'sequelize';

// The tables as Sequelize sees them. Columns and constraints are the migrations'; here are names and types only.

const text = { type: DataTypes.TEXT, allowNull: true };
const number = { type: DataTypes.DOUBLE, allowNull: true };
const whole = { type: DataTypes.INTEGER, allowNull: true };
const flag = { type: DataTypes.BOOLEAN, allowNull: true };
const uuid = { type: DataTypes.UUID, allowNull: true };
const json = { type: DataTypes.JSONB, allowNull: true };
const time = { type: DataTypes.DATE, allowNull: true };
const id = { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 };

class Row<M extends Model> extends Model<InferAttributes<M>, InferCreationAttributes<M>> {}

export class JobRow extends Row<JobRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare customer: CreationOptional<string>;
  declare country: string;
  declare version: CreationOptional<number>;
}

export class CrewMemberRow extends Row<CrewMemberRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
}

export class PlaceRow extends Row<PlaceRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare latitudeDeg: number;
  declare longitudeDeg: number;
  declare groundHeightM: number;
  declare kind: CreationOptional<PlaceKind>;
  declare note: CreationOptional<string>;
  declare version: CreationOptional<number>;
}

export class ObstacleRow extends Row<ObstacleRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare kind: ObstacleKind;
  declare footprint: Obstacle['footprint'];
  declare widthM: number;
  declare heightM: number;
  declare growthMPerYear: number;
  declare measuredYear: number;
  declare confidence: Obstacle['confidence'];
  declare version: CreationOptional<number>;
}

/** A terrain grid that went through an importer; its heights lie in tiles. */
export class TerrainFileRow extends Row<TerrainFileRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare format: string;
  declare epsg: number;
  declare columns: number;
  declare rows: number;
  declare westX: number;
  declare northY: number;
  declare cellX: number;
  declare cellY: number;
  declare cellM: number;
  declare wholeMetres: boolean;
  declare leastM: number;
  declare mostM: number;
  declare voidShare: number;
  declare bytes: number;
  declare sha256: string;
  declare importedAt: CreationOptional<Date>;
}

export class TerrainTileRow extends Row<TerrainTileRow> {
  declare fileId: string;
  declare number: number;
  declare cells: Buffer;
}

export class NetworkRow extends Row<NetworkRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare subnetAddress: string;
  declare prefix: number;
  declare gateway: string | null;
  declare dhcpFirst: string | null;
  declare dhcpLast: string | null;
  declare feedMbps: number | null;
  declare version: CreationOptional<number>;
}

export class KnownDeviceRow extends Row<KnownDeviceRow> {
  declare id: CreationOptional<string>;
  declare networkId: string;
  declare name: string;
  declare address: string;
}

export class GearModelRow extends Row<GearModelRow> {
  declare id: string;
  declare spec: Spec;
}

export class RadioRow extends Row<RadioRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare placeId: string;
  declare modelId: string;
  declare mountHeightM: number;
  declare polarisation: CreationOptional<'vertical' | 'horizontal' | 'dual'>;
  declare serial: CreationOptional<string | null>;
  declare mac: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}

export class LinkRow extends Row<LinkRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare nearRadioId: string;
  declare farRadioId: string;
  declare pathKind: CreationOptional<'outdoor' | 'shaft'>;
  declare duplex: CreationOptional<'tdd' | 'fdd'>;
  declare centreMHz: number;
  declare widthMHz: number;
  declare protocol: '802.11' | 'slots';
  declare nearConductedDbm: number;
  declare farConductedDbm: number;
  declare nearCableLossDb: CreationOptional<number>;
  declare farCableLossDb: CreationOptional<number>;
  declare needNearToFarMbps: number;
  declare needFarToNearMbps: number;
  declare nearMountedAt: CreationOptional<Date | null>;
  declare farMountedAt: CreationOptional<Date | null>;
  declare shaftLeastM: CreationOptional<number | null>;
  declare shaftMostM: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
}

export class SheetRow extends Row<SheetRow> {
  declare radioId: string;
  declare revision: number;
  declare savedAt: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare role: 'ap' | 'station';
  declare networkName: string;
  declare security: 'open' | 'wpa2-psk' | 'wpa3-sae';
  declare passphrase: string | null;
  declare band: Spec['band'];
  declare centreMHz: number;
  declare scanMHz: number[];
  declare widthMHz: number;
  declare followsWidth: boolean;
  declare protocol: '802.11' | 'slots';
  declare ptpOnly: boolean;
  declare bridge: boolean;
  declare conductedDbm: number;
  declare country: string;
  declare address: string;
  declare prefix: number;
  declare gateway: string | null;
  declare deviceName: string;
  declare firmware: string;
  declare txMHz: number | null;
  declare rxMHz: number | null;
}

export class BenchRunRow extends Row<BenchRunRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare at: CreationOptional<Date>;
  declare nearRevision: number;
  declare farRevision: number;
  declare linked: boolean;
}

/** What an alignment set out with. */
export type AlignmentPlan = Pick<AlignmentSummary, 'nearSource' | 'farSource' | 'order'> & {
  expectedDbm: { near: number; far: number };
};

export class AlignmentRow extends Row<AlignmentRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare state: AlignmentSummary['state'];
  declare startedAt: Date;
  declare finishedAt: CreationOptional<Date | null>;
  declare crewMemberId: string | null;
  declare plan: AlignmentPlan;
  declare result: CreationOptional<AlignmentSummary['result']>;
}

export class ReadingRow extends Row<ReadingRow> {
  declare alignmentId: string;
  declare at: Date;
  declare linkEnd: 'near' | 'far';
  declare tS: number;
  declare rslDbm: number | null;
  declare chainsDbm: number[];
  declare phoneAzimuthDeg: number | null;
  declare phoneTiltDeg: number | null;
}

export class AimMarkRow extends Row<AimMarkRow> {
  declare alignmentId: string;
  declare sequence: number;
  declare tS: number;
  declare kind: AimMark['kind'];
  declare direction: number | null;
}

export class ThroughputTestRow extends Row<ThroughputTestRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare at: Date;
  declare direction: 'nearToFar' | 'farToNear';
  declare source: 'iperf3' | 'standin' | 'hand';
  declare protocol: 'TCP' | 'UDP';
  declare mbps: number;
  declare seconds: number | null;
  declare retransmits: number | null;
  declare lossShare: number | null;
  declare jitterMs: number | null;
  declare aborted: boolean;
  declare fileName: string | null;
  declare note: CreationOptional<string>;
  declare crewMemberId: string | null;
  declare verdict: ThroughputVerdict;
  declare warning: string | null;
  declare raw: Record<string, unknown> | null;
  declare sha256: string | null;
}

export class EventRow extends Row<EventRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare linkId: string | null;
  declare at: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare kind: EventKind;
  declare summary: string;
  declare detail: CreationOptional<Record<string, unknown>>;
}

/** What the stand-in world of a link was made with, and where its mounts stand. */
export class StandinWorldRow extends Row<StandinWorldRow> {
  declare linkId: string;
  declare setup: Record<string, unknown>;
  declare mounts: CreationOptional<Record<string, unknown> | null>;
}

const version = { ...whole, defaultValue: 0 };
const key = (type: ModelAttributes[string]) => ({ ...(type as object), primaryKey: true });

/** Tables in the order in which they depend on each other. */
export function initModels(sequelize: Sequelize): void {
  const locked = { sequelize, version: true };
  // Sequelize writes into the attributes it is given, so each gets a copy; their types cannot be inferred from one, hence the cast.
  const attributes = (map: Record<string, object>) =>
    Object.fromEntries(Object.entries(map).map(([name, attribute]) => [name, { ...attribute }])) as never;

  JobRow.init(attributes({ id, name: text, customer: { ...text, defaultValue: '' }, country: text, version }), {
    ...locked,
    modelName: 'JobRow',
    tableName: 'job',
  });
  CrewMemberRow.init(attributes({ id, jobId: uuid, name: text }), {
    sequelize,
    modelName: 'CrewMemberRow',
    tableName: 'crew_member',
  });
  PlaceRow.init(
    attributes({
      id,
      jobId: uuid,
      name: text,
      latitudeDeg: number,
      longitudeDeg: number,
      groundHeightM: number,
      kind: { ...text, defaultValue: 'site' },
      note: { ...text, defaultValue: '' },
      version,
    }),
    { ...locked, modelName: 'PlaceRow', tableName: 'place' },
  );
  ObstacleRow.init(
    attributes({
      id,
      jobId: uuid,
      name: text,
      kind: text,
      footprint: json,
      widthM: number,
      heightM: number,
      growthMPerYear: { ...number, field: 'growth_m_per_year' },
      measuredYear: whole,
      confidence: text,
      version,
    }),
    { ...locked, modelName: 'ObstacleRow', tableName: 'obstacle' },
  );
  TerrainFileRow.init(
    attributes({
      id,
      name: text,
      format: text,
      epsg: whole,
      columns: whole,
      rows: whole,
      westX: number,
      northY: number,
      cellX: number,
      cellY: number,
      cellM: number,
      wholeMetres: flag,
      leastM: number,
      mostM: number,
      voidShare: number,
      bytes: { type: DataTypes.BIGINT },
      sha256: { ...text, field: 'sha256' },
      importedAt: { ...time, defaultValue: DataTypes.NOW },
    }),
    { sequelize, modelName: 'TerrainFileRow', tableName: 'terrain_file' },
  );
  TerrainTileRow.init(attributes({ fileId: key(uuid), number: key(whole), cells: { type: DataTypes.BLOB } }), {
    sequelize,
    modelName: 'TerrainTileRow',
    tableName: 'terrain_tile',
  });
  NetworkRow.init(
    attributes({
      id,
      jobId: uuid,
      subnetAddress: text,
      prefix: whole,
      gateway: text,
      dhcpFirst: text,
      dhcpLast: text,
      feedMbps: number,
      version,
    }),
    { ...locked, modelName: 'NetworkRow', tableName: 'network' },
  );
  KnownDeviceRow.init(attributes({ id, networkId: uuid, name: text, address: text }), {
    sequelize,
    modelName: 'KnownDeviceRow',
    tableName: 'known_device',
  });
  GearModelRow.init(attributes({ id: key(text), spec: json }), {
    sequelize,
    modelName: 'GearModelRow',
    tableName: 'gear_model',
  });
  RadioRow.init(
    attributes({
      id,
      jobId: uuid,
      placeId: uuid,
      modelId: text,
      mountHeightM: number,
      polarisation: { ...text, defaultValue: 'dual' },
      serial: text,
      mac: text,
      version,
    }),
    { ...locked, modelName: 'RadioRow', tableName: 'radio' },
  );
  LinkRow.init(
    attributes({
      id,
      jobId: uuid,
      name: text,
      nearRadioId: uuid,
      farRadioId: uuid,
      pathKind: { ...text, defaultValue: 'outdoor' },
      duplex: { ...text, defaultValue: 'tdd' },
      centreMHz: { ...number, field: 'centre_mhz' },
      widthMHz: { ...number, field: 'width_mhz' },
      protocol: text,
      nearConductedDbm: number,
      farConductedDbm: number,
      nearCableLossDb: { ...number, defaultValue: 0 },
      farCableLossDb: { ...number, defaultValue: 0 },
      needNearToFarMbps: number,
      needFarToNearMbps: number,
      nearMountedAt: time,
      farMountedAt: time,
      shaftLeastM: number,
      shaftMostM: number,
      version,
    }),
    { ...locked, modelName: 'LinkRow', tableName: 'link' },
  );
  SheetRow.init(
    attributes({
      radioId: key(uuid),
      revision: key(whole),
      savedAt: { ...time, defaultValue: DataTypes.NOW },
      crewMemberId: uuid,
      role: text,
      networkName: text,
      security: text,
      passphrase: text,
      band: text,
      centreMHz: { ...number, field: 'centre_mhz' },
      scanMHz: { type: DataTypes.ARRAY(DataTypes.DOUBLE), field: 'scan_mhz' },
      widthMHz: { ...number, field: 'width_mhz' },
      followsWidth: flag,
      protocol: text,
      ptpOnly: flag,
      bridge: flag,
      conductedDbm: number,
      country: text,
      address: text,
      prefix: whole,
      gateway: text,
      deviceName: text,
      firmware: text,
      txMHz: { ...number, field: 'tx_mhz' },
      rxMHz: { ...number, field: 'rx_mhz' },
    }),
    { sequelize, modelName: 'SheetRow', tableName: 'sheet' },
  );
  BenchRunRow.init(
    attributes({
      id,
      linkId: uuid,
      at: { ...time, defaultValue: DataTypes.NOW },
      nearRevision: whole,
      farRevision: whole,
      linked: flag,
    }),
    { sequelize, modelName: 'BenchRunRow', tableName: 'bench_run' },
  );
  AlignmentRow.init(
    attributes({
      id,
      linkId: uuid,
      state: text,
      startedAt: time,
      finishedAt: time,
      crewMemberId: uuid,
      plan: json,
      result: json,
    }),
    { sequelize, modelName: 'AlignmentRow', tableName: 'alignment' },
  );
  ReadingRow.init(
    attributes({
      alignmentId: key(uuid),
      at: key(time),
      linkEnd: key(text),
      tS: { ...number, field: 't_s' },
      rslDbm: number,
      chainsDbm: { type: DataTypes.ARRAY(DataTypes.REAL) },
      phoneAzimuthDeg: number,
      phoneTiltDeg: number,
    }),
    { sequelize, modelName: 'ReadingRow', tableName: 'reading' },
  );
  AimMarkRow.init(
    attributes({
      alignmentId: key(uuid),
      sequence: key(whole),
      tS: { ...number, field: 't_s' },
      kind: text,
      direction: whole,
    }),
    { sequelize, modelName: 'AimMarkRow', tableName: 'aim_mark' },
  );
  ThroughputTestRow.init(
    attributes({
      id,
      linkId: uuid,
      at: time,
      direction: text,
      source: text,
      protocol: text,
      mbps: number,
      seconds: number,
      retransmits: whole,
      lossShare: number,
      jitterMs: number,
      aborted: flag,
      fileName: text,
      note: { ...text, defaultValue: '' },
      crewMemberId: uuid,
      verdict: json,
      warning: text,
      raw: json,
      sha256: text,
    }),
    { sequelize, modelName: 'ThroughputTestRow', tableName: 'throughput_test' },
  );
  EventRow.init(
    attributes({
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      jobId: uuid,
      linkId: uuid,
      at: { ...time, defaultValue: DataTypes.NOW },
      crewMemberId: uuid,
      kind: text,
      summary: text,
      detail: { ...json, defaultValue: {} },
    }),
    { sequelize, modelName: 'EventRow', tableName: 'event' },
  );
  StandinWorldRow.init(attributes({ linkId: key(uuid), setup: json, mounts: json }), {
    sequelize,
    modelName: 'StandinWorldRow',
    tableName: 'standin_world',
  });
}
