import { spawn } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';

/**
 * Writes the page that leads a browser in, for nobody but this user to read: on a command line other accounts of this computer would see the token.
 * @param {string} file @param {string} address of the server @param {string} token @returns {string} the address with the token, for typing it
 */
export function writeDoor(file, address, token) {
  const whole = `${address}?here=${token}`;
  // One that is there already may be readable by others.
  rmSync(file, { force: true });
  const page = `<!doctype html><meta http-equiv="refresh" content="0; url=${whole}">\n`;
  writeFileSync(file, page, { mode: 0o600, flag: 'wx' });
  return whole;
}

/** Opens that page in the browser of whoever sits at this computer; where nobody does, the address that was printed is for whoever reads it. @param {string} file */
export function openDoor(file) {
  const hasScreen = process.stdout.isTTY && (process.env.DISPLAY || process.env.WAYLAND_DISPLAY);
  if (!hasScreen || process.getuid?.() === 0) return;
  const child = spawn('xdg-open', [file], { stdio: 'ignore', detached: true });
  child.on('error', () => undefined);
  child.unref();
}
