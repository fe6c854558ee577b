import { Button } from '@mantine/core';
import { useState, type ReactNode } from 'react';
import type { UseMutationResult } from '@tanstack/react-query';
import { Problem } from '../parts/Problem';

interface Props<Item extends { id: string }> {
  title: string;
  /** where there is none */
  empty: string;
  items: readonly Item[];
  mayChange: boolean;
  /** on the button for a new one */
  add: string;
  show(item: Item): ReactNode;
  /** @param item null for a new one */
  form(item: Item | null, done: () => void): ReactNode;
}

/** What was noted, one below the other; of one at a time the form is open. */
export function NotedList<Item extends { id: string }>(props: Props<Item>) {
  const { title, empty, items, mayChange, add, show, form } = props;
  const [open, setOpen] = useState<string | null>(null);
  const done = (): void => setOpen(null);
  return (
    <section>
      <h2>{title}</h2>
      {!items.length && <p>{empty}</p>}
      <ul className="law-list">
        {items.map((item) => (
          <li key={item.id}>
            <div>{show(item)}</div>
            {mayChange && (
              <Button
                size="compact-sm"
                variant="default"
                onClick={() => setOpen(open === item.id ? null : item.id)}
                aria-expanded={open === item.id}
              >
                Change
              </Button>
            )}
            {mayChange && open === item.id && form(item, done)}
          </li>
        ))}
      </ul>
      {mayChange &&
        (open === 'new' ? (
          form(null, done)
        ) : (
          <Button variant="default" onClick={() => setOpen('new')}>
            {add}
          </Button>
        ))}
    </section>
  );
}

/** Below a form: saving, leaving, taking away. */
export function FormEnd({
  save,
  saving,
  removal,
  leave,
}: {
  save: string;
  saving: Pick<UseMutationResult<unknown, Error>, 'isPending' | 'error'>[];
  /** null for something new */
  removal: { change: Pick<UseMutationResult<unknown, Error>, 'isPending' | 'error'>; run(): void } | null;
  leave(): void;
}) {
  return (
    <>
      <Problem error={[...saving, ...(removal ? [removal.change] : [])].find(({ error }) => error)?.error ?? null} />
      <div className="row">
        <Button type="submit" loading={saving.some(({ isPending }) => isPending)}>
          {save}
        </Button>
        <Button variant="default" onClick={leave}>
          Leave it
        </Button>
        {removal && (
          <Button variant="subtle" color="red" loading={removal.change.isPending} onClick={removal.run}>
            Take it away
          </Button>
        )}
      </div>
    </>
  );
}
