import pg from 'pg';

/** The database that a test gets a copy of: tables up to date, the demo job in it with few of its readings; and the one with all of them. */
export const templateName = process.env.KIVRAM_TEST_TEMPLATE ?? '';
export const wholeTemplate = process.env.KIVRAM_TEST_WHOLE ?? '';

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
