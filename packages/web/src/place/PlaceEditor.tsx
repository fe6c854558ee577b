import type { Place } from '@kivram/contract/entities/place';
import { Button, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { lazy, Suspense } from 'react';
import { Working } from '../parts/Only';

const PlaceForm = lazy(async () => ({ default: (await import('./PlaceForm')).PlaceForm }));

/** Corrects where a place is; every link that stands on it follows. */
export function PlaceEditor({ jobId, place }: { jobId: string; place: Place }) {
  const [opened, { open, close }] = useDisclosure(false);
  return (
    <>
      <Working jobId={jobId}>
        <Button size="xs" variant="default" onClick={open} aria-label={`Correct the position of ${place.name}`}>
          Correct
        </Button>
      </Working>
      <Modal opened={opened} onClose={close} title={`Where is ${place.name}?`}>
        <Suspense fallback={<p className="soft">Loading</p>}>
          <PlaceForm jobId={jobId} place={place} at={null} done={close} />
        </Suspense>
      </Modal>
    </>
  );
}
