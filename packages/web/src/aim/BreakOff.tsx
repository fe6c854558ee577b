import { routes } from '@kivram/contract/routes';
import { Button } from '@mantine/core';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';

/** Ends an alignment that cannot be read; what it has is kept. */
export function BreakOff({ alignmentId }: { alignmentId: string }) {
  const abandon = useChange(routes.abandonAlignment, { alignmentId });
  return (
    <>
      <Button size="md" variant="subtle" loading={abandon.isPending} onClick={() => abandon.mutate({})}>
        Break off
      </Button>
      <Problem error={abandon.error} />
    </>
  );
}
