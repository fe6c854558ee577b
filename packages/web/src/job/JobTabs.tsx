import { NavLink } from 'react-router';
import './job.css';

/** A job's name, and the ways between its screens. */
export function JobTabs({ jobId, name, customer }: { jobId: string; name: string; customer: string }) {
  const tab = (path: string, words: string) => (
    <NavLink to={`/jobs/${jobId}${path}`} end className="job-tab">
      {words}
    </NavLink>
  );
  return (
    <div className="job-tabs">
      <h1>{name}</h1>
      <span className="soft">{customer}</span>
      <nav aria-label="Screens of the job" className="row">
        {tab('', 'Links')}
        {tab('/map', 'Map')}
        {tab('/network', 'Network')}
        {tab('/need', 'Need')}
        {tab('/law', 'Law')}
        {tab('/visits', 'Visits')}
        {tab('/people', 'People')}
        {tab('/timeline', 'Timeline')}
        {tab('/about', 'The job itself')}
      </nav>
    </div>
  );
}
