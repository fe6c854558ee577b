import type { ToldBeside } from '@kivram/core/aiming/reading';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';

/** A reading as it is stored: what one radio heard of its peer. */
export interface StoredReading {
  radioId: string;
  peerId: string;
  /** ISO time */
  at: string;
  tS: number;
  rslDbm: number | null;
  chainsDbm: number[];
  isRepeat?: boolean;
  ageS?: number;
  told?: ToldBeside | null;
  phoneAzimuthDeg: number | null;
  phoneTiltDeg: number | null;
}

interface StoreOptions {
  transaction?: Transaction;
  /** stores them only while the alignment runs and its lease is this holder's */
  holder?: string;
}

/**
 * Stores readings of an alignment. They are many: the database takes them out of one piece of JSON much faster than row by row.
 * @returns how many were stored: none where the holder may not write any more
 */
export async function storeReadings(
  sequelize: Sequelize,
  alignmentId: string,
  readings: readonly StoredReading[],
  { transaction, holder }: StoreOptions = {},
): Promise<number> {
  if (!readings.length) return 0;
  // The lease is looked at in the very statement that writes: a server that was held up and lost it cannot write beside the one that has it.
  const [, stored] = await sequelize.query(
    `INSERT INTO reading (radio_id, peer_id, at, alignment_id, t_s, rsl_dbm, chains_dbm, is_repeat, age_s, told,
       phone_azimuth_deg, phone_tilt_deg)
     SELECT "radioId", "peerId", at, :alignmentId, "tS", "rslDbm", "chainsDbm", coalesce("isRepeat", false), coalesce("ageS", 0), told,
       "phoneAzimuthDeg", "phoneTiltDeg"
     FROM jsonb_to_recordset(:readings::jsonb) AS r ("radioId" uuid, "peerId" uuid, at timestamptz, "tS" double precision,
       "rslDbm" real, "chainsDbm" real[], "isRepeat" boolean, "ageS" real, told jsonb, "phoneAzimuthDeg" double precision, "phoneTiltDeg" double precision)
     ${holder ? mayWrite : ''}`,
    {
      type: QueryTypes.INSERT,
      transaction,
      replacements: { alignmentId, readings: JSON.stringify(readings), holder: holder ?? null },
    },
  );
  return stored;
}

const mayWrite = `
     WHERE EXISTS (SELECT 1 FROM alignment WHERE id = :alignmentId AND state = 'running')
       AND EXISTS (SELECT 1 FROM lease WHERE name = 'alignment ' || :alignmentId AND holder = :holder AND until > now())`;
