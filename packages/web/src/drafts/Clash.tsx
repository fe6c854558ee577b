import { Button } from '@mantine/core';
import type { ReactNode } from 'react';
import type { Draft } from './useDraft';

/** Said where somebody else has saved while this was typed: look at theirs, take it, or go on with one's own. */
export function Clash({ draft, what }: { draft: Omit<Draft<unknown>, 'set'>; what: string }) {
  if (!draft.stale) return null;
  return (
    <Choice
      words={`${what} ${draft.peeking ? 'as saved now. What you typed is kept.' : 'was changed by somebody else while you typed.'}`}
      onTake={draft.drop}
      onKeep={draft.rebase}
    >
      <Button size="sm" variant="default" onClick={() => draft.peek(!draft.peeking)}>
        {draft.peeking ? 'Show mine' : 'Show what is saved now'}
      </Button>
    </Choice>
  );
}

/** The same for a form: what is saved now stands beside it. */
export function FormClash({
  form,
  saved,
}: {
  form: { stale: boolean; takeSaved(): void; keepMine(): void };
  saved: ReactNode;
}) {
  if (!form.stale) return null;
  return (
    <Choice
      words={<>Somebody else has changed this while you typed. Saved now: {saved}.</>}
      onTake={form.takeSaved}
      onKeep={form.keepMine}
    />
  );
}

function Choice({
  words,
  onTake,
  onKeep,
  children,
}: {
  words: ReactNode;
  onTake(): void;
  onKeep(): void;
  children?: ReactNode;
}) {
  return (
    <div className="caution" role="alert">
      <p style={{ margin: '0 0 8px' }}>{words}</p>
      <div className="row">
        {children}
        <Button size="sm" variant="default" onClick={onTake}>
          Take that, drop mine
        </Button>
        <Button size="sm" variant="default" onClick={onKeep}>
          Keep mine, to save over it
        </Button>
      </div>
    </div>
  );
}
