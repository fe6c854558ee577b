import { QueryTypes, type Sequelize } from 'sequelize';
import { vault } from './vault';

/** Seals passphrases from before there was a key, and proves that this key opens those that are sealed. @throws KeyError */
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
  const [any] = await sequelize.query<{ passphrase: string }>(
    'SELECT passphrase FROM sheet WHERE passphrase IS NOT NULL LIMIT 1',
    { type: QueryTypes.SELECT },
  );
  if (any) vault().open(any.passphrase);
}
