import { routes } from '@kivram/contract/routes';
import { Button } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { call } from '../api';
import { forgetReading } from '../offline/caches';
import { Problem } from '../parts/Problem';
import { useSession, useTakeSession } from '../queries';

/** Where a scanned invitation leads: it is taken when the phone's owner says so, for it counts once. */
export function JoinScreen() {
  const { hash } = useLocation();
  const [code] = useState(hash.slice(1));
  const take = useTakeSession();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const known = useSession().data;
  const before = Object.keys(known?.members ?? {});
  const join = useMutation({
    mutationFn: () => call(routes.acceptInvitation, {}, { code }),
    onSuccess: (session) => {
      const joined = Object.keys(session.members).filter((id) => !before.includes(id));
      // What somebody else saw on this phone is not theirs.
      if (session.token !== known?.token) void forgetReading(queries);
      take(session);
      const [jobId] = joined.length ? joined : Object.keys(session.members);
      void navigate(jobId ? `/jobs/${jobId}` : '/', { replace: true });
    },
  });
  return (
    <section style={{ maxWidth: 460 }}>
      <h1>You are invited</h1>
      {code ? (
        <>
          <p>
            This phone comes in to Kivram on the computer that showed you the code, and stays signed in for 90 days.
          </p>
          {known?.person && (
            <p>
              It is signed in as {known.person.name}. If the invitation is yours, the job is added: your other phones
              must come in again, and you set a new password. If it is somebody else&rsquo;s, they come in instead.
            </p>
          )}
          <Problem error={join.error} />
          <Button size="lg" loading={join.isPending} onClick={() => join.mutate()}>
            Come in
          </Button>
        </>
      ) : (
        <p>The address holds no code: scan it once more at the computer.</p>
      )}
      <p className="note">
        <Link to="/">I have a password</Link>
      </p>
    </section>
  );
}
