import { createBrowserRouter, Navigate } from 'react-router';
import { AimScreen } from './aim/AimScreen';
import { BenchScreen } from './bench/BenchScreen';
import { JobScreen } from './job/JobScreen';
import { JobsScreen } from './job/JobsScreen';
import { NewLinkScreen } from './job/NewLinkScreen';
import { LinkLayout } from './link/LinkLayout';
import { MapScreen } from './map/MapScreen';
import { MountScreen } from './mount/MountScreen';
import { PathScreen } from './path/PathScreen';
import { ProveScreen } from './prove/ProveScreen';
import { RadioScreen } from './radio/RadioScreen';
import { RecordScreen } from './record/RecordScreen';
import { Frame } from './shell/Frame';

export const router = createBrowserRouter([
  {
    element: <Frame />,
    children: [
      { index: true, element: <JobsScreen opensOnlyJob /> },
      { path: 'jobs', element: <JobsScreen /> },
      { path: 'jobs/:jobId', element: <JobScreen /> },
      { path: 'jobs/:jobId/new-link', element: <NewLinkScreen /> },
      { path: 'jobs/:jobId/map', element: <MapScreen /> },
      {
        path: 'links/:linkId',
        element: <LinkLayout />,
        children: [
          { index: true, element: <Navigate to="path" replace /> },
          { path: 'path', element: <PathScreen /> },
          { path: 'radio', element: <RadioScreen /> },
          { path: 'bench', element: <BenchScreen /> },
          { path: 'mount', element: <MountScreen /> },
          { path: 'aim', element: <AimScreen /> },
          { path: 'prove', element: <ProveScreen /> },
          { path: 'record', element: <RecordScreen /> },
        ],
      },
      { path: '*', element: <Navigate to="/" replace /> },
    ],
  },
]);
