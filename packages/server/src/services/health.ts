import type { Health } from '@kivram/contract/views/terrain';
import type { Sequelize } from 'sequelize';
import type { AimSessions } from './aimSessions';
import { diskAt } from './disk';
import type { Keys } from './keys';

/** A database that takes longer to say something is of no use. */
const patienceMs = 2000;

/** Whether the server can work: its database answers, readings are kept, and there is room. @param folder on the disk that everything is kept on */
export async function healthOf(
  sequelize: Sequelize,
  alignments: AimSessions,
  folder: string,
  keys: Keys,
): Promise<Health> {
  const disk = await diskAt(folder);
  // Without room the database may not even start.
  const trouble =
    disk.trouble ??
    ((await answers(sequelize))
      ? alignments.trouble
      : 'The database does not answer. It is started again by itself; wait some seconds. What you have entered stays here.');
  return { ready: trouble === null, trouble, warning: disk.warning ?? keys.warning };
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
