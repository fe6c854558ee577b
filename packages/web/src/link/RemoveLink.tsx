import { routes } from '@kivram/contract/routes';
import { Button, Modal } from '@mantine/core';
import { useNavigate } from 'react-router';
import { Problem } from '../parts/Problem';
import { RemovalWords } from '../parts/RemovalWords';
import { sendThen, useChange } from '../queries';

/** Asks before a link goes, and says what goes with it. */
export function RemoveLink({
  linkId,
  jobId,
  version,
  onClose,
}: {
  linkId: string;
  jobId: string;
  version: number;
  onClose(): void;
}) {
  const remove = useChange(routes.removeLink, { linkId }, `?version=${version}`);
  const navigate = useNavigate();
  return (
    <Modal opened onClose={onClose} title="Remove this link?">
      <RemovalWords route={routes.linkRemoval} params={{ linkId }} />
      <Problem error={remove.error} />
      <div className="row">
        <Button
          loading={remove.isPending}
          onClick={() => sendThen(remove, undefined, () => void navigate(`/jobs/${jobId}/timeline`))}
        >
          Remove it
        </Button>
        <Button variant="default" onClick={onClose}>
          Keep it
        </Button>
      </div>
    </Modal>
  );
}
