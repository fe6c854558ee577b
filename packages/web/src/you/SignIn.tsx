import { routes } from '@kivram/contract/routes';
import { Button, PasswordInput, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api';
import { forgetReading } from '../offline/caches';
import { Problem } from '../parts/Problem';
import { useTakeSession } from '../queries';

/** In place of every screen, over the network, while nobody has signed in. */
export function SignIn() {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const take = useTakeSession();
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: () => call(routes.signIn, {}, { name: name.trim(), password }),
    onSuccess: (session) => {
      void forgetReading(queries);
      take(session);
    },
  });
  return (
    <form
      style={{ maxWidth: 420, display: 'grid', gap: 10 }}
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate();
      }}
    >
      <h1>Sign in</h1>
      <p className="soft">
        The first time you come in by a code: somebody who leads the job shows it to you on the computer, under People.
      </p>
      <TextInput
        label="Your name"
        autoComplete="username"
        value={name}
        maxLength={60}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <PasswordInput
        label="Your password"
        autoComplete="current-password"
        value={password}
        maxLength={200}
        onChange={(event) => setPassword(event.currentTarget.value)}
      />
      <Problem error={enter.error} />
      <Button type="submit" disabled={!name.trim() || !password} loading={enter.isPending}>
        Sign in
      </Button>
    </form>
  );
}
