import { randomUUID } from 'node:crypto';
import { QueryTypes, type Sequelize } from 'sequelize';

/** How long work belongs to a server that has stopped saying so. */
const leaseSeconds = 6;

/** A server that died within so many seconds of taking work up may have died of it. */
const shortLifeSeconds = 5;

/** Leases of this server process on work that runs: whoever holds one does the work, and nobody else. Times are the database's, which all servers share. */
export class Leases {
  readonly holder = randomUUID();

  constructor(private readonly sequelize: Sequelize) {}

  /**
   * Takes or keeps leases.
   * @returns those that are this process's now, with how many servers in a row died soon after they had taken each; the others belong to a server that is alive
   */
  async take(names: readonly string[]): Promise<Map<string, number>> {
    if (!names.length) return new Map();
    const rows = await this.sequelize.query<{ name: string; shortLives: number }>(
      `INSERT INTO lease (name, holder, until)
         SELECT name, :holder, now() + interval '1 second' * :seconds FROM unnest(ARRAY[:names]) AS name
       ON CONFLICT (name) DO UPDATE SET holder = excluded.holder, until = excluded.until,
         since = CASE WHEN lease.holder = excluded.holder THEN lease.since ELSE now() END,
         short_lives = CASE WHEN lease.holder = excluded.holder THEN lease.short_lives
           WHEN lease.until - interval '1 second' * :seconds - lease.since < interval '1 second' * :shortSeconds THEN lease.short_lives + 1
           ELSE 0 END
         WHERE lease.holder = excluded.holder OR lease.until < now()
       RETURNING name, short_lives AS "shortLives"`,
      {
        type: QueryTypes.SELECT,
        replacements: { holder: this.holder, seconds: leaseSeconds, shortSeconds: shortLifeSeconds, names: [...names] },
      },
    );
    return new Map(rows.map(({ name, shortLives }) => [name, shortLives]));
  }

  /** Whoever died of this work is forgotten: somebody wants it all the same. */
  async forgive(name: string): Promise<void> {
    await this.sequelize.query('UPDATE lease SET short_lives = 0 WHERE name = :name', { replacements: { name } });
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
