import 'reflect-metadata';
import './offline/lostStyles';
import '@mantine/core/styles.css';
import './theme.css';
import { MutationCache, QueryCache, QueryClient, type Query } from '@tanstack/react-query';
import { PersistQueryClientProvider } from '@tanstack/react-query-persist-client';
import { MantineProvider } from '@mantine/core';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { ProblemError } from './api';
import { keptMs } from './offline/caches';
import { startWorker } from './offline/readiness';
import { isKept, keptReading } from './offline/keptReading';
import { holdUpdatesWhilePressed } from './press';
import { router } from './router';
import { SettingsProvider } from './settings';
import { theme } from './theme';

/** A session that was ended elsewhere is noticed by the first question that is refused for it. */
const noticeEnd = (error: Error): void => {
  if (error instanceof ProblemError && error.problem.status === 401)
    void queries.invalidateQueries({ queryKey: ['session'] });
};

/** What the server says is not there, or is none of theirs any more, is not shown from what was read before. */
const forgetGone = (error: Error, query: Query<unknown, unknown>): void => {
  if (error instanceof ProblemError && [403, 404].includes(error.problem.status)) query.setState({ data: undefined });
};

const queries: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error, query) => {
      // The session itself says so once, or it would be asked for again and again.
      if (query.queryKey[0] !== 'session') noticeEnd(error);
      forgetGone(error, query);
    },
  }),
  mutationCache: new MutationCache({ onError: noticeEnd }),
  defaultOptions: {
    mutations: { networkMode: 'always' },
    queries: {
      // The browser thinks that there is no network where there is only no internet.
      networkMode: 'always',
      gcTime: keptMs,
      staleTime: 2000,
      // What the server has refused once it refuses again; only a lost connection is worth another try.
      retry: (count, error) => !(error instanceof ProblemError && error.problem.status < 500) && count < 3,
    },
  },
});

/** What was opened once can be read without a network. */
const kept = {
  persister: keptReading,
  maxAge: keptMs,
  buster: String(import.meta.env.VITE_BUILD),
  dehydrateOptions: { shouldDehydrateQuery: isKept },
};

const nonce = (): string => document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '';
const root = document.getElementById('root');
if (!root) throw new Error('the page has no root element');

startWorker();
holdUpdatesWhilePressed();
createRoot(root).render(
  <StrictMode>
    <PersistQueryClientProvider
      client={queries}
      persistOptions={kept}
      // Shown at once, and asked for again: it may be of yesterday.
      onSuccess={() => void queries.invalidateQueries()}
    >
      <MantineProvider theme={theme} defaultColorScheme="light" getStyleNonce={nonce}>
        <SettingsProvider>
          <RouterProvider router={router} />
        </SettingsProvider>
      </MantineProvider>
    </PersistQueryClientProvider>
  </StrictMode>,
);
