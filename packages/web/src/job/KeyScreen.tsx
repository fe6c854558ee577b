import { routes } from '@kivram/contract/routes';
import { Button, Textarea } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import QRCode from 'qrcode';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api';
import { Problem } from '../parts/Problem';
import { useKeyState } from './useKeyState';

/** The key that passphrases are sealed with: written down once, brought back when it was lost. */
export function KeyScreen() {
  const state = useKeyState(true);
  if (!state.data) return state.error ? <Problem error={state.error} /> : <p className="soft">Looking for the key</p>;
  const { isMissing, unreadable, mayBeWrittenDown } = state.data;
  return (
    <section style={{ maxWidth: 720 }}>
      <p>
        <Link to="/jobs">Jobs</Link>
      </p>
      <h1>The key</h1>
      <p>
        Passphrases and passwords of radios are sealed in the database with a key that lies in a file of its own on this
        computer. Without the key nobody can read them, not even you.
      </p>
      {unreadable > 0 && (
        <p className="caution" role="status">
          {unreadable === 1 ? 'One of them cannot' : `${unreadable} of them cannot`} be read: the key that sealed{' '}
          {unreadable === 1 ? 'it' : 'them'} is missing. What cannot be read looks as if there were none, and is kept
          until the key is back.
        </p>
      )}
      {unreadable > 0 && <BringBack />}
      {isMissing && <BeginAnew />}
      {mayBeWrittenDown ? (
        <WriteDown />
      ) : (
        !isMissing && <p className="note">It is written down, and stands in its file on this computer.</p>
      )}
    </section>
  );
}

function BringBack() {
  const [text, setText] = useState('');
  const queries = useQueryClient();
  const bring = useMutation({
    mutationFn: () => call(routes.bringKeyBack, {}, { text }),
    onSuccess: () => {
      setText('');
      return queries.invalidateQueries();
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        bring.mutate();
      }}
    >
      <h2>Bring it back</h2>
      <Textarea
        label="Its 24 words, or the line of the key file"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
        autosize
        minRows={2}
        maxLength={1000}
        autoComplete="off"
      />
      <Problem error={bring.error} />
      <Button type="submit" mt="sm" disabled={!text.trim()} loading={bring.isPending}>
        Bring it back
      </Button>
    </form>
  );
}

function BeginAnew() {
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: () => call(routes.beginKey),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <section style={{ marginTop: 24 }}>
      <h2>Or begin a new one</h2>
      <p>Then passphrases can be typed anew and are kept. What the old key has sealed stays, in case it turns up.</p>
      <Problem error={begin.error} />
      <Button variant="default" loading={begin.isPending} onClick={() => begin.mutate()}>
        Begin a new key
      </Button>
    </section>
  );
}

function WriteDown() {
  const queries = useQueryClient();
  const tell = useMutation({ mutationFn: () => call(routes.writeKeyDown) });
  const done = useMutation({
    mutationFn: () => call(routes.keyWrittenDown),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['key'] }),
  });
  const picture = usePicture(tell.data?.words);
  return (
    <section>
      <h2>Write it down</h2>
      {tell.data ? (
        <>
          <p>
            These 24 words are the key. Write them down in their order, or take the code with a phone of yours, and keep
            that away from this computer. They are shown until you say that they are written down, and never again.
          </p>
          <p className="figure" style={{ fontSize: '1.15em', lineHeight: 1.8, whiteSpace: 'normal' }}>
            {tell.data.words}
          </p>
          {picture && <img src={picture} width={240} height={240} alt="The 24 words as a code" />}
          <p>
            <Button loading={done.isPending} onClick={() => done.mutate()}>
              It is written down
            </Button>
          </p>
          <Problem error={done.error} />
        </>
      ) : (
        <>
          <p>If this disk breaks, a backup of the database is of no use for passphrases without the key.</p>
          <Problem error={tell.error} />
          <Button loading={tell.isPending} onClick={() => tell.mutate()}>
            Show it
          </Button>
        </>
      )}
    </section>
  );
}

function usePicture(text: string | undefined): string | null {
  const [picture, setPicture] = useState<string | null>(null);
  useEffect(() => {
    if (text) void QRCode.toDataURL(text, { margin: 2, width: 480 }).then(setPicture);
  }, [text]);
  return picture;
}
