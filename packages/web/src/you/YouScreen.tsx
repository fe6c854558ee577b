import { PasswordBody, shortestPassword } from '@kivram/contract/requests/session';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { Button, PasswordInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Navigate } from 'react-router';
import { call } from '../api';
import { useWaiting } from '../outbox/useOutbox';
import { forgetReading } from '../offline/caches';
import { readinessWords, useReadiness } from '../offline/readiness';
import { Problem } from '../parts/Problem';
import { useSession, useTakeSession } from '../queries';

/** Whoever has signed in: their password, and the way out. */
export function YouScreen() {
  const { data } = useSession();
  const readiness = useReadiness();
  if (!data) return <p className="soft">Reading</p>;
  if (!data.person) return <Navigate to="/" replace />;
  return (
    <>
      <h1>{data.person.name}</h1>
      <div className="columns" style={{ marginTop: 12 }}>
        <Password key={String(data.person.hasPassword)} person={data.person} />
        <SignOut />
      </div>
      <h2>Without the network</h2>
      <p>{readinessWords[readiness]}</p>
    </>
  );
}

function Password({ person }: { person: { hasPassword: boolean; mayReset: boolean } }) {
  const [password, setPassword] = useState('');
  const [before, setBefore] = useState('');
  const take = useTakeSession();
  const needsBefore = person.hasPassword && !person.mayReset;
  const save = useMutation({
    mutationFn: () => {
      const body = { password, ...(needsBefore && { before }) };
      const { errors } = check(PasswordBody, body);
      if (errors) throw new Error(errors.map((error) => error.message).join('. '));
      return call(routes.setPassword, {}, body);
    },
    onSuccess: (session) => {
      take(session);
      setPassword('');
      setBefore('');
    },
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <h2>{person.hasPassword ? 'Another password' : 'A password for coming back'}</h2>
      <p className="note">
        With one you come in again on any phone without a code. At least {shortestPassword} characters; several words
        are easy to remember and hard to guess.
      </p>
      {needsBefore && (
        <PasswordInput
          label="The password until now"
          autoComplete="current-password"
          value={before}
          onChange={(event) => setBefore(event.currentTarget.value)}
        />
      )}
      <PasswordInput
        label="New password"
        autoComplete="new-password"
        value={password}
        onChange={(event) => setPassword(event.currentTarget.value)}
      />
      <Problem error={save.error} />
      {save.isSuccess && <p role="status">It is set.</p>}
      <Button type="submit" mt="sm" disabled={!password} loading={save.isPending}>
        Set it
      </Button>
    </form>
  );
}

function SignOut() {
  const waiting = useWaiting();
  const queries = useQueryClient();
  const take = useTakeSession();
  const out = useMutation({
    mutationFn: () => call(routes.signOut),
    onSuccess: (session) => {
      void forgetReading(queries);
      take(session);
    },
  });
  return (
    <section>
      <h2>Leave this phone</h2>
      <p className="note">What was read here goes from the phone too. Coming back takes a password or another code.</p>
      {waiting.length > 0 && (
        <p className="caution">
          {waiting.length === 1 ? 'One change waits' : `${waiting.length} changes wait`} here to be sent. They stay on
          this phone, and are sent when you sign in again.
        </p>
      )}
      <Problem error={out.error} />
      <Button variant="default" loading={out.isPending} onClick={() => out.mutate()}>
        Sign out
      </Button>
    </section>
  );
}
