import { lawCaution } from '@kivram/core/spectrum/ruleSet';
import { Button, Modal } from '@mantine/core';

interface Props {
  /** what is broken, each in words that begin small */
  broken: readonly string[];
  /** what would be kept */
  what: string;
  onKeep(): void;
  onClose(): void;
}

/** Asks before something is planned that the law, or the licence, does not allow. */
export function UnlawfulDialog({ broken, what, onKeep, onClose }: Props) {
  return (
    <Modal opened onClose={onClose} title="This is not allowed">
      <ul>
        {broken.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      <p>{lawCaution} As a plan it can be kept, and says that it fails; nobody may put it on the air like this.</p>
      <div className="row">
        <Button onClick={onClose} data-autofocus>
          Go back and change it
        </Button>
        <Button
          variant="default"
          onClick={() => {
            onClose();
            onKeep();
          }}
        >
          Keep {what} all the same
        </Button>
      </div>
    </Modal>
  );
}
