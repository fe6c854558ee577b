import { vi } from 'vitest';

/** How long a sign is waited for, ms: vitest's own second is too short for a loaded machine. */
const patienceMs = 60_000;

const { waitFor } = vi;
vi.waitFor = (look, options) =>
  waitFor(look, { timeout: patienceMs, ...(typeof options === 'number' ? { timeout: options } : options) });
