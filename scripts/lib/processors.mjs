import { cpus } from 'node:os';

/** What all processors have done since the machine was started, s. */
function now() {
  const all = cpus().map(({ times }) => times);
  const sum = (/** @type {(keyof typeof all[0])[]} */ kinds) =>
    all.reduce((ms, times) => ms + kinds.reduce((part, kind) => part + times[kind], 0), 0) / 1000;
  return {
    count: all.length,
    atS: Date.now() / 1000,
    workS: sum(['user', 'nice', 'sys', 'irq']),
    idleS: sum(['idle']),
  };
}

/**
 * Begins to watch what this machine's processors do. How long something takes depends on who else is there; how much work it is, far less.
 * @param {typeof now} look
 * @returns {() => string} asked at the end: in words, what they have done since
 */
export function watchProcessors(look = now) {
  const before = look();
  return () => {
    const { count, atS, workS, idleS } = look();
    const [work, idle] = [workS - before.workS, idleS - before.idleS];
    const lost = Math.max(0, count * (atS - before.atS) - work - idle);
    const of = (/** @type {number} */ seconds) => seconds.toFixed(0);
    return `${count} processors: ${of(work)} s of work, ${of(idle)} s idle, ${of(lost)} s lost to whoever shares this machine, or to its disk`;
  };
}
