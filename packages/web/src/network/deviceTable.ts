import { deviceKinds, type DeviceKind } from '@kivram/contract/entities/network';
import { spokenWord } from '@kivram/contract/storedWords';
import { isAddress } from '@kivram/core/addressing/subnet';
import { parse } from 'csv-parse/browser/esm/sync';
import { stringify } from 'csv-stringify/browser/esm/sync';
import type { DeviceForm } from './networkForm';

type Column = 'name' | 'kind' | 'address' | 'mac';

/** What people write above such columns, in lower case. */
const headings: Record<string, Column> = {
  name: 'name',
  device: 'name',
  description: 'name',
  kind: 'kind',
  type: 'kind',
  'what it is': 'kind',
  address: 'address',
  ip: 'address',
  'ip address': 'address',
  mac: 'mac',
  'mac address': 'mac',
  'hardware address': 'mac',
  hostname: 'name',
  host: 'name',
  'ip-address': 'address',
  ipv4: 'address',
  'mac-address': 'mac',
};

/** Devices out of a table, and what of it was not taken. */
export interface DeviceTable {
  devices: DeviceForm[];
  /** columns by what stands above them */
  unused: string[];
  /** names that are longer than a name may be, as they stood there */
  cut: string[];
}

/** Characters of a device's name. */
const longestName = 60;

/**
 * Devices out of a table as spreadsheets copy and save it: cells apart by tabs, commas or semicolons. The first row may name its columns; without names they are taken by
 * what stands in them.
 */
export function readDevices(text: string): DeviceTable {
  const rows = parse(text, {
    delimiter: delimiterOf(text),
    bom: true,
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    trim: true,
  });
  const names = (rows[0] ?? []).map((cell) => headings[cell.toLowerCase()]);
  const named = names.some((name) => name !== undefined) && !(rows[0] ?? []).some(isAddress);
  const cut: string[] = [];
  const devices = rows.slice(named ? 1 : 0).map((cells): DeviceForm => {
    const at = named ? names : cells.map(guess(cells));
    // What was kept from running as a formula when it was saved.
    const cell = (column: Column): string => (cells[at.indexOf(column)] ?? '').replace(/^'(?=[=+\-@])/, '');
    const name = cell('name');
    if (name.length > longestName) cut.push(name);
    return { name: name.slice(0, longestName), kind: kindOf(cell('kind')), address: cell('address'), mac: cell('mac') };
  });
  // Of two columns of one kind the first is read.
  const isRead = (i: number): boolean => names[i] !== undefined && names.indexOf(names[i]) === i;
  const unused = named ? (rows[0] ?? []).filter((heading, i) => heading && !isRead(i)) : [];
  return { devices, unused, cut };
}

/** The mark that stands most often in the first line, but for what is quoted. */
function delimiterOf(text: string): string {
  const [line = ''] = text.replace(/"[^"]*"/g, '').split('\n');
  const marks = ['\t', ';', ','].map((mark) => ({ mark, count: line.split(mark).length }));
  return marks.reduce((best, next) => (next.count > best.count ? next : best)).mark;
}

/** What a cell is by what it looks like; the first that looks like nothing else is the name. */
function guess(cells: readonly string[]): (cell: string, index: number) => Column | undefined {
  const looks = (cell: string): Column | undefined =>
    isAddress(cell)
      ? 'address'
      : /^([0-9a-f]{2}[:-]?){5}[0-9a-f]{2}$/i.test(cell)
        ? 'mac'
        : deviceKinds.some((kind) => [kind, spokenWord(kind)].includes(cell.toLowerCase()))
          ? 'kind'
          : undefined;
  const named = cells.findIndex((cell) => cell && !looks(cell));
  // Where every cell looks like something else, the first is what it is called all the same.
  return (cell, index) => (index === (named < 0 ? 0 : named) ? 'name' : looks(cell));
}

function kindOf(word: string): DeviceKind {
  const wanted = word.trim().toLowerCase();
  return deviceKinds.find((kind) => kind.toLowerCase() === wanted || spokenWord(kind) === wanted) ?? 'other';
}

/** The same table to be saved. */
export function writeDevices(devices: readonly DeviceForm[]): string {
  return stringify(
    devices.map(({ name, kind, address, mac }) => [name, spokenWord(kind), address, mac]),
    {
      header: true,
      columns: ['name', 'kind', 'address', 'hardware address'],
      record_delimiter: '\r\n',
      // A cell that begins like a formula would run in a spreadsheet.
      escape_formulas: true,
    },
  );
}
