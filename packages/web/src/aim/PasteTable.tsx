import { routes } from '@kivram/contract/routes';
import type { LevelTableResult } from '@kivram/contract/views/level';
import type { End } from '@kivram/core/budget/plan';
import { Button, Textarea } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api';
import { useDraft } from '../drafts/useDraft';
import { NumberField, numberIn, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { useFiles } from '../parts/useFiles';

interface Props {
  linkId: string;
  alignmentId: string;
  end: End;
}

const none = { text: '', lastAgoS: null as TypedNumber };

/** What the radio has noted with its times: pasted, or as a CSV file. The guide goes on from there. */
export function PasteTable({ linkId, alignmentId, end }: Props) {
  const kept = useDraft(`link/${linkId}/aim/table/${end}`, none, '');
  const { text, lastAgoS } = kept.value;
  // Who watches hears of it by the stream: nothing else is to be read again.
  const paste = useMutation({
    mutationFn: (body: { text: string; lastAgoS?: number }) =>
      call(routes.pasteLevels, { alignmentId }, { end, ...body }),
  });
  const [result, setResult] = useState<LevelTableResult | null>(null);
  const age = (): { lastAgoS?: number } => (lastAgoS === null ? {} : { lastAgoS: numberIn(lastAgoS) });
  const { drop, results } = useFiles({ characters: 1_000_000, mend: 'Bring its last part.' }, ({ text: file }) =>
    call(routes.pasteLevels, { alignmentId }, { end, text: file, ...age() }),
  );
  return (
    <form
      aria-label={`Table of levels at the ${end} end`}
      onSubmit={(event) => {
        event.preventDefault();
        setResult(null);
        // What is pasted meanwhile stays.
        const { saved, failed } = kept.send();
        const onSuccess = (answer: LevelTableResult): void => {
          setResult(answer);
          saved();
        };
        paste.mutate({ text, ...age() }, { onSuccess, onError: failed });
      }}
      {...drop.getRootProps()}
    >
      <input {...drop.getInputProps({ 'aria-label': 'Files of levels' })} />
      <Textarea
        label={`Levels of the ${end} end with their times`}
        description="time, level, and chains if you have them; with or without a head"
        placeholder={'12:30:05, −63\n12:30:06, −62'}
        value={text}
        onChange={(event) => kept.set((before) => ({ ...before, text: event.currentTarget.value }))}
        autosize
        minRows={4}
        maxRows={10}
      />
      <div className="row" style={{ alignItems: 'end' }}>
        <NumberField
          label="Age of its last line"
          description="empty: it is from now, or by the clock of the table before"
          value={lastAgoS}
          onChange={(value) => kept.set((before) => ({ ...before, lastAgoS: value }))}
          unit="s"
          w={280}
        />
        <Button type="submit" disabled={!text.trim()} loading={paste.isPending}>
          Take the table
        </Button>
        <Button variant="default" onClick={drop.open}>
          Choose a CSV file
        </Button>
      </div>
      <Problem error={paste.error} />
      {result && <Taken result={result} />}
      {results.map(({ name, read, error }) =>
        read ? <Taken key={name} result={read} /> : <Problem key={name} error={new Error(`${name}: ${error}`)} />,
      )}
    </form>
  );
}

function Taken({ result: { taken, known, refused, unused } }: { result: LevelTableResult }) {
  return (
    <div role="status" className="note">
      {taken} level{taken === 1 ? '' : 's'} taken{known > 0 && `, ${known} were known already`}.
      {unused.length > 0 &&
        ` Not used: the column${unused.length > 1 ? 's' : ''} ${unused.map((name) => `"${name}"`).join(', ')}.`}
      {refused.length > 0 && (
        <ul className="plain">
          {refused.slice(0, 10).map(({ line, reason }) => (
            <li key={`${line} ${reason}`}>
              line {line}: {reason}
            </li>
          ))}
          {refused.length > 10 && <li>and {refused.length - 10} more</li>}
        </ul>
      )}
    </div>
  );
}
