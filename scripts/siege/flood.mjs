const pause = (/** @type {number} */ ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** Of the readings that it takes while nothing else goes on, ten a second on a machine that is not loaded, an alignment takes at least this share. */
const leastShare = 0.6;

/**
 * Many ask at once, without a pause, for what costs most, fifty watch one alignment, and fifty tap at one moment; aiming goes on.
 * @param {import('./server.mjs').Client} client @param {{ seconds: number, clients: number }} options
 */
export async function flood(client, { seconds, clients }) {
  const { job, links } = await client.begin();
  const linkId = links.find((/** @type {any} */ l) => l.name === 'Hatchery').id;
  const aim = { nearSource: 'scale', farSource: 'phone', order: 'endByEnd' };
  const { id } = (await client.ask(`/api/links/${linkId}/alignments`, aim)).body;
  await pause(3000);
  const calm = (await client.ask(`/api/alignments/${id}`)).body.samples;
  const calmRate = calm.length / 2 / (calm.at(-1)?.tS || 1);
  const paths = [
    `/api/jobs/${job.id}/links?limit=500`,
    `/api/jobs/${job.id}/map`,
    `/api/jobs/${job.id}/events`,
    `/api/links/${linkId}`,
    `/api/alignments/${id}`,
    `/api/links/${linkId}/aim-cards/near.pdf`,
    '/api/models',
    '/api/openapi.json',
  ];
  /** @type {Record<number, number>} */
  const answers = {};
  /** @type {string[]} */
  const faults = [];
  let over = false;
  let waited = 0;
  const ask = async (/** @type {number} */ number) => {
    for (let i = number; !over; i++) {
      const began = performance.now();
      const answer = await fetch(client.address + paths[i % paths.length]);
      await answer.arrayBuffer();
      waited = Math.max(waited, performance.now() - began);
      answers[answer.status] = (answers[answer.status] ?? 0) + 1;
    }
  };
  const watch = async () => {
    const stream = await fetch(`${client.address}/api/alignments/${id}/stream`);
    const reader = /** @type {any} */ (stream.body).getReader();
    let pieces = 0;
    while (!over) {
      const { done } = await reader.read();
      if (done) break;
      pieces++;
    }
    await reader.cancel();
    if (pieces < seconds) faults.push(`a viewer got ${pieces} pieces in ${seconds} s`);
  };
  const began = Date.now();
  const work = [...Array.from({ length: clients }, (_, i) => ask(i)), ...Array.from({ length: 50 }, watch)];
  await pause((seconds * 1000) / 2);
  const tap = () =>
    client.ask(`/api/alignments/${id}/marks`, { id: crypto.randomUUID(), end: 'near', kind: 'notch', direction: 1 });
  const taps = await Promise.all(Array.from({ length: 50 }, tap));
  await pause((seconds * 1000) / 2);
  over = true;
  await Promise.all(work);
  const passedS = (Date.now() - began) / 1000;
  const { samples, marks } = (await client.ask(`/api/alignments/${id}`)).body;
  const rate = (samples.length - calm.length) / 2 / passedS;
  if (!(rate >= leastShare * calmRate))
    faults.push(`only ${rate.toFixed(1)} readings a second, ${calmRate.toFixed(1)} before`);
  if (taps.some(({ status }) => status !== 200) || marks.length !== 50)
    faults.push(`of 50 taps at once ${marks.length} are there`);
  // Cards are laid out two at a time; who comes when twenty wait is told so.
  for (const [status, count] of Object.entries(answers))
    if (status !== '200' && status !== '503') faults.push(`${count} answers of ${status}`);
  await client.ask(`/api/alignments/${id}/abandon`, {});
  return { faults, answered: answers[200] ?? 0, refused: answers[503] ?? 0, rate, slowestS: waited / 1000 };
}
