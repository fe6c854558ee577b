import { routes } from '@kivram/contract/routes';
import type { LinkView, RevealedView } from '@kivram/contract/views/link';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api';
import { useMay, useRefresh } from '../queries';

/** How the passphrases of a link come to be shown. */
export interface Reveal {
  mayAsk: boolean;
  ask(): void;
  /** what was shown, as long as the settings are those that it was asked for; it leaves the page with it */
  shown: RevealedView | undefined;
  error: Error | null;
}

/** Asks for passphrases and passwords of both ends. The server notes who did. */
export function useReveal({ link, near, far, logins }: LinkView): Reveal {
  const may = useMay(link.jobId);
  const refresh = useRefresh();
  const revisions = [near.sheet?.revision, far.sheet?.revision, logins.near?.version, logins.far?.version].join();
  const reveal = useMutation({
    mutationFn: async () => ({ revisions, ...(await call(routes.revealPassphrases, { linkId: link.id })) }),
    onSuccess: refresh,
  });
  const known = reveal.data?.revisions === revisions ? reveal.data : undefined;
  return {
    mayAsk: may.work && !reveal.isPending,
    ask: () => reveal.mutate(),
    shown: known && { near: known.near, far: known.far },
    error: reveal.error,
  };
}
