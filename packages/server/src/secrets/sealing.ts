import { QueryTypes, type Sequelize } from 'sequelize';
import { vault } from './vault';

/** Seals passphrases from before there was a key. */
export async function sealOldPassphrases(sequelize: Sequelize): Promise<void> {
  const open = await sequelize.query<{ radioId: string; revision: number; passphrase: string }>(
    `SELECT radio_id AS "radioId", revision, passphrase FROM sheet WHERE passphrase IS NOT NULL AND passphrase NOT LIKE 'v1.%'`,
    { type: QueryTypes.SELECT },
  );
  for (const { passphrase, ...row } of open) {
    await sequelize.query('UPDATE sheet SET passphrase = :sealed WHERE radio_id = :radioId AND revision = :revision', {
      replacements: { ...row, sealed: vault().seal(passphrase) },
    });
  }
}

/** Everything that is sealed. */
const sealedTexts = `
  SELECT passphrase AS sealed FROM sheet WHERE passphrase LIKE 'v1.%'
  UNION ALL SELECT password FROM radio_login WHERE password IS NOT NULL
  UNION ALL SELECT secrets FROM level_source WHERE secrets IS NOT NULL`;

/** @returns how many secrets are sealed in the database, and how many of them no key that is here opens */
export async function countSealed(sequelize: Sequelize): Promise<{ sealed: number; unreadable: number }> {
  const rows = await sequelize.query<{ sealed: string }>(sealedTexts, { type: QueryTypes.SELECT });
  const unreadable = rows.filter(({ sealed }) => vault().open(sealed) === null).length;
  return { sealed: rows.length, unreadable };
}
