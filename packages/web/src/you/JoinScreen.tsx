import { routes } from '@kivram/contract/routes';
import { Button } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { call } from '../api';
import { forgetReading } from '../offline/caches';
import { Problem } from '../parts/Problem';
import { useTakeSession } from '../queries';

/** Where a scanned invitation leads: it is taken when the phone's owner says so, for it counts once. */
export function JoinScreen() {
  const { hash } = useLocation();
  const [code] = useState(hash.slice(1));
  const take = useTakeSession();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const join = useMutation({
    mutationFn: () => call(routes.acceptInvitation, {}, { code }),
    onSuccess: (session) => {
      // What somebody else saw on this phone is not theirs.
      void forgetReading(queries);
      take(session);
      const [jobId] = Object.keys(session.members);
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
