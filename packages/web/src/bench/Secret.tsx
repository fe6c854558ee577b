import { Button, TextInput } from '@mantine/core';

interface Props {
  'aria-label': string;
  size: 'sm';
  error: string | undefined;
  value: string;
  /** there is one, which is not shown */
  isHidden: boolean;
  /** asks for it; null for whoever may not see it */
  onReveal: (() => void) | null;
  onChange(text: string): void;
}

/** A passphrase: hidden until it is asked for, which the timeline tells of. */
export function Secret({ isHidden, onReveal, onChange, ...field }: Props) {
  if (isHidden)
    return (
      <div className="row secret" aria-label={field['aria-label']} role="group">
        <span className="figure" aria-hidden="true">
          ••••••••
        </span>
        {onReveal ? (
          <Button size="compact-sm" variant="default" onClick={onReveal}>
            Show it
          </Button>
        ) : (
          <span className="soft">not shown</span>
        )}
      </div>
    );
  return (
    <TextInput
      {...field}
      onChange={(event) => onChange(event.currentTarget.value)}
      styles={{ input: { fontFamily: 'var(--figures)' } }}
      autoComplete="off"
      spellCheck={false}
    />
  );
}
