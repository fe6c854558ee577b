import type { FieldError } from '@kivram/contract/problem';
import type { KnownLaw } from '@kivram/contract/views/law';
import type { LinkView } from '@kivram/contract/views/link';
import { maskText } from '@kivram/core/addressing/subnet';
import type { End } from '@kivram/core/budget/plan';
import { bandWords } from '@kivram/core/gear/model';
import { readHidden } from '@kivram/core/pairing/hiddenPassphrase';
import { roleWords, securityWords, type Sheet } from '@kivram/core/pairing/sheet';
import { protocolWords } from '@kivram/core/radio/kinds';
import { channelCentresMHz } from '@kivram/core/spectrum/channel';
import { MultiSelect, Select, Switch, TextInput } from '@mantine/core';
import { lazy, Suspense } from 'react';
import type { Rule } from '../parts/Facing';
import { NumberField } from '../parts/NumberField';
import { Secret } from './Secret';
import type { Reveal } from './useReveal';

/** Only relays list their neighbours. */
const TagsInput = lazy(async () => ({ default: (await import('./neighbours')).TagsInput }));

type Kind = 'text' | 'secret' | 'number' | 'switch' | 'choice' | 'scan' | 'list';

/** One line of the face-to-face sheet. */
export interface Field {
  label: string;
  key: keyof Sheet;
  kind: Kind;
  unit?: string;
  choices?: Record<End, { value: string; label: string }[]>;
  /** how both ends must lie to each other; none where each is free */
  rule?: Rule;
}

/** How stored values are called, of the settings that have words of their own. */
const valueWords: Partial<Record<keyof Sheet, Record<string, string>>> = {
  role: roleWords,
  security: securityWords,
  band: bandWords,
  protocol: protocolWords,
};

/** A setting's value as people write it. */
export function settingText(key: keyof Sheet, value: unknown): string {
  if (Array.isArray(value)) return value.join(', ') || 'all';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  const plain = String(value ?? 'none');
  return valueWords[key]?.[plain] ?? plain;
}

type Choice = { value: string; label: string };

const same = (choices: Choice[]): { choices: Record<End, Choice[]> } => ({ choices: { near: choices, far: choices } });

const choices = (key: keyof Sheet): Choice[] =>
  Object.entries(valueWords[key] ?? {}).map(([value, label]) => ({ value, label }));

/** How the settings are called. */
export const settingWords: Record<keyof Sheet, string> = {
  centreMHz: 'Channel of the access point',
  scanMHz: 'Station listens on',
  txMHz: 'Sends on',
  rxMHz: 'Hears on',
  errorCorrection: 'Error correction',
  role: 'Role',
  neighbours: 'Listens to neighbours',
  networkName: 'Network name',
  security: 'Security',
  passphrase: 'Passphrase',
  band: 'Band',
  widthMHz: 'Width',
  followsWidth: 'Station follows the width',
  protocol: 'Protocol',
  ptpOnly: 'Point-to-point only',
  bridge: 'Bridge mode',
  conductedDbm: 'Conducted power',
  country: 'Country',
  address: 'Address',
  prefix: 'Mask',
  gateway: 'Gateway',
  deviceName: 'Device name',
  firmware: 'Firmware',
};

/** The lines of both sheets; those of licensed pairs and of relays only where one is. */
export function sheetFields(
  sheets: Record<End, Sheet>,
  view: Pick<LinkView, End>,
  countries: readonly Pick<KnownLaw, 'country' | 'name'>[],
): Field[] {
  const { near, far } = sheets;
  const licensed = near.band === 'licensed' || far.band === 'licensed';
  const relays = near.role === 'relay' || far.role === 'relay';
  const field = (key: keyof Sheet, kind: Kind, rule?: Rule, more: Partial<Field> = {}): Field => ({
    label: settingWords[key],
    key,
    kind,
    rule,
    ...more,
  });
  // What a radio does not have is not offered for it; what is set already stays to be seen.
  const had = (key: 'band' | 'protocol', of: (end: End) => readonly string[]): Partial<Field> => {
    const at = (end: End): Choice[] =>
      choices(key).filter(({ value }) => of(end).includes(value) || sheets[end][key] === value);
    return { choices: { near: at('near'), far: at('far') } };
  };
  const channel = [
    field('centreMHz', 'number', relays ? 'match' : undefined, { unit: 'MHz' }),
    field('scanMHz', 'scan'),
  ];
  const pair = [
    field('txMHz', 'number', 'exchange', { unit: 'MHz' }),
    field('rxMHz', 'number', 'exchange', { unit: 'MHz' }),
    field('errorCorrection', 'switch', 'match'),
  ];
  const follows = [near, far].some((sheet) => sheet.role === 'station' && sheet.followsWidth);
  const slots = near.protocol === 'slots' && far.protocol === 'slots';
  return [
    field('role', 'choice', relays ? 'match' : 'differ', same(choices('role'))),
    ...(relays ? [field('neighbours', 'list')] : []),
    field('networkName', 'text', 'match'),
    field('security', 'choice', 'match', same(choices('security'))),
    field('passphrase', 'secret', 'match'),
    field(
      'band',
      'choice',
      'match',
      had('band', (end) => [view[end].model.band]),
    ),
    ...(licensed ? pair : channel),
    field('widthMHz', 'number', follows ? undefined : 'match', { unit: 'MHz' }),
    field('followsWidth', 'switch'),
    field(
      'protocol',
      'choice',
      'match',
      had('protocol', (end) => view[end].model.protocols),
    ),
    field('ptpOnly', 'switch', slots ? 'match' : undefined),
    field('bridge', 'switch', 'match'),
    field('conductedDbm', 'number', undefined, { unit: 'dBm' }),
    field(
      'country',
      'choice',
      'match',
      same(countries.map((set) => ({ value: set.country, label: `${set.country}, ${set.name}` }))),
    ),
    field('address', 'text', 'differ'),
    field(
      'prefix',
      'choice',
      'match',
      same(Array.from({ length: 25 }, (_, i) => ({ value: String(i + 8), label: `/${i + 8}, ${maskText(i + 8)}` }))),
    ),
    field('gateway', 'text', 'match'),
    field('deviceName', 'text', 'differ'),
    field('firmware', 'text', view.near.model.id === view.far.model.id ? 'match' : undefined),
  ];
}

/** Whether both sheets break the rule of a line. */
export function ruleBroken({ key, rule }: Field, { near, far }: Record<End, Sheet>): boolean {
  if (rule === 'exchange') return key === 'txMHz' ? near.txMHz !== far.rxMHz : near.rxMHz !== far.txMHz;
  const same = JSON.stringify(near[key]) === JSON.stringify(far[key]);
  if (rule === 'match') {
    if (key === 'passphrase') {
      const digests = [near, far].map((sheet) => readHidden(sheet.passphrase)?.digest);
      if (digests[0] && digests[0] === digests[1]) return false;
    }
    // An open network asks for no passphrase.
    if (key === 'passphrase' && near.security === 'open' && far.security === 'open') return false;
    return !same;
  }
  return rule === 'differ' && same;
}

interface Props {
  field: Field;
  sheet: Sheet;
  end: 'near' | 'far';
  set(change: Partial<Sheet>): void;
  errors: FieldError[];
  /** how a passphrase that is not shown comes to be shown; null where it may not */
  reveal: Reveal;
}

/** The input of one setting at one end. */
export function SheetField({ field, sheet, end, set, errors, reveal }: Props) {
  const { key } = field;
  const value = sheet[key];
  const error = errors.find((e) => e.field === `${end}.${key}` || e.field.startsWith(`${end}.${key}.`))?.message;
  const common = { 'aria-label': `${field.label}, ${end} end`, size: 'sm' as const, error };
  switch (field.kind) {
    case 'switch':
      return (
        <Switch
          aria-label={common['aria-label']}
          checked={value === true}
          onChange={(event) => set({ [key]: event.currentTarget.checked })}
          label={value ? 'on' : 'off'}
          labelPosition={end === 'near' ? 'left' : 'right'}
          style={{ width: 'fit-content' }}
        />
      );
    case 'choice':
      return (
        <Select
          {...common}
          data={field.choices?.[end] ?? []}
          value={String(value)}
          allowDeselect={false}
          onChange={(v) => v !== null && set({ [key]: key === 'prefix' ? Number(v) : v })}
        />
      );
    case 'number':
      return (
        <NumberField {...common} value={value as number | null} unit={field.unit} onChange={(v) => set({ [key]: v })} />
      );
    case 'scan': {
      const centres = channelCentresMHz(sheet.band, sheet.widthMHz);
      const all = [...new Set([...centres, ...sheet.scanMHz])].sort((a, b) => a - b);
      return sheet.role !== 'station' ? (
        <span className="soft">sends, does not listen</span>
      ) : (
        <MultiSelect
          {...common}
          data={all.map(String)}
          value={sheet.scanMHz.map(String)}
          placeholder={sheet.scanMHz.length ? undefined : 'all allowed channels'}
          onChange={(list) => set({ scanMHz: list.map(Number) })}
        />
      );
    }
    case 'list':
      return (
        <Suspense fallback="">
          <TagsInput
            {...common}
            data={[]}
            value={sheet.neighbours}
            placeholder={sheet.neighbours.length ? undefined : 'hardware addresses, Enter after each'}
            onChange={(neighbours) => set({ neighbours })}
          />
        </Suspense>
      );
    case 'secret': {
      const hidden = readHidden(sheet.passphrase);
      const shown = hidden ? reveal.shown?.[end].passphrase : sheet.passphrase;
      return (
        <Secret
          {...common}
          value={shown ?? ''}
          isHidden={!!hidden && shown === undefined}
          onReveal={reveal.mayAsk ? reveal.ask : null}
          onChange={(text) => set({ passphrase: text || null })}
        />
      );
    }
    case 'text':
      return (
        <TextInput
          {...common}
          value={typeof value === 'string' ? value : ''}
          onChange={(event) =>
            set({
              [key]: event.currentTarget.value === '' && key === 'gateway' ? null : event.currentTarget.value,
            })
          }
          styles={{ input: { fontFamily: 'var(--figures)' } }}
          autoComplete="off"
          spellCheck={false}
        />
      );
  }
}
