import { randomUUID } from 'node:crypto';
import { QueryTypes, type Sequelize } from 'sequelize';

/** How long work belongs to a server that has stopped saying so. */
const leaseSeconds = 6;

/** Leases of this server process on work that runs: whoever holds one does the work, and nobody else. Times are the database's, which all servers share. */
export class Leases {
  readonly holder = randomUUID();

  constructor(private readonly sequelize: Sequelize) {}

  /** Takes or keeps leases. @returns those that are this process's now; the others belong to a server that is alive */
  async take(names: readonly string[]): Promise<Set<string>> {
    if (!names.length) return new Set();
    const rows = await this.sequelize.query<{ name: string }>(
      `INSERT INTO lease (name, holder, until)
         SELECT name, :holder, now() + interval '1 second' * :seconds FROM unnest(ARRAY[:names]) AS name
       ON CONFLICT (name) DO UPDATE SET holder = excluded.holder, until = excluded.until
         WHERE lease.holder = excluded.holder OR lease.until < now()
       RETURNING name`,
      { type: QueryTypes.SELECT, replacements: { holder: this.holder, seconds: leaseSeconds, names: [...names] } },
    );
    return new Set(rows.map((row) => row.name));
  }

  async release(names: readonly string[]): Promise<void> {
    if (!names.length) return;
    await this.sequelize.query('DELETE FROM lease WHERE holder = :holder AND name IN (:names)', {
      replacements: { holder: this.holder, names: [...names] },
    });
  }

  /** Gives back everything, as at a proper end: another server need not wait. */
  async releaseAll(): Promise<void> {
    await this.sequelize.query('DELETE FROM lease WHERE holder = :holder', { replacements: { holder: this.holder } });
  }
}
