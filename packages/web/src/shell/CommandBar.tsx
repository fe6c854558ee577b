import { routes } from '@kivram/contract/routes';
import { steps } from '@kivram/core/verdict/steps';
import { Modal, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api';
import { goesTo, stepIn, waysOf } from './ways';

interface Props {
  jobId: string | undefined;
  linkId: string | undefined;
  onClose(): void;
}

interface Choice {
  key: string;
  name: string;
  about: string;
  path: string;
}

/** Finds any place, radio, address, hardware address or step, and goes there. */
export function CommandBar({ jobId, linkId, onClose }: Props) {
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const { step, rest } = stepIn(text);
  const [wanted] = useDebouncedValue(rest.trim(), 120);
  const { data = [], error } = useQuery({
    queryKey: ['find', jobId, wanted],
    queryFn: () =>
      call(routes.find, {}, undefined, `?text=${encodeURIComponent(wanted)}${jobId ? `&job=${jobId}` : ''}`),
    enabled: wanted.length > 0,
    placeholderData: keepPreviousData,
  });
  const lower = text.trim().toLowerCase();
  const choices: Choice[] = [
    ...waysOf(jobId, linkId)
      .filter(({ words }) => words.toLowerCase().includes(lower))
      .map(({ words, path }) => ({ key: path, name: words, about: 'a screen', path })),
    // A step is a link's.
    ...(rest.trim() ? data.filter(({ kind }) => !step || kind === 'link' || kind === 'radio') : []).map((found) => ({
      key: `${found.kind} ${found.id}`,
      name: found.name,
      ...goesTo(found, step),
    })),
  ];
  const chosen = Math.min(at, choices.length - 1);
  const go = (choice: Choice | undefined): void => {
    if (!choice) return;
    onClose();
    void navigate(choice.path);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by !== undefined) setAt((chosen + by + choices.length) % Math.max(1, choices.length));
    else if (event.key === 'Enter') go(choices[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Modal opened onClose={onClose} withCloseButton={false} size="lg" yOffset="8vh" aria-label="Find and go">
      <TextInput
        data-autofocus
        role="combobox"
        aria-expanded
        aria-controls="found"
        aria-activedescendant={choices[chosen] && `found-${chosen}`}
        aria-label="Find and go"
        placeholder="a place, a radio, an address, a step"
        value={text}
        maxLength={80}
        autoComplete="off"
        onKeyDown={onKeyDown}
        onChange={(event) => {
          setText(event.currentTarget.value);
          setAt(0);
        }}
      />
      <div id="found" role="listbox" aria-label="What is called so" className="found">
        {choices.map((choice, i) => (
          <div
            key={choice.key}
            id={`found-${i}`}
            role="option"
            aria-selected={i === chosen}
            className="found-line"
            onClick={() => go(choice)}
            onMouseEnter={() => setAt(i)}
          >
            <strong>{choice.name}</strong> <span className="soft">{choice.about}</span>
          </div>
        ))}
      </div>
      {!choices.length && (
        <p className="note">
          {error ? error.message : `Nothing is called so. A step goes behind a link's name: ${steps.join(', ')}.`}
        </p>
      )}
    </Modal>
  );
}
