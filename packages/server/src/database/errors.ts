import { ConnectionError } from 'sequelize';

/** What an error of the database says of itself, whichever library has wrapped it. */
export function codeOf(error: unknown): string {
  const { parent, code } = Object(error) as { parent?: { code?: string }; code?: string };
  return parent?.code ?? code ?? '';
}

/** Connections that are refused or lost, and a database that is starting or ending (PostgreSQL, appendix A, classes 08 and 57P). */
const goneCodes = /^(ECONN\w+|EPIPE|08\w{3}|57P0[123])$/;

/** What the driver says of a connection that broke: to the statement under way, and to those after it. */
const goneWords =
  /^(Connection terminated|Client (has encountered a connection error|was closed) and is not queryable)/;

/** Whether the database does not answer now; it will again. */
export function isDatabaseGone(error: unknown): boolean {
  if (error instanceof ConnectionError || goneCodes.test(codeOf(error))) return true;
  const { parent, message } = Object(error) as { parent?: { message?: string }; message?: string };
  return goneWords.test(parent?.message ?? message ?? '');
}

/** Two changes in each other's way, or one that waited too long (PostgreSQL, appendix A). */
const busyCodes = new Set(['40001', '40P01', '55P03', '57014']);

export const isBusy = (code: string | undefined): boolean => busyCodes.has(code ?? '');

/** No room on the disk, as the database says it (PostgreSQL, appendix A), and as this computer does where files lie (errno(3)); a quota is one too. */
const fullCodes = new Set(['53100', 'ENOSPC', 'EDQUOT']);

export const isDiskFull = (error: unknown): boolean => fullCodes.has(codeOf(error));
