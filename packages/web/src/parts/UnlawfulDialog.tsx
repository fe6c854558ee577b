import { lawCaution } from '@kivram/core/spectrum/ruleSet';
import { Button, Modal } from '@mantine/core';
import { Problem } from './Problem';

interface Props {
  /** what is broken, each in words that begin small */
  broken: readonly string[];
  /** what would be kept */
  what: string;
  /** keeping it: whether it is on its way, and why it was refused */
  change: { isPending: boolean; error: Error | null };
  onKeep(): void;
  onClose(): void;
}

/** Asks before something is planned that the law, or the licence, does not allow. It stays until that is kept: a second press falls on nothing behind it. */
export function UnlawfulDialog({ broken, what, change, onKeep, onClose }: Props) {
  return (
    <Modal opened onClose={onClose} title="This is not allowed">
      <ul>
        {broken.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      <p>{lawCaution} You can keep it as a plan, and it will show as failing. Nobody may go on the air with it.</p>
      <Problem error={change.error} />
      <div className="row">
        <Button onClick={onClose} data-autofocus>
          Go back and change it
        </Button>
        <Button variant="default" loading={change.isPending} onClick={onKeep}>
          Keep {what} all the same
        </Button>
      </div>
    </Modal>
  );
}
