import { predictLink, steps, type LinkPlan, type LinkPrediction } from '@kivram/core';
import type { LinkEnd, LinkView } from '@kivram/contract';
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
  const prediction = useMemo(() => (view ? predict(planOf(view)) : null), [view]);
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

/** The plan of a link in the terms of the core. */
export function planOf(view: LinkView): LinkPlan {
  const { link } = view;
  const end = ({ place, radio, model }: LinkEnd, conductedDbm: number, cableLossDb: number) => ({
    position: place,
    groundHeightM: place.groundHeightM,
    mountHeightM: radio.mountHeightM,
    model,
    conductedDbm,
    cableLossDb,
  });
  return {
    near: end(view.near, link.nearConductedDbm, link.nearCableLossDb),
    far: end(view.far, link.farConductedDbm, link.farCableLossDb),
    centreMHz: link.centreMHz,
    widthMHz: link.widthMHz,
    protocol: link.protocol,
    country: view.country,
    terrain: view.terrain,
    shaft:
      link.pathKind === 'shaft' && link.shaftLeastM && link.shaftMostM
        ? { leastM: link.shaftLeastM, mostM: link.shaftMostM }
        : null,
  };
}

/** The prediction, or null where the geometry allows none; the path step says why. */
export function predict(plan: LinkPlan): LinkPrediction | null {
  try {
    return predictLink(plan);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}
