import { routes } from '@kivram/contract/routes';
import type { JobView } from '@kivram/contract/views/job';
import { Button, Modal, TextInput } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api';
import { Problem } from '../parts/Problem';
import { useRefresh, useTakeSession } from '../queries';

/** Asks who works on a job that has no crew yet. */
export function JoinDialog({ job, onClose }: { job: JobView; onClose(): void }) {
  const [name, setName] = useState('');
  const take = useTakeSession();
  const refresh = useRefresh();
  const join = useMutation({
    mutationFn: () => call(routes.joinCrew, { jobId: job.job.id }, { name: name.trim() }),
    onSuccess: async (view) => {
      take(view);
      await refresh();
      onClose();
    },
  });
  return (
    <Modal opened onClose={onClose} title="Who is working here?">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) join.mutate();
        }}
      >
        <TextInput
          label="Your name"
          description="It stands beside every change you make in this job."
          value={name}
          maxLength={60}
          data-autofocus
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Problem error={join.error} />
        <Button type="submit" mt="md" disabled={!name.trim()} loading={join.isPending}>
          That is me
        </Button>
      </form>
    </Modal>
  );
}
