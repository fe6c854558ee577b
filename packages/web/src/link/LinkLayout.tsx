import { planOf, steps, tryPredict, type LinkPrediction } from '@kivram/core';
import type { LinkView } from '@kivram/contract';
import { useMemo } from 'react';
import { Outlet, useNavigate, useOutletContext, useParams } from 'react-router';
import { Problem } from '../parts/Problem';
import { useKeys } from '../parts/useKeys';
import { useLink } from '../queries';
import { Wire } from './Wire';

interface LinkContext {
  view: LinkView;
  prediction: LinkPrediction | null;
}

/** A link's workspace: the wire above, the step in hand below. */
export function LinkLayout() {
  const { linkId = '' } = useParams();
  const link = useLink(linkId);
  const navigate = useNavigate();
  const view = link.data;
  const prediction = useMemo(() => (view ? tryPredict(planOf(view)).prediction : null), [view]);
  useKeys({
    ...Object.fromEntries(steps.map((step, i) => [String(i + 1), () => void navigate(`/links/${linkId}/${step}`)])),
    j: () => view && void navigate(`/jobs/${view.link.jobId}`),
  });
  if (link.error && !view) return <Problem error={link.error} />;
  if (!view) return <p className="soft">Reading the link</p>;
  return (
    <>
      <h1 className="visually-hidden">Link {view.link.name}</h1>
      <Wire
        linkId={linkId}
        near={view.near.place.name}
        far={view.far.place.name}
        distanceM={prediction?.distanceM ?? null}
        states={view.state.steps}
      />
      <Outlet context={{ view, prediction } satisfies LinkContext} />
    </>
  );
}

export function useLinkContext(): LinkContext {
  return useOutletContext<LinkContext>();
}
