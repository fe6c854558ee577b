import type { ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** A page of memory as Linux counts it. */
const pageBytes = 4096;

/** Processor time in ticks of Linux's clock (USER_HZ): 100 a second. */
const ticksPerSecond = 100;

/** The processor time that a process has taken, s, by Linux's own count: fields 14 and 15 of proc(5); 0 once it has ended. */
export function secondsOf({ pid }: ChildProcess): number {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)?.split(' ') ?? [];
    return (Number(fields[11]) + Number(fields[12])) / ticksPerSecond;
  } catch {
    return 0;
  }
}

/** The memory that a process holds, by Linux's own count; 0 once it has ended. */
export function bytesOf({ pid }: ChildProcess): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * pageBytes;
  } catch {
    return 0;
  }
}
