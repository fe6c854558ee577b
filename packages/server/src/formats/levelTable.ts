import { ApiProblem } from '../http/apiProblem';
import { parse } from 'csv-parse/sync';

/** One line of a table: when, and what was heard. */
export interface TableLevel {
  line: number;
  /** a moment of the day, if the table tells one; else seconds of some clock */
  at: { ms: number } | { seconds: number };
  /** null: nothing was heard */
  rslDbm: number | null;
  chainsDbm: number[];
  azimuthDeg: number | null;
  tiltDeg: number | null;
}

export interface LevelTable {
  levels: TableLevel[];
  refused: { line: number; reason: string }[];
  /** columns of the head that say nothing to the guide, by their names */
  unused: string[];
}

/** Lines that are read at most: a reading a second over more than a day. */
const mostLines = 100_000;
const mostRefused = 50;
/** Radios tell levels between these, dBm; 0 and more, and words, say that nothing is heard. */
const heard = { least: -120, under: 0 } as const;

/** Which column holds what, by words that stand in its head. */
const heads = {
  time: /^(time|at|date|when|timestamp|t|seconds|s)\b/i,
  level: /^(level|rsl|rssi|signal|rx|dbm)/i,
  chain: /^chain/i,
  azimuth: /^(azimuth|angle|bearing|left)/i,
  tilt: /^(tilt|elevation|up)/i,
};

/**
 * Reads levels with times: CSV, semicolons or tabs as a spreadsheet gives them, with a head or without (then time, level, chains). Times are seconds, a time of the day, or ISO 8601. One bad line
 * keeps no other out.
 */
export function readLevelTable(text: string): LevelTable {
  const rows = rowsIn(text);
  const head = rows[0] && isHead(rows[0].record) ? rows[0].record : null;
  const column = columnsOf(head, rows.at(-1)?.record.length ?? 0);
  const used = [column.time, column.level, column.azimuth, column.tilt, ...column.chains];
  const table: LevelTable = {
    levels: [],
    refused: [],
    unused: (head ?? []).filter((_, i) => !used.includes(i)).map((name) => name.slice(0, 40)),
  };
  const decimalComma = delimiterOf(text) !== ',';
  const number = (cell: string | undefined): number | null => {
    const plain =
      (decimalComma ? cell?.replace(',', '.') : cell)?.replace('−', '-').replace(/\s*(dBm|°|deg)$/i, '') ?? '';
    return plain === '' || !Number.isFinite(Number(plain)) ? null : Number(plain);
  };
  for (const { record, info } of rows.slice(head ? 1 : 0, mostLines)) {
    const refuse = (reason: string): void => {
      if (table.refused.length < mostRefused) table.refused.push({ line: info.lines, reason });
    };
    const at = timeOf(
      decimalComma ? (record[column.time] ?? '').replace(/^(\d+),(\d+)$/, '$1.$2') : (record[column.time] ?? ''),
    );
    if (!at) {
      refuse(
        `"${(record[column.time] ?? '').slice(0, 40)}" is no time: write 12:30:05, seconds, or 2026-05-04T12:30:05Z`,
      );
      continue;
    }
    const told = record[column.level] ?? '';
    const level = number(told);
    if (level === null && told !== '' && /\d/.test(told)) {
      refuse(`"${told.slice(0, 40)}" is no level: write dBm as a number like -63`);
      continue;
    }
    if (level !== null && level < heard.least) {
      refuse(`${told} dBm is under every noise: is it in dBm?`);
      continue;
    }
    if (level !== null && level > 0) {
      refuse(`${told} dBm is more than any receiver hears: levels are written with a minus, like -63`);
      continue;
    }
    const chainsDbm = column.chains.flatMap((i) => number(record[i]) ?? []);
    table.levels.push({
      line: info.lines,
      at,
      rslDbm: level !== null && level < heard.under ? level : null,
      chainsDbm,
      azimuthDeg: column.azimuth < 0 ? null : number(record[column.azimuth]),
      tiltDeg: column.tilt < 0 ? null : number(record[column.tilt]),
    });
  }
  if (rows.length - (head ? 1 : 0) > mostLines)
    table.refused.push({ line: mostLines + 1, reason: `only the first ${mostLines} lines were read` });
  return table;
}

/** @throws ApiProblem where it is no table at all */
function rowsIn(text: string): { record: string[]; info: { lines: number } }[] {
  try {
    return parse(text, {
      delimiter: delimiterOf(text),
      bom: true,
      relax_column_count: true,
      // Radios write no quotes; one that stands alone is a mark like any other.
      quote: false,
      skip_empty_lines: true,
      trim: true,
      info: true,
    }) as unknown as { record: string[]; info: { lines: number } }[];
  } catch (error) {
    throw new ApiProblem(422, 'No table', `This cannot be read as a table: ${(error as Error).message}`);
  }
}

/** Words stand in a head, and no figure. */
const isHead = (record: readonly string[]): boolean =>
  record.some((cell) => /\p{L}/u.test(cell)) && record.every((cell) => !/^[-−]?\d/.test(cell));

function delimiterOf(text: string): string {
  const first = text.slice(0, 2000);
  if (first.includes('\t')) return '\t';
  return first.includes(';') ? ';' : ',';
}

interface Columns {
  time: number;
  level: number;
  chains: number[];
  azimuth: number;
  tilt: number;
}

function columnsOf(head: string[] | null, width: number): Columns {
  if (!head)
    return {
      time: 0,
      level: 1,
      chains: Array.from({ length: Math.max(0, width - 2) }, (_, i) => i + 2),
      azimuth: -1,
      tilt: -1,
    };
  const find = (words: RegExp): number => head.findIndex((cell) => words.test(cell));
  const [time, level] = [find(heads.time), find(heads.level)];
  return {
    time: time < 0 ? 0 : time,
    level: level < 0 ? 1 : level,
    chains: head.flatMap((cell, i) => (heads.chain.test(cell) ? [i] : [])),
    azimuth: find(heads.azimuth),
    tilt: find(heads.tilt),
  };
}

/** Seconds, a time of the day as seconds, or a moment; null for none of them. */
function timeOf(cell: string): TableLevel['at'] | null {
  if (/^-?\d+(\.\d+)?$/.test(cell)) return { seconds: Number(cell) };
  const day = /^(\d{1,2}):(\d\d)(?::(\d\d(?:\.\d+)?))?$/.exec(cell);
  if (day) {
    const [hours, minutes, seconds] = [Number(day[1]), Number(day[2]), Number(day[3] ?? 0)];
    return hours < 24 && minutes < 60 && seconds < 61 ? { seconds: 3600 * hours + 60 * minutes + seconds } : null;
  }
  if (!/^\d{4}-\d\d-\d\d[T ]\d\d:\d\d/.test(cell)) return null;
  const ms = Date.parse(cell.replace(' ', 'T'));
  return Number.isNaN(ms) ? null : { ms };
}
