import type { FieldError } from '@kivram/contract';
import { bands, channelCentresMHz, maskText, protocols, ruleSets, securities, type Sheet } from '@kivram/core';
import { MultiSelect, NumberInput, Select, Switch, TextInput } from '@mantine/core';

type Kind = 'text' | 'number' | 'switch' | 'choice' | 'scan';

/** One line of the face-to-face sheet. */
export interface Field {
  label: string;
  keys: (keyof Sheet)[];
  kind: Kind;
  unit?: string;
  choices?: { value: string; label: string }[];
  same(a: Sheet, b: Sheet): boolean;
}

const words = (list: readonly string[]) => list.map((value) => ({ value, label: value }));

/** The lines of both sheets; those of licensed pairs only where one is. */
export function sheetFields({ near, far }: { near: Sheet; far: Sheet }): Field[] {
  const licensed = near.band === 'licensed' || far.band === 'licensed';
  const field = (label: string, key: keyof Sheet, kind: Kind, more: Partial<Field> = {}): Field => ({
    label,
    keys: [key],
    kind,
    same: (a, b) => JSON.stringify(a[key]) === JSON.stringify(b[key]),
    ...more,
  });
  const channel = [
    field('Channel of the access point', 'centreMHz', 'number', { unit: 'MHz' }),
    field('Station listens on', 'scanMHz', 'scan'),
  ];
  const pair = [
    field('Sends on', 'txMHz', 'number', { unit: 'MHz' }),
    field('Hears on', 'rxMHz', 'number', { unit: 'MHz' }),
  ];
  return [
    field('Role', 'role', 'choice', {
      choices: [
        { value: 'ap', label: 'access point' },
        { value: 'station', label: 'station' },
      ],
    }),
    field('Network name', 'networkName', 'text'),
    field('Security', 'security', 'choice', { choices: words(securities) }),
    field('Passphrase', 'passphrase', 'text'),
    field('Band', 'band', 'choice', { choices: words(bands) }),
    ...(licensed ? pair : channel),
    field('Width', 'widthMHz', 'number', { unit: 'MHz' }),
    field('Station follows the width', 'followsWidth', 'switch'),
    field('Protocol', 'protocol', 'choice', { choices: words(protocols) }),
    field('Point-to-point only', 'ptpOnly', 'switch'),
    field('Bridge mode', 'bridge', 'switch'),
    field('Conducted power', 'conductedDbm', 'number', { unit: 'dBm' }),
    field('Country', 'country', 'choice', {
      choices: ruleSets.map((set) => ({ value: set.country, label: `${set.country}, ${set.name}` })),
    }),
    field('Address', 'address', 'text'),
    field('Mask', 'prefix', 'choice', {
      choices: Array.from({ length: 23 }, (_, i) => ({ value: String(i + 8), label: `/${i + 8}, ${maskText(i + 8)}` })),
    }),
    field('Gateway', 'gateway', 'text'),
    field('Device name', 'deviceName', 'text'),
    field('Firmware', 'firmware', 'text'),
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
      return sheet.role === 'ap' ? (
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
