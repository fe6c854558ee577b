import type { ComponentType } from 'react';
import { createBrowserRouter, Navigate } from 'react-router';
import { Frame } from './shell/Frame';
import { RouteProblem } from './shell/RouteProblem';

/** A screen that is loaded when it is first opened. */
const screen = (load: () => Promise<ComponentType>) => async () => ({ Component: await load() });

export const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <RouteProblem />,
    children: [
      {
        // Within the frame, so that its ways stay open whatever happens to a screen.
        errorElement: <RouteProblem />,
        hydrateFallbackElement: <p className="soft">Loading</p>,
        children: [
          { index: true, lazy: screen(async () => (await import('./job/StartScreen')).StartScreen) },
          { path: 'jobs', lazy: screen(async () => (await import('./job/JobsScreen')).JobsScreen) },
          {
            path: 'catalogue',
            lazy: screen(async () => (await import('./catalogue/CatalogueScreen')).CatalogueScreen),
          },
          { path: 'catalogue/new', lazy: screen(async () => (await import('./catalogue/SpecScreen')).SpecScreen) },
          { path: 'catalogue/:modelId', lazy: screen(async () => (await import('./catalogue/SpecScreen')).SpecScreen) },
          { path: 'jobs/new', lazy: screen(async () => (await import('./job/NewJobScreen')).NewJobScreen) },
          { path: 'jobs/:jobId', lazy: screen(async () => (await import('./job/JobScreen')).JobScreen) },
          {
            path: 'jobs/:jobId/new-link',
            lazy: screen(async () => (await import('./job/NewLinkScreen')).NewLinkScreen),
          },
          {
            path: 'jobs/:jobId/network',
            lazy: screen(async () => (await import('./network/NetworkScreen')).NetworkScreen),
          },
          { path: 'jobs/:jobId/need', lazy: screen(async () => (await import('./need/NeedScreen')).NeedScreen) },
          { path: 'jobs/:jobId/law', lazy: screen(async () => (await import('./law/LawScreen')).LawScreen) },
          {
            path: 'jobs/:jobId/timeline',
            lazy: screen(async () => (await import('./job/TimelineScreen')).TimelineScreen),
          },
          {
            path: 'jobs/:jobId/about',
            lazy: screen(async () => (await import('./job/AboutJobScreen')).AboutJobScreen),
          },
          {
            path: 'jobs/:jobId/people',
            lazy: screen(async () => (await import('./people/PeopleScreen')).PeopleScreen),
          },
          {
            path: 'jobs/:jobId/visits',
            lazy: screen(async () => (await import('./visits/VisitsScreen')).VisitsScreen),
          },
          { path: 'join', lazy: screen(async () => (await import('./you/JoinScreen')).JoinScreen) },
          { path: 'key', lazy: screen(async () => (await import('./job/KeyScreen')).KeyScreen) },
          { path: 'you', lazy: screen(async () => (await import('./you/YouScreen')).YouScreen) },
          { path: 'waiting', lazy: screen(async () => (await import('./outbox/WaitingScreen')).WaitingScreen) },
          { path: 'jobs/:jobId/map', lazy: screen(async () => (await import('./map/MapScreen')).MapScreen) },
          {
            path: 'links/:linkId',
            lazy: screen(async () => (await import('./link/LinkLayout')).LinkLayout),
            children: [
              {
                errorElement: <RouteProblem />,
                children: [
                  { index: true, element: <Navigate to="path" replace /> },
                  { path: 'about', lazy: screen(async () => (await import('./link/AboutLinkScreen')).AboutLinkScreen) },
                  { path: 'path', lazy: screen(async () => (await import('./path/PathScreen')).PathScreen) },
                  { path: 'radio', lazy: screen(async () => (await import('./radio/RadioScreen')).RadioScreen) },
                  { path: 'bench', lazy: screen(async () => (await import('./bench/BenchScreen')).BenchScreen) },
                  { path: 'mount', lazy: screen(async () => (await import('./mount/MountScreen')).MountScreen) },
                  { path: 'aim', lazy: screen(async () => (await import('./aim/AimScreen')).AimScreen) },
                  { path: 'prove', lazy: screen(async () => (await import('./prove/ProveScreen')).ProveScreen) },
                  { path: 'record', lazy: screen(async () => (await import('./record/RecordScreen')).RecordScreen) },
                ],
              },
            ],
          },
          { path: '*', element: <Navigate to="/" replace /> },
        ],
      },
    ],
  },
]);
