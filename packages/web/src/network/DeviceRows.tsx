import { fileText } from '../parts/fileText';
import { deviceKinds, type DeviceKind } from '@kivram/contract/entities/network';
import { spokenWord } from '@kivram/contract/storedWords';
import { Button, TextInput } from '@mantine/core';
import { useEffect, useRef, useState, type ClipboardEvent } from 'react';
import { useDropzone } from 'react-dropzone';
import { PlainSelect } from '../parts/PlainSelect';
import { Problem } from '../parts/Problem';
import { saveText } from '../parts/saveText';
import { emptyDevice, type DeviceForm, type RowErrors } from './networkForm';

const kindOptions = deviceKinds.map((kind) => ({ value: kind, label: spokenWord(kind) }));

/** What reads and writes tables comes when there is one. */
const tables = () => import('./deviceTable');

/** More rows than that are shown a part at a time: a table of thousands would make every keystroke slow. */
const shownAtOnce = 100;

interface Props {
  devices: DeviceForm[];
  errors: RowErrors<DeviceForm>[];
  jobName: string;
  onChange(devices: DeviceForm[]): void;
}

/** Who has an address on the site already: typed, pasted out of a spreadsheet, or read from a CSV file. */
export function DeviceRows({ devices, errors, jobName, onChange }: Props) {
  const [shown, setShown] = useState(shownAtOnce);
  const [failed, setFailed] = useState<string | null>(null);
  /** what of the last table was not taken */
  const [left, setLeft] = useState<string | null>(null);
  /** rows as they are when a table has been read: meanwhile somebody may have typed */
  const now = useRef(devices);
  useEffect(() => {
    now.current = devices;
  });
  const set = (index: number, changes: Partial<DeviceForm>): void =>
    onChange(devices.map((d, i) => (i === index ? { ...d, ...changes } : d)));
  /** Rows of a table take the place of the row they are put into where that is empty, else they come after it. */
  const put = (rows: DeviceForm[], at: number): void => {
    const before = now.current;
    const row = before[at];
    const empty = row && !row.name && !row.address && !row.mac;
    onChange([...before.slice(0, empty ? at : at + 1), ...rows, ...before.slice(at + 1)]);
    setShown((most) => Math.max(most, at + rows.length + 1));
  };
  const read = async (text: string, at: number): Promise<void> => {
    try {
      const { readDevices } = await tables();
      const { devices: rows, unused, cut } = readDevices(text);
      setFailed(rows.length ? null : 'There is no row in this table.');
      setLeft(leftWords(unused, cut));
      if (rows.length) put(rows, at);
    } catch (error) {
      setFailed(`This table cannot be read: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  const { getInputProps, open } = useDropzone({
    multiple: false,
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => {
      if (file) void fileText(file).then((text) => read(text, devices.length - 1));
    },
  });
  const save = async (): Promise<void> => {
    try {
      const { writeDevices } = await tables();
      saveText(`${jobName} devices.csv`, writeDevices(devices), 'text/csv');
    } catch (error) {
      setFailed(`The table cannot be saved: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  return (
    <section>
      <h2>Known devices</h2>
      <p className="note">
        Rows copied in a spreadsheet can be pasted into any field here: name, what it is, address, hardware address.
      </p>
      {devices.slice(0, shown).map((device, index) => (
        <DeviceRow
          key={index}
          number={index + 1}
          device={device}
          errors={errors[index] ?? {}}
          onChange={(changes) => set(index, changes)}
          onTable={(text) => void read(text, index)}
          onRemove={() => onChange(devices.filter((_, i) => i !== index))}
        />
      ))}
      <Problem error={failed ? new Error(failed) : null} />
      {left && (
        <p className="caution" role="status">
          {left}
        </p>
      )}
      <input {...getInputProps({ 'aria-label': 'File of devices', accept: '.csv,.tsv,.txt,text/csv' })} />
      <div className="row">
        {devices.length > shown && (
          <Button size="sm" variant="default" onClick={() => setShown(shown + shownAtOnce)}>
            Show {Math.min(shownAtOnce, devices.length - shown)} of {devices.length - shown} more
          </Button>
        )}
        <Button
          size="sm"
          variant="default"
          onClick={() => {
            onChange([...devices, emptyDevice]);
            setShown((before) => Math.max(before, devices.length + 1));
          }}
        >
          Add a device
        </Button>
        <Button size="sm" variant="default" onClick={open}>
          Read a CSV file
        </Button>
        <Button size="sm" variant="default" disabled={!devices.length} onClick={() => void save()}>
          Save as CSV
        </Button>
      </div>
    </section>
  );
}

/** What of a table has no place here, in words; null where all of it was taken. */
function leftWords(unused: readonly string[], cut: readonly string[]): string | null {
  const quoted = (words: readonly string[]): string =>
    words
      .slice(0, 5)
      .map((word) => `"${word.slice(0, 80)}"`)
      .join(', ') + (words.length > 5 ? ` and ${words.length - 5} more` : '');
  const said = [
    ...(unused.length
      ? [`Not read, for a device has no such field here: the column${unused.length > 1 ? 's' : ''} ${quoted(unused)}.`]
      : []),
    ...(cut.length ? [`Cut to 60 letters: ${quoted(cut)}.`] : []),
  ];
  return said.length ? said.join(' ') : null;
}

interface RowProps {
  number: number;
  device: DeviceForm;
  errors: RowErrors<DeviceForm>;
  onChange(changes: Partial<DeviceForm>): void;
  onTable(text: string): void;
  onRemove(): void;
}

function DeviceRow({ number, device, errors, onChange, onTable, onRemove }: RowProps) {
  const paste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text');
    // One value is typed into its field; a table is more than that.
    if (!/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    onTable(text);
  };
  const field = (name: 'name' | 'address' | 'mac', label: string, placeholder: string) => (
    <TextInput
      aria-label={`${label} of device ${number}`}
      placeholder={placeholder}
      value={device[name]}
      error={errors[name]}
      onChange={(event) => onChange({ [name]: event.currentTarget.value })}
      onPaste={paste}
      classNames={name === 'name' ? {} : { input: 'field-number' }}
    />
  );
  return (
    <div className="network-device">
      {field('name', 'Name', 'quay camera')}
      <PlainSelect
        aria-label={`Kind of device ${number}`}
        options={kindOptions}
        value={device.kind}
        onChoose={(kind) => onChange({ kind: kind as DeviceKind })}
      />
      {field('address', 'Address', '10.20.0.21')}
      {field('mac', 'Hardware address', 'hardware address')}
      <Button size="sm" variant="default" aria-label={`Remove device ${number}`} onClick={onRemove}>
        Remove
      </Button>
      {errors.row && <p className="problem network-row-error">{errors.row}</p>}
    </div>
  );
}
