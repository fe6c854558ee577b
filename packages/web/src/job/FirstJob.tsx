import { JobImport } from './JobImport';
import { NewJobScreen } from './NewJobScreen';

/** Where there is no job yet: begin one, or bring one in. */
export function FirstJob() {
  return (
    <>
      <NewJobScreen />
      <JobImport />
    </>
  );
}
