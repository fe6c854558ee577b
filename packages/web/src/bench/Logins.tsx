import { LoginBody } from '@kivram/contract/requests/login';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { LinkView } from '@kivram/contract/views/link';
import { ends, type End } from '@kivram/core/budget/plan';
import { makePassphrase } from '@kivram/core/pairing/passphrase';
import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Problem } from '../parts/Problem';
import { sendThen, useChange, useMay } from '../queries';
import { Secret } from './Secret';
import type { Reveal } from './useReveal';

interface Props {
  view: LinkView;
  reveal: Reveal;
}

/** With what one logs in to the radios themselves: the maker's own must go, and the next person must find what is there instead. */
export function Logins({ view, reveal }: Props) {
  return (
    <section aria-label="Logging in to the radios" style={{ marginTop: 24 }}>
      <h2>Logging in to the radios</h2>
      <p className="note">
        Replace the maker&rsquo;s own password on the table, one radio at a time, and note the new one here: it is
        sealed in the database and hidden like the passphrase.
      </p>
      <div className="columns">
        {ends.map((end) => (
          <Login key={`${end} ${view.logins[end]?.version ?? ''}`} end={end} view={view} reveal={reveal} />
        ))}
      </div>
    </section>
  );
}

function Login({ end, view, reveal }: Props & { end: End }) {
  const login = view.logins[end];
  const { radio, place } = view[end];
  const may = useMay(view.link.jobId);
  const save = useChange(routes.saveLogin, { radioId: radio.id });
  // Never kept as a draft: what is typed here is in no browser's storage.
  const [userName, setUserName] = useState(login?.userName ?? '');
  const [typed, setTyped] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const known = reveal.shown?.[end].password;
  const changed = typed !== null || userName !== (login?.userName ?? '');
  const submit = (): void => {
    const body = { version: login?.version ?? -1, userName: userName.trim(), password: typed ?? known ?? '' };
    const found = check(LoginBody, body).errors?.[0]?.message;
    const isHidden = login?.hasPassword && typed === null && known === undefined;
    setError(
      isHidden
        ? 'Show the password first, or make another one up: name and password are noted together.'
        : (found ?? null),
    );
    if (!found) sendThen(save, body, () => setTyped(null));
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <h3 className={end}>
        {end === 'near' ? 'Near' : 'Far'}: {place.name}
      </h3>
      {!login && <p className="note">No login noted: whoever knows the maker&rsquo;s can get in.</p>}
      {may.work ? (
        <>
          <TextInput
            label={`User name, ${end} end`}
            size="sm"
            maxLength={60}
            autoComplete="off"
            value={userName}
            onChange={(event) => setUserName(event.currentTarget.value)}
          />
          <div className="login-password">
            <span aria-hidden="true">Password</span>
            <Secret
              aria-label={`Password of the radio, ${end} end`}
              size="sm"
              error={undefined}
              value={typed ?? known ?? ''}
              isHidden={!!login?.hasPassword && typed === null && known === undefined}
              onReveal={reveal.mayAsk ? reveal.ask : null}
              onChange={setTyped}
            />
          </div>
          <div className="row" style={{ marginTop: 8 }}>
            <Button
              size="sm"
              variant="default"
              onClick={() => setTyped(makePassphrase((count) => crypto.getRandomValues(new Uint8Array(count))))}
            >
              Make one up
            </Button>
            <Button size="sm" type="submit" disabled={!changed || !userName.trim()} loading={save.isPending}>
              Note it
            </Button>
          </div>
        </>
      ) : (
        login && <p>{login.userName}, password not shown</p>
      )}
      <Problem error={error === null ? save.error : new Error(error)} />
    </form>
  );
}
