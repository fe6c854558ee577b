import 'reflect-metadata';
import '@mantine/core/styles.css';
import './theme.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { MantineProvider } from '@mantine/core';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { ProblemError } from './api';
import { router } from './router';
import { SettingsProvider } from './settings';
import { theme } from './theme';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 2000,
      // What the server has refused once it refuses again; only a lost connection is worth another try.
      retry: (count, error) => !(error instanceof ProblemError && error.problem.status < 500) && count < 3,
    },
  },
});

const nonce = (): string => document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '';
const root = document.getElementById('root');
if (!root) throw new Error('the page has no root element');

createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <MantineProvider theme={theme} defaultColorScheme="light" getStyleNonce={nonce}>
        <SettingsProvider>
          <RouterProvider router={router} />
        </SettingsProvider>
      </MantineProvider>
    </QueryClientProvider>
  </StrictMode>,
);
