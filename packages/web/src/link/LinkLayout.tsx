import { evidenceText, steps, type StepState } from '@kivram/core/verdict/steps';
import type { LinkView } from '@kivram/contract/views/link';
import { useSyncExternalStore } from 'react';
import { Link, Outlet, useLocation, useNavigate, useOutletContext, useParams } from 'react-router';
import { drafts } from '../drafts/drafts';
import { NotShown } from '../parts/NotShown';
import { StateMark } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { useLink, useMay } from '../queries';
import { Wire } from './Wire';

interface LinkContext {
  view: LinkView;
}

/** A link's workspace: the wire above, the step in hand below. */
export function LinkLayout() {
  const { linkId = '' } = useParams();
  const link = useLink(linkId);
  const navigate = useNavigate();
  const view = link.data;
  const may = useMay(view?.link.jobId ?? '');
  useKeys({
    ...Object.fromEntries(steps.map((step, i) => [String(i + 1), () => void navigate(`/links/${linkId}/${step}`)])),
    j: () => view && void navigate(`/jobs/${view.link.jobId}`),
  });
  if (link.error && !view) return <NotShown error={link.error} />;
  if (!view) return <p className="soft">Reading the link</p>;
  return (
    <>
      <h1 className="link-name">
        {view.link.name}
        <Link to={`/links/${linkId}/about`} className="link-about">
          {may.work ? 'change the link' : 'about the link'}
        </Link>
      </h1>
      <Wire
        linkId={linkId}
        near={view.near.place.name}
        far={view.far.place.name}
        distanceM={view.distanceM}
        states={view.state.steps}
      />
      <StepReason states={view.state.steps} />
      <Unsaved linkId={linkId} />
      <Outlet context={{ view } satisfies LinkContext} />
    </>
  );
}

export function useLinkContext(): LinkContext {
  return useOutletContext<LinkContext>();
}

/** What was typed at other steps and is not saved yet. */
function Unsaved({ linkId }: { linkId: string }) {
  const here = useLocation().pathname.split('/').at(-1);
  const kept = useSyncExternalStore(drafts.subscribe, drafts.all);
  const typedAt = steps.filter(
    (step) => step !== here && [...kept.keys()].some((key) => key.startsWith(`link/${linkId}/${step}`)),
  );
  if (!typedAt.length) return null;
  return (
    <p className="note" role="status">
      Typed and not saved yet:{' '}
      {typedAt.map((step, i) => (
        <span key={step}>
          {i > 0 && ', '}
          <Link to={`/links/${linkId}/${step}`}>{step}</Link>
        </span>
      ))}
    </p>
  );
}

/**
 * What the state of the step in hand rests on, where that is something to be done. Said before it is done too: a line that came with the first
 * answer would move the buttons below from under a finger.
 */
function StepReason({ states }: { states: StepState[] }) {
  const step = useLocation().pathname.split('/').at(-1);
  const state = states.find((s) => s.step === step && s.step !== 'path' && s.step !== 'record');
  if (!state) return null;
  const evidence = evidenceText(state);
  return (
    <p className="wire-reason">
      <StateMark state={state.state} because={state.because} />
      {evidence && <span className="note"> ({evidence})</span>}
    </p>
  );
}
