import { giveUp } from './say.mjs';

/** What a person can do about what the file system refuses, by its code. @type {Record<string, string>} */
const mends = {
  EACCES: 'it may not be written to. Move the project, or change its owner',
  EPERM: 'it may not be written to. Move the project, or change its owner',
  EROFS: 'it is read-only. Move the project to a disk that can be written to',
  ENOSPC: 'the disk is full. Free some space',
  ENOTDIR: 'it is no folder. Remove the file of that name',
};

/** An error that the machine makes, and not the program, is told in one line. */
process.on('uncaughtException', (error) => {
  const { code = '', path = '' } = /** @type {NodeJS.ErrnoException} */ (error);
  if (mends[code]) giveUp(`cannot use ${path || 'a folder'}: ${mends[code]}. Then start again.`);
  console.error(error);
  process.exit(1);
});
