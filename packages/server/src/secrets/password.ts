import { hash, verify } from '@node-rs/argon2';

/** Argon2id with 19 MiB, two passes, one lane: the least that OWASP's Password Storage Cheat Sheet names (from memory), which is also this library's own choice. */
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A password as it is kept. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, cost);
}

let nobodys: Promise<string> | undefined;

/** Whether it is the password. Where there is none to compare with it takes as long, so that time tells nobody who exists. */
export async function isPassword(password: string, kept: string | null): Promise<boolean> {
  if (kept) return verify(kept, password);
  nobodys ??= hashPassword('nobody has this one');
  await verify(await nobodys, password);
  return false;
}
