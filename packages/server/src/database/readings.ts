import type { Sequelize, Transaction } from 'sequelize';

/** A reading as it is stored: what one radio heard of its peer. */
export interface StoredReading {
  radioId: string;
  peerId: string;
  /** ISO time */
  at: string;
  tS: number;
  rslDbm: number | null;
  chainsDbm: number[];
  phoneAzimuthDeg: number | null;
  phoneTiltDeg: number | null;
}

/** Stores readings of an alignment. They are many: the database takes them out of one piece of JSON much faster than row by row. */
export async function storeReadings(
  sequelize: Sequelize,
  alignmentId: string,
  readings: readonly StoredReading[],
  transaction?: Transaction,
): Promise<void> {
  if (!readings.length) return;
  await sequelize.query(
    `INSERT INTO reading (radio_id, peer_id, at, alignment_id, t_s, rsl_dbm, chains_dbm, phone_azimuth_deg, phone_tilt_deg)
     SELECT "radioId", "peerId", at, :alignmentId, "tS", "rslDbm", "chainsDbm", "phoneAzimuthDeg", "phoneTiltDeg"
     FROM jsonb_to_recordset(:readings::jsonb) AS r ("radioId" uuid, "peerId" uuid, at timestamptz, "tS" double precision,
       "rslDbm" real, "chainsDbm" real[], "phoneAzimuthDeg" double precision, "phoneTiltDeg" double precision)`,
    { transaction, replacements: { alignmentId, readings: JSON.stringify(readings) } },
  );
}
