import type { Health } from '@kivram/contract/views/terrain';
import type { Sequelize } from 'sequelize';
import type { AimSessions } from './aimSessions';

/** A database that takes longer to say something is of no use. */
const patienceMs = 2000;

/** Whether the server can work: its database answers, and readings are kept. */
export async function healthOf(sequelize: Sequelize, alignments: AimSessions): Promise<Health> {
  const trouble = (await answers(sequelize))
    ? alignments.trouble
    : 'The database does not answer. It is started again by itself; wait some seconds. What you have entered stays here.';
  return { ready: trouble === null, trouble };
}

async function answers(sequelize: Sequelize): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<false>((resolve) => {
    timer = setTimeout(() => resolve(false), patienceMs);
  });
  const answer = sequelize.query('SELECT 1').then(
    () => true,
    () => false,
  );
  try {
    return await Promise.race([answer, late]);
  } finally {
    clearTimeout(timer);
  }
}
