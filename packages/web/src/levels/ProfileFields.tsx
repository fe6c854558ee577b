import type { DeviceAnswer } from '@kivram/contract/views/level';
import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { typeset } from '../parts/Figure';
import { NumberField } from '../parts/NumberField';
import {
  becomes,
  picked,
  quantities,
  quantityWords,
  unitOf,
  type ProfileDraft,
  type Quantity,
  type ValueDraft,
} from './profileDraft';

const typeWords = [
  { value: 'number', label: 'a number' },
  { value: 'text', label: 'the first number in a text' },
  { value: 'float', label: 'a float' },
];

interface Props {
  draft: ProfileDraft;
  set(draft: ProfileDraft): void;
  /** what the device answers, to pick from; null before it was asked */
  answer: DeviceAnswer | null;
}

/** What is read of a kind of radio: for each quantity where it stands, typed or picked from what the device answers. */
export function ProfileFields({ draft, set, answer }: Props) {
  const [picking, setPicking] = useState<Quantity>('level');
  const change = (quantity: Quantity, value: Partial<ValueDraft>): void =>
    set({ ...draft, values: { ...draft.values, [quantity]: { ...draft.values[quantity], ...value } } });
  const numbers = new Map(answer?.values.map(({ where, number }) => [where, number]));
  return (
    <>
      <TextInput
        label="Name of the profile"
        placeholder="the kind of radio"
        value={draft.name}
        onChange={(event) => set({ ...draft, name: event.currentTarget.value })}
        maxLength={60}
        maw={340}
        autoComplete="off"
      />
      <div className="scroll" tabIndex={0} role="region" aria-label="What is read, as a table">
        <table className="ruled">
          <thead>
            <tr>
              <th>What</th>
              <th>{draft.way === 'snmp' ? 'Object identifier' : 'Path into the answer'}</th>
              <th>Written as</th>
              <th>Times</th>
              <th>Plus</th>
              <th className="right">Now</th>
            </tr>
          </thead>
          <tbody>
            {quantities.map((quantity) => {
              const value = draft.values[quantity];
              const now = becomes(value, numbers.get(value.where === '(all)' ? '' : value.where) ?? null);
              const of = quantityWords[quantity];
              return (
                <tr key={quantity}>
                  <td>{of}</td>
                  <td>
                    <TextInput
                      aria-label={`Where the ${of} stands`}
                      size="sm"
                      value={value.where}
                      onChange={(event) => change(quantity, { where: event.currentTarget.value })}
                      miw={200}
                      autoComplete="off"
                    />
                  </td>
                  <td>
                    <Select
                      aria-label={`How the ${of} is written`}
                      size="sm"
                      data={typeWords}
                      value={value.type}
                      onChange={(type) => type && change(quantity, { type: type as ValueDraft['type'] })}
                      allowDeselect={false}
                      w={190}
                    />
                  </td>
                  <td>
                    <NumberField
                      aria-label={`Factor of the ${of}`}
                      size="sm"
                      value={value.scale}
                      onChange={(scale) => change(quantity, { scale })}
                      digits={9}
                      w={90}
                    />
                  </td>
                  <td>
                    <NumberField
                      aria-label={`What is added to the ${of}`}
                      size="sm"
                      value={value.offset}
                      onChange={(offset) => change(quantity, { offset })}
                      w={80}
                    />
                  </td>
                  <td className="right figure">{now === null ? '' : `${typeset(now, 1)} ${unitOf(quantity)}`}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {answer && (
        <Answers
          answer={answer}
          picking={picking}
          onPicking={setPicking}
          onPick={(value) => {
            change(picking, picked(picking, value));
            setPicking(quantities[quantities.indexOf(picking) + 1] ?? picking);
          }}
        />
      )}
    </>
  );
}

interface AnswersProps {
  answer: DeviceAnswer;
  picking: Quantity;
  onPicking(quantity: Quantity): void;
  onPick(value: DeviceAnswer['values'][number]): void;
}

/** So many answers are shown at a time; the others are found by their words. */
const mostShown = 60;

/** What the device answered, line by line, to pick a quantity from. */
function Answers({ answer, picking, onPicking, onPick }: AnswersProps) {
  const [find, setFind] = useState('');
  const wanted = find.trim().toLowerCase();
  const found = answer.values.filter(({ where, text }) => `${where} ${text}`.toLowerCase().includes(wanted));
  return (
    <section aria-label="What it answers">
      <div className="row" style={{ alignItems: 'end' }}>
        <Select
          label="Pick the"
          data={quantities.map((value) => ({ value, label: quantityWords[value] }))}
          value={picking}
          onChange={(value) => value && onPicking(value)}
          allowDeselect={false}
          w={190}
        />
        <TextInput
          label="Find in the answers"
          value={find}
          onChange={(event) => setFind(event.currentTarget.value)}
          w={220}
          autoComplete="off"
        />
        <p className="note">
          {answer.values.length} values{answer.isWhole ? '' : ' and more: walk a smaller branch to see those'}, first
          answer after {Math.round(answer.tookMs)} ms
        </p>
      </div>
      <ul className="plain levels-answers">
        {found.slice(0, mostShown).map((value) => (
          <li key={value.where}>
            <button type="button" onClick={() => onPick(value)}>
              <span className="figure">{value.where || '(all)'}</span>
              <span>{value.text}</span>
            </button>
          </li>
        ))}
      </ul>
      {found.length > mostShown && <p className="note">{found.length - mostShown} more: type a word to find them.</p>}
    </section>
  );
}
