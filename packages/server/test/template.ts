import pg from 'pg';
import { connect } from '../src/database/connection';
import { migrate } from '../src/database/migrate';
import { loadCatalogue, loadDemo } from '../src/demo/load';
import { loadLaw } from '../src/services/law';

/** The database that every test file gets a copy of: tables up to date, the demo job in it. */
export const templateName = process.env.KIVRAM_TEST_TEMPLATE ?? 'kivram_template';

/** The address of another database of the same cluster. */
export function databaseNamed(name: string): string {
  const base = process.env.KIVRAM_TEST_DATABASE_URL;
  if (!base) {
    throw new Error(
      'KIVRAM_TEST_DATABASE_URL is not set: run these tests by "npm test" or "node scripts/test.mjs unit"',
    );
  }
  const url = new URL(base);
  url.pathname = `/${name}`;
  return url.toString();
}

/** Runs one statement outside every database under test. */
export async function administer(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: databaseNamed('postgres') });
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}

/** Made once, before all test files: loading takes seconds, copying a tenth of one. */
export default async function makeTemplate(): Promise<void> {
  // `npm test` brings one along; a run of the test runner alone makes its own.
  if (!process.env.KIVRAM_TEST_DATABASE_URL || process.env.KIVRAM_TEST_TEMPLATE) return;
  await administer(`DROP DATABASE IF EXISTS ${templateName}`);
  await administer(`CREATE DATABASE ${templateName}`);
  const url = databaseNamed(templateName);
  await migrate(url);
  const sequelize = connect(url);
  await loadLaw();
  await loadCatalogue();
  await loadDemo(sequelize);
  await sequelize.close();
}
