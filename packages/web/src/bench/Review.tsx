import type { End } from '@kivram/core/budget/plan';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { Button, Modal } from '@mantine/core';
import { settingText, settingWords } from './sheetFields';

interface Props {
  before: Record<End, Sheet>;
  after: Record<End, Sheet>;
  names: Record<End, string>;
  onSave(): void;
  onClose(): void;
}

/** Every change before it is saved over settings that radios may have: the far end is to be set first, or it is cut off. */
export function Review({ before, after, names, onSave, onClose }: Props) {
  return (
    <Modal opened onClose={onClose} title="Save over the settings of both ends?" size="lg">
      {(['far', 'near'] as const).map((end) => {
        const changes = changesOf(before[end], after[end]);
        return (
          <section key={end} style={{ marginBottom: 16 }}>
            <h2 className={end}>
              {end === 'far' ? 'Far end first' : 'Then the near end'}: {names[end]}
            </h2>
            {changes.length ? (
              <ul className="plain">
                {changes.map(({ key, from, to }) => (
                  <li key={key}>
                    {settingWords[key]}: <span className="figure soft">{from}</span> to{' '}
                    <span className="figure">{to}</span>
                  </li>
                ))}
              </ul>
            ) : (
              <p className="soft">Nothing changes here.</p>
            )}
          </section>
        );
      })}
      <p className="note">
        What was tried and proven with the old settings opens again. Set the radios themselves far end first: a change
        that the far end has not got yet cuts the link.
      </p>
      <div className="row">
        <Button onClick={onSave} data-autofocus>
          Save both sheets
        </Button>
        <Button variant="default" onClick={onClose}>
          Not yet
        </Button>
      </div>
    </Modal>
  );
}

/** A passphrase is not shown: only that it is another one. */
export function changesOf(before: Sheet, after: Sheet): { key: keyof Sheet; from: string; to: string }[] {
  return (Object.keys(after) as (keyof Sheet)[])
    .filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) =>
      key === 'passphrase'
        ? { key, from: before.passphrase ? 'the one set now' : 'none', to: after.passphrase ? 'another one' : 'none' }
        : { key, from: settingText(key, before[key]), to: settingText(key, after[key]) },
    );
}
