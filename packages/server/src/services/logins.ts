import type { LoginBody } from '@kivram/contract/requests/login';
import type { LoginView } from '@kivram/contract/views/link';
import type { Sequelize } from 'sequelize';
import { RadioRow } from '../database/models/radio';
import { RadioLoginRow } from '../database/models/radioLogin';
import type { Author } from '../http/author';
import { changedMeanwhile } from '../http/apiProblem';
import { jobOf, makeChange } from './changes';
import { noteOnLinks } from './plans';

/** With what one logs in to radios. */
export class Logins {
  constructor(private readonly sequelize: Sequelize) {}

  /** Notes a radio's login. The timeline says that, and not what it is. */
  async save(radioId: string, { version, userName, password }: LoginBody, author: Author): Promise<LoginView> {
    const jobId = await jobOf(RadioRow, radioId, 'radio');
    await makeChange(this.sequelize, jobId, author, async (change) => {
      const { transaction } = change;
      // Two who note the first one at the same moment meet here.
      await RadioRow.findByPk(radioId, { transaction, lock: true });
      const row = await RadioLoginRow.findByPk(radioId, { transaction });
      if ((row?.version ?? -1) !== version) throw changedMeanwhile('login');
      const values = { userName: userName.trim(), password };
      if (row) await row.update(values, { transaction });
      else await RadioLoginRow.create({ ...values, radioId }, { transaction });
      await noteOnLinks(change, radioId, 'Noted the login of a radio', { radioId });
      return null;
    });
    return viewLogin(await RadioLoginRow.findByPk(radioId, { rejectOnEmpty: true }));
  }
}

/** The logins of some radios, by radio, without their passwords. */
export async function loginsOf(radioIds: readonly string[]): Promise<Map<string, LoginView>> {
  const rows = await RadioLoginRow.findAll({ where: { radioId: [...radioIds] } });
  return new Map(rows.map((row) => [row.radioId, viewLogin(row)]));
}

function viewLogin(row: RadioLoginRow): LoginView {
  return { userName: row.userName, hasPassword: row.getDataValue('password') !== null, version: row.version };
}
