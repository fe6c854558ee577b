import { randomUUID } from 'node:crypto';
import { Random } from './random.mjs';

/**
 * Sends requests made from the OpenAPI document: half of them as it says, half of them spoilt in one of the ways below. Nothing may answer 500, nothing may
 * hang, and whatever is refused must be refused by a problem document.
 * @typedef {{ name: string, method: string, path: string, parameters: any[], body?: { media: string, schema: any } }} Operation
 */

/** A request that takes longer than this hangs, ms. Imports wait for each other. */
const hangsMs = 60_000;

/** What no program that writes JSON for us would write. */
const nasty = [
  null,
  true,
  [],
  {},
  '',
  ' ',
  -1,
  1e308,
  -1e308,
  5e-324,
  2 ** 53,
  0.1,
  'NaN',
  '\u0000',
  '\ud800',
  'a\udfff',
  '🗼'.repeat(40),
  'x'.repeat(5000),
  "'; DROP TABLE job; --",
  '$value',
  '%s%n',
  '../../etc/passwd',
  [null],
  [[[[[]]]]],
  { constructor: {} },
  { toString: 1 },
  { hasOwnProperty: null },
  JSON.parse('{"__proto__":{"a":1}}'),
  '2026-02-31',
  '9999-99-99T99:99:99Z',
];

/** Words that stand for nothing in an address. */
const nastyWords = [
  '',
  '0',
  '-1',
  '1e308',
  'NaN',
  'constructor',
  '__proto__',
  '%00',
  '%ed%a0%80',
  '%',
  'a'.repeat(3000),
  '../..',
  'null',
];

/**
 * @param {{ address: string, cookie: string, requests: number, seed: number, ids: Record<string, string[]>, without?: string[], atOnce?: number }} options
 *   ids: identifiers that are there, by the name of the parameter; without: names of operations to leave out
 */
export async function fuzz({ address, cookie, requests, seed, ids, without = [], atOnce = 8 }) {
  const document = /** @type {any} */ (await (await fetch(`${address}/api/openapi.json`)).json());
  // Whoever signs out asks nothing after that.
  const operations = operationsOf(document).filter(({ name }) => ![...without, 'signOut'].includes(name));
  const random = new Random(seed);
  /** @type {Record<number, number>} */
  const answers = {};
  /** @type {string[]} */
  const faults = [];
  /** the slowest request of each operation, ms @type {Record<string, number>} */
  const slowest = {};
  let sent = 0;

  const one = async () => {
    const operation = /** @type {Operation} */ (operations[sent % operations.length]);
    sent++;
    const made = requestFor(operation, document.components.schemas, random, ids);
    const words = `${made.method} ${made.path.slice(0, 200)} ${made.text?.slice(0, 300) ?? ''}`;
    const began = performance.now();
    const signal = AbortSignal.timeout(hangsMs);
    try {
      const answer = await fetch(address + made.path, {
        method: made.method,
        headers: { 'content-type': made.media, cookie, ...made.headers },
        body: made.text,
        signal,
      });
      answers[answer.status] = (answers[answer.status] ?? 0) + 1;
      if (answer.headers.get('content-type') === 'text/event-stream') return await answer.body?.cancel();
      const text = await answer.text();
      // Health may say in its own words that something does not work.
      if (answer.status >= 500 && operation.name !== 'health') faults.push(`${answer.status}: ${words}`);
      else if (answer.status >= 400 && !isProblem(answer, text))
        faults.push(`no problem document: ${answer.status} ${words}`);
    } catch (error) {
      faults.push(`${signal.aborted ? 'hangs' : error}: ${words}`);
    } finally {
      slowest[operation.name] = Math.round(Math.max(slowest[operation.name] ?? 0, performance.now() - began));
    }
  };
  const worker = async () => {
    while (sent < requests && faults.length < 50) await one();
  };
  await Promise.all(Array.from({ length: atOnce }, worker));
  return { sent, answers, faults, slowest };
}

/** @param {Response} answer @param {string} text */
function isProblem(answer, text) {
  if (!answer.headers.get('content-type')?.startsWith('application/problem+json')) return false;
  try {
    const problem = JSON.parse(text);
    return problem.status === answer.status && typeof problem.detail === 'string' && problem.detail.length > 0;
  } catch {
    return false;
  }
}

/** @param {any} document @returns {Operation[]} */
export function operationsOf(document) {
  return Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => {
      const content = Object.entries(operation.requestBody?.content ?? {})[0];
      return {
        name: operation.operationId,
        method: method.toUpperCase(),
        path,
        parameters: operation.parameters,
        body: content && { media: content[0], schema: content[1].schema },
      };
    }),
  );
}

/**
 * @param {Operation} operation @param {Record<string, any>} schemas @param {Random} random
 * @param {Record<string, string[]>} ids that are there @param {Record<string, string[]>} [inPath] those that stand in the path; where they are others, nothing is spoilt
 */
export function requestFor(operation, schemas, random, ids, inPath) {
  const spoilt = !inPath && random.chance(0.5);
  let { path } = operation;
  const query = new URLSearchParams();
  /** @type {Record<string, string>} */
  const headers = {};
  for (const { name, in: where, schema } of operation.parameters) {
    const nastyOne = spoilt && random.chance(0.2);
    const known = where === 'path' && inPath ? inPath : ids;
    const value = nastyOne ? random.of(nastyWords) : wordFor(name, schema, random, known, inPath ? 1 : 0.8);
    if (where === 'path') path = path.replace(`{${name}}`, nastyOne ? value : encodeURIComponent(value));
    else if (where === 'query' && random.chance(0.7)) query.append(name, value);
    else if (where === 'header' && random.chance(0.5))
      headers[name] = nastyOne ? value.replace(/[^\x20-\x7e]/g, '') : randomUUID();
  }
  let text;
  if (operation.body) {
    const value = valueFor(operation.body.schema, schemas, random, ids, 0);
    text =
      typeof value === 'string' && operation.body.media !== 'application/json'
        ? value
        : JSON.stringify(spoilt ? spoil(value, random) : value);
    if (spoilt && random.chance(0.05))
      text = random.of([
        '',
        '{',
        'null',
        '[]',
        '"x"',
        '['.repeat(3000) + ']'.repeat(3000),
        text.slice(0, text.length / 2),
        '{}'.repeat(9),
      ]);
  }
  return {
    method: operation.method,
    path: path + (query.size ? `?${query}` : ''),
    media: operation.body?.media ?? 'application/json',
    headers,
    text,
  };
}

/** @param {string} name @param {any} schema @param {Random} random @param {Record<string, string[]>} ids @param {number} share how often one of these stands there */
function wordFor(name, schema, random, ids, share) {
  if (schema.enum) return random.of(schema.enum);
  if (schema.format === 'uuid') return random.chance(share) && ids[name]?.length ? random.of(ids[name]) : randomUUID();
  return random.of(['yes', 'include', '0', '1', '12', '50', String(random.between(-1e6, 1e6)), 'a', 'metric']);
}

/**
 * A value as a schema says.
 * @param {any} schema @param {Record<string, any>} schemas @param {Random} random @param {Record<string, string[]>} ids @param {number} depth @param {string} [name]
 * @returns {any}
 */
function valueFor(schema, schemas, random, ids, depth, name = '') {
  if (schema.$ref) return valueFor(schemas[schema.$ref.split('/').at(-1)] ?? {}, schemas, random, ids, depth, name);
  if (schema.allOf)
    return Object.assign(
      {},
      ...schema.allOf.map((/** @type {any} */ s) => valueFor(s, schemas, random, ids, depth, name)),
    );
  const choice = schema.anyOf ?? schema.oneOf;
  if (choice) return valueFor(random.of(choice), schemas, random, ids, depth, name);
  if (schema.enum) return random.of(schema.enum);
  if (schema.properties || schema.type === 'object') {
    const required = new Set(schema.required ?? []);
    const fields = Object.entries(schema.properties ?? {}).filter(
      ([field]) => required.has(field) || random.chance(0.6),
    );
    return Object.fromEntries(
      fields.map(([field, of]) => [field, valueFor(of, schemas, random, ids, depth + 1, field)]),
    );
  }
  if (schema.type === 'array') {
    const length = depth > 4 ? 0 : random.whole(0, Math.min(3, schema.maxItems ?? 3));
    return Array.from({ length }, () => valueFor(schema.items ?? {}, schemas, random, ids, depth + 1, name));
  }
  if (schema.type === 'boolean') return random.chance(0.5);
  if (schema.type === 'integer' || schema.type === 'number') {
    const [low, high] = [schema.minimum ?? -10, schema.maximum ?? 1000];
    // A version of something that is there is a small number.
    if (/version|revision/i.test(name)) return random.whole(0, 2);
    return schema.type === 'integer'
      ? random.whole(Math.ceil(low), Math.floor(Math.min(high, 1e6)))
      : random.between(low, high);
  }
  if (schema.format === 'uuid' || /Id$/.test(name))
    return random.chance(0.8) && ids[name]?.length ? random.of(ids[name]) : randomUUID();
  const length = Math.max(schema.minLength ?? 0, random.whole(1, Math.min(schema.maxLength ?? 12, 12)));
  return random.of([
    '2026-05-04T09:30:00Z',
    '10.61.4.12',
    '02:1a:2b:3c:4d:5e',
    'file.csv',
    'a.constructor',
    'x.gpx',
    'Mole'.padEnd(length, 'e').slice(0, Math.max(length, 1)),
  ]);
}

/** The same value with something in it that is not as it should be. @param {any} value @param {Random} random @returns {any} */
export function spoil(value, random) {
  if (typeof value !== 'object' || value === null || random.chance(0.15)) return random.of(nasty);
  const keys = Object.keys(value);
  const copy = Array.isArray(value) ? [...value] : { ...value };
  const kind = random.whole(0, 4);
  const key = random.of(keys.length ? keys : ['none']);
  if (kind === 0 && !Array.isArray(copy))
    copy[random.of(['constructor', 'extra', 'toString', 'then'])] = random.of(nasty);
  else if (kind === 1 && !Array.isArray(copy)) copy[key] = undefined;
  else if (kind === 2 && Array.isArray(copy)) copy.push(random.of(nasty));
  else if (keys.length) copy[key] = spoil(copy[key], random);
  return copy;
}
