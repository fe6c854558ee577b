import type { Obstacle } from '@kivram/contract/entities/obstacle';
import { routes } from '@kivram/contract/routes';
import { Button, Modal } from '@mantine/core';
import { Problem } from '../parts/Problem';
import { sendThen, useChange } from '../queries';
import type { ObstacleFields } from './newObstacle';
import { ObstacleForm } from './ObstacleForm';

/** Something in the way over the screen that it is seen on: to note it, to change it, to say that it is gone. */
export function ObstacleDialog({
  jobId,
  obstacle,
  close,
}: {
  jobId: string;
  obstacle: ObstacleFields | Obstacle;
  close(): void;
}) {
  return (
    <Modal opened onClose={close} title="What stands there?">
      <ObstacleForm jobId={jobId} obstacle={obstacle} done={close} />
      {'id' in obstacle && <RemoveObstacle id={obstacle.id} version={obstacle.version} done={close} />}
    </Modal>
  );
}

function RemoveObstacle({ id, version, done }: { id: string; version: number; done(): void }) {
  const remove = useChange(routes.removeObstacle, { obstacleId: id }, `?version=${version}`);
  return (
    <>
      <Button
        mt="sm"
        color="red"
        variant="subtle"
        loading={remove.isPending}
        onClick={() => sendThen(remove, undefined, done)}
      >
        It is gone: remove it
      </Button>
      <Problem error={remove.error} />
    </>
  );
}
