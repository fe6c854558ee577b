import { Button } from '@mantine/core';
import type { Draft } from './useDraft';

/** Said where somebody else has saved while this was typed: look at theirs, take it, or go on with one's own. */
export function Clash({ draft, what }: { draft: Omit<Draft<unknown>, 'set'>; what: string }) {
  if (!draft.stale) return null;
  return (
    <div className="caution" role="alert">
      <p style={{ margin: '0 0 8px' }}>
        {what}{' '}
        {draft.peeking ? 'as saved now. What you typed is kept.' : 'was changed by somebody else while you typed.'}
      </p>
      <div className="row">
        <Button size="sm" variant="default" onClick={() => draft.peek(!draft.peeking)}>
          {draft.peeking ? 'Show mine' : 'Show what is saved now'}
        </Button>
        <Button size="sm" variant="default" onClick={draft.drop}>
          Take that, drop mine
        </Button>
        <Button size="sm" variant="default" onClick={draft.rebase}>
          Keep mine, to save over it
        </Button>
      </div>
    </div>
  );
}
