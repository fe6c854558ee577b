import { readFileSync } from 'node:fs';

/** A user of this computer that owns nothing. */
export interface PlainUser {
  uid: number;
  gid: number;
}

/** Debian's user for what shall have no rights, and his numbers where the list of users does not name him (Debian Policy, section 9.2.2). */
const plainName = 'nobody';
const plainNumber = 65_534;

/** Whom to be instead of root; undefined where this program is not root, and so has no rights to give up. */
export function plainUser(): PlainUser | undefined {
  if (process.getuid?.() !== 0) return undefined;
  const line = readFileSync('/etc/passwd', 'utf8')
    .split('\n')
    .find((user) => user.startsWith(`${plainName}:`));
  const [, , uid, gid] = line?.split(':') ?? [];
  return { uid: Number(uid ?? plainNumber), gid: Number(gid ?? plainNumber) };
}

/** Gives up what root may, for good. Whatever this process needs of this computer's files it has opened before. */
export function giveRightsUp(): void {
  const user = plainUser();
  if (!user) return;
  process.setgroups?.([]);
  process.setgid?.(user.gid);
  process.setuid?.(user.uid);
}
