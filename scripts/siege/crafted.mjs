import { readFileSync } from 'node:fs';
import { constants, deflateRawSync } from 'node:zlib';

/**
 * Files that are made to stop a server: small, and large once they are read. Each is sent to the importer it is made for; meanwhile the server is asked something
 * small again and again, and its memory is looked at.
 */

/** How often the server is asked, ms, and how long an answer may take. No file may take ten seconds of the main thread. */
const askMs = 100;
/** Nor this much memory, in the server and in what it starts for the file. */
export const mostMegabytes = 500;
export const mostStallMs = 10_000;

/** @typedef {{ name: string, path: string, media: string, body: string | Uint8Array }} Crafted */

/** @param {{ jobId: string, linkId: string }} ids @returns {Crafted[]} */
export function craftedFiles({ jobId, linkId }) {
  const job = (/** @type {string} */ body) => ({ path: '/api/jobs/import', media: 'application/json', body });
  const json = (/** @type {string} */ path, /** @type {unknown} */ body) => ({
    path,
    media: 'application/json',
    body: typeof body === 'string' ? body : JSON.stringify(body),
  });
  const places = (/** @type {string} */ fileName, /** @type {string} */ text) =>
    json(`/api/jobs/${jobId}/places/import`, { fileName, text, kind: 'landmark' });
  const terrain = (/** @type {string} */ name, /** @type {Uint8Array} */ body) => ({
    path: `/api/terrain/uploads?name=${name}`,
    media: 'application/octet-stream',
    body,
  });
  const many = (/** @type {string} */ what, /** @type {number} */ bytes) =>
    what.repeat(Math.floor(bytes / what.length));
  const empties = (/** @type {number} */ bytes) => `[${many('{},', bytes)}{}]`;
  return [
    { name: '7.5 MB of {} as the links of a job', ...job(`{"format":"kivram-job","links":${empties(7.5e6)}}`) },
    { name: '30 MB of [] one in the other as a job', ...job(`{"job":${many('[', 15e6)}${many(']', 15e6)}}`) },
    { name: '40 MB of one text as a job', ...job(`{"job":"${many('x', 40e6)}"}`) },
    { name: '5 MB of empty readings', ...job(`{"alignments":[{"readings":${empties(5e6)}}]}`) },
    { name: '4.5 MB in a footprint', ...json(`/api/jobs/${jobId}/obstacles`, `{"footprint":${empties(4.5e6)}}`) },
    { name: '0.9 MB in a footprint', ...json(`/api/jobs/${jobId}/obstacles`, `{"footprint":${empties(0.9e6)}}`) },
    { name: '4.9 MB of < as KML', ...places('x.kml', many('<', 4.9e6)) },
    { name: '4.9 MB of elements one in the other as KML', ...places('x.kml', `<kml>${many('<a>', 4.9e6)}`) },
    { name: '4.9 MB of attributes as GPX', ...places('x.gpx', `<gpx ${many('a="" ', 4.9e6)}/>`) },
    { name: 'a CSV of 800,000 rows', ...places('x.csv', `name,lat,lon\n${many('a,1,2\n', 4.8e6)}`) },
    { name: 'a CSV of one row of 2,000,000 columns', ...places('x.csv', `name,lat,lon\n${many('a,', 4e6)}`) },
    { name: '4.9 MB of [ as GeoJSON', ...places('x.geojson', many('[', 4.9e6)) },
    {
      name: '4.9 MB of {} as GeoJSON',
      ...places('x.geojson', `{"type":"FeatureCollection","features":${empties(4.8e6)}}`),
    },
    {
      name: '9 MB of {} as iperf3',
      ...json(`/api/links/${linkId}/throughput-tests/iperf3`, {
        fileName: 'x.json',
        clientAt: 'near',
        text: `{"start":{"test_start":{}},"intervals":${empties(9e6)}}`,
      }),
    },
    {
      name: '9 MB of [ as iperf3',
      ...json(`/api/links/${linkId}/throughput-tests/iperf3`, {
        fileName: 'x.json',
        clientAt: 'near',
        text: many('[', 9e6),
      }),
    },
    { name: 'a GeoTIFF whose 4 MB unfold to 4 GB', ...terrain('bomb.tif', deflateBomb()) },
    {
      name: 'a GeoTIFF of 5,000,000 by 2 cells in 20 KB',
      ...terrain('wide.tif', tiff({ columns: 5_000_000, rows: 2, strip: new Uint8Array(20_000) })),
    },
    {
      name: 'a GeoTIFF of 10,000 by 10,000 cells in one strip',
      ...terrain('strip.tif', tiff({ columns: 10_000, rows: 10_000, strip: new Uint8Array(20_000) })),
    },
    {
      name: 'an ASCII grid with one number of 20 MB',
      ...terrain(
        'long.asc',
        Buffer.from(`ncols 3\nnrows 3\nxllcorner 0\nyllcorner 0\ncellsize 0.01\n${many('1', 20e6)}`),
      ),
    },
    {
      name: 'an ASCII grid with 20 MB of blanks',
      ...terrain(
        'blank.asc',
        Buffer.from(`ncols 3\nnrows 3\nxllcorner 0\nyllcorner 0\ncellsize 0.01\n${many(' ', 20e6)}`),
      ),
    },
  ];
}

/** 4 MB that unfold to 4 GB: the same block of zeros again and again. */
function deflateBomb() {
  const block = deflateRawSync(new Uint8Array(64e6), { level: 9, finishFlush: constants.Z_SYNC_FLUSH });
  const strip = Buffer.concat([Buffer.from([0x78, 0xda]), ...Array(64).fill(block)]);
  return tiff({ columns: 256, rows: 256, strip, compression: 8 });
}

/**
 * A little GeoTIFF (TIFF 6.0, section 2; GeoTIFF 1.1) of 16-bit metres in one strip, whatever that strip holds.
 * @param {{ columns: number, rows: number, strip: Uint8Array, compression?: number }} file
 */
function tiff({ columns, rows, strip, compression = 1 }) {
  const geoKeys = [1, 1, 0, 2, 1024, 0, 1, 2, 2048, 0, 1, 4326];
  const scale = [0.0001, 0.0001, 0];
  const tie = [0, 0, 0, -37, 33, 0];
  const entries = 12;
  const after = 8 + 2 + entries * 12 + 4;
  const [geoAt, scaleAt, tieAt, stripAt] = [after, after + 24, after + 48, after + 96];
  const bytes = Buffer.alloc(stripAt + strip.length);
  bytes.write('II*\0', 0, 'latin1');
  bytes.writeUInt32LE(8, 4);
  bytes.writeUInt16LE(entries, 8);
  let at = 10;
  const entry = (
    /** @type {number} */ tag,
    /** @type {number} */ type,
    /** @type {number} */ count,
    /** @type {number} */ value,
  ) => {
    bytes.writeUInt16LE(tag, at);
    bytes.writeUInt16LE(type, at + 2);
    bytes.writeUInt32LE(count, at + 4);
    if (type === 3 && count === 1) bytes.writeUInt16LE(value, at + 8);
    else bytes.writeUInt32LE(value, at + 8);
    at += 12;
  };
  entry(256, 4, 1, columns);
  entry(257, 4, 1, rows);
  entry(258, 3, 1, 16);
  entry(259, 3, 1, compression);
  entry(262, 3, 1, 1);
  entry(273, 4, 1, stripAt);
  entry(277, 3, 1, 1);
  entry(278, 4, 1, rows);
  entry(279, 4, 1, strip.length);
  entry(33550, 12, 3, scaleAt);
  entry(33922, 12, 6, tieAt);
  entry(34735, 3, geoKeys.length, geoAt);
  geoKeys.forEach((key, i) => bytes.writeUInt16LE(key, geoAt + 2 * i));
  scale.forEach((value, i) => bytes.writeDoubleLE(value, scaleAt + 8 * i));
  tie.forEach((value, i) => bytes.writeDoubleLE(value, tieAt + 8 * i));
  bytes.set(strip, stripAt);
  return bytes;
}

/**
 * Sends one file and watches the server meanwhile.
 * @param {import('./server.mjs').Client} client @param {number} pid of the server @param {Crafted} file
 */
export async function send(client, pid, { path, media, body }) {
  const before = megabytesOf(pid);
  let most = 0;
  let stallMs = 0;
  let over = false;
  const watching = (async () => {
    while (!over) {
      const began = performance.now();
      await fetch(`${client.address}/api/settings`).then((answer) => answer.text());
      stallMs = Math.max(stallMs, performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, askMs));
    }
  })();
  const looking = setInterval(() => (most = Math.max(most, megabytesOf(pid) - before)), 20);
  const began = performance.now();
  try {
    const answer = await fetch(client.address + path, {
      method: 'POST',
      headers: { 'content-type': media, cookie: client.cookie },
      body,
    });
    const text = await answer.text();
    return {
      status: answer.status,
      seconds: (performance.now() - began) / 1000,
      detail: detailOf(text),
      ...(await ended()),
    };
  } catch (error) {
    return { status: 0, seconds: (performance.now() - began) / 1000, detail: String(error), ...(await ended()) };
  }

  async function ended() {
    over = true;
    clearInterval(looking);
    await watching;
    return { stallMs, megabytes: most };
  }
}

/** @param {string} text */
function detailOf(text) {
  try {
    return JSON.parse(text).detail ?? text.slice(0, 100);
  } catch {
    return text.slice(0, 100);
  }
}

/** Memory of a process and of those it has started, by Linux's own count. @param {number} pid */
export function megabytesOf(pid) {
  let bytes = 0;
  for (const one of [pid, ...childrenOf(pid)]) {
    try {
      bytes += Number(readFileSync(`/proc/${one}/statm`, 'utf8').split(' ')[1]) * 4096;
    } catch {
      // it has ended
    }
  }
  return bytes / 1e6;
}

/** @param {number} pid @returns {number[]} */
function childrenOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number);
  } catch {
    return [];
  }
}
