/** Prints one line of progress. @param {string} line */
export function say(line) {
  console.log(`kivram: ${line}`);
}

/**
 * Ends the program with a line that says what to do.
 * @param {string} line
 * @returns {never}
 */
export function giveUp(line) {
  console.error(`kivram: ${line}`);
  process.exit(1);
}
