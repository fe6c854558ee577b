import type { FieldError } from '@kivram/contract';
import {
  bandWords,
  channelCentresMHz,
  maskText,
  protocolWords,
  securityWords,
  type RuleSet,
  type Sheet,
} from '@kivram/core';
import { MultiSelect, NumberInput, Select, Switch, TagsInput, TextInput } from '@mantine/core';

type Kind = 'text' | 'number' | 'switch' | 'choice' | 'scan' | 'list';

/** One line of the face-to-face sheet. */
export interface Field {
  label: string;
  keys: (keyof Sheet)[];
  kind: Kind;
  unit?: string;
  choices?: { value: string; label: string }[];
  same(a: Sheet, b: Sheet): boolean;
}

/** How stored values are called, of the settings that have words of their own. */
const valueWords: Partial<Record<keyof Sheet, Record<string, string>>> = {
  role: { ap: 'access point', station: 'station', relay: 'relay' },
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

const choices = (key: keyof Sheet) => ({
  choices: Object.entries(valueWords[key] ?? {}).map(([value, label]) => ({ value, label })),
});

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
export function sheetFields({ near, far }: { near: Sheet; far: Sheet }, laws: readonly RuleSet[]): Field[] {
  const licensed = near.band === 'licensed' || far.band === 'licensed';
  const relays = near.role === 'relay' || far.role === 'relay';
  const field = (key: keyof Sheet, kind: Kind, more: Partial<Field> = {}): Field => ({
    label: settingWords[key],
    keys: [key],
    kind,
    same: (a, b) => JSON.stringify(a[key]) === JSON.stringify(b[key]),
    ...more,
  });
  const channel = [field('centreMHz', 'number', { unit: 'MHz' }), field('scanMHz', 'scan')];
  const pair = [
    field('txMHz', 'number', { unit: 'MHz' }),
    field('rxMHz', 'number', { unit: 'MHz' }),
    field('errorCorrection', 'switch'),
  ];
  return [
    field('role', 'choice', choices('role')),
    ...(relays ? [field('neighbours', 'list')] : []),
    field('networkName', 'text'),
    field('security', 'choice', choices('security')),
    field('passphrase', 'text'),
    field('band', 'choice', choices('band')),
    ...(licensed ? pair : channel),
    field('widthMHz', 'number', { unit: 'MHz' }),
    field('followsWidth', 'switch'),
    field('protocol', 'choice', choices('protocol')),
    field('ptpOnly', 'switch'),
    field('bridge', 'switch'),
    field('conductedDbm', 'number', { unit: 'dBm' }),
    field('country', 'choice', {
      choices: laws.map((set) => ({ value: set.country, label: `${set.country}, ${set.name}` })),
    }),
    field('address', 'text'),
    field('prefix', 'choice', {
      choices: Array.from({ length: 23 }, (_, i) => ({ value: String(i + 8), label: `/${i + 8}, ${maskText(i + 8)}` })),
    }),
    field('gateway', 'text'),
    field('deviceName', 'text'),
    field('firmware', 'text'),
  ];
}

interface Props {
  field: Field;
  sheet: Sheet;
  end: 'near' | 'far';
  set(change: Partial<Sheet>): void;
  errors: FieldError[];
}

/** The input of one setting at one end. */
export function SheetField({ field, sheet, end, set, errors }: Props) {
  const key = field.keys[0] as keyof Sheet;
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
          data={field.choices ?? []}
          value={String(value)}
          allowDeselect={false}
          onChange={(v) => v !== null && set({ [key]: key === 'prefix' ? Number(v) : v })}
        />
      );
    case 'number':
      return (
        <NumberInput
          {...common}
          value={value === null ? '' : Number(value)}
          suffix={field.unit ? ` ${field.unit}` : undefined}
          onChange={(v) => set({ [key]: v === '' ? null : Number(v) })}
        />
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
        <TagsInput
          {...common}
          data={[]}
          value={sheet.neighbours}
          placeholder={sheet.neighbours.length ? undefined : 'hardware addresses, Enter after each'}
          onChange={(neighbours) => set({ neighbours })}
        />
      );
    case 'text':
      return (
        <TextInput
          {...common}
          value={typeof value === 'string' ? value : ''}
          onChange={(event) =>
            set({
              [key]:
                event.currentTarget.value === '' && (key === 'passphrase' || key === 'gateway')
                  ? null
                  : event.currentTarget.value,
            })
          }
          styles={{ input: { fontFamily: 'var(--figures)' } }}
          autoComplete="off"
          spellCheck={false}
        />
      );
  }
}
