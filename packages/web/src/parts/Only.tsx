import type { ReactNode } from 'react';
import { useMay } from '../queries';

interface Props {
  /** left out, for what belongs to no job */
  jobId?: string;
  children: ReactNode;
}

/** What only those see who may change what belongs to a job: nobody is offered what the server would refuse. */
export function Working({ jobId, children }: Props) {
  return useMay(jobId).work && children;
}

/** The same for those who lead a job. */
export function Leading({ jobId, children }: Props) {
  return useMay(jobId).lead && children;
}
