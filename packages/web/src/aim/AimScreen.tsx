import { useLinkContext } from '../link/LinkLayout';
import { useLinkPrediction } from '../link/useLinkPrediction';
import { Problem } from '../parts/Problem';
import { AimResult } from './AimResult';
import { BreakOff } from './BreakOff';
import { HandsPanel } from './HandsPanel';
import { LiveAim } from './LiveAim';
import { StartAim } from './StartAim';
import './aim.css';
import { Working } from '../parts/Only';
import type { LinkView } from '@kivram/contract/views/link';
import { lazy, Suspense, useState } from 'react';

/** Aiming: begin, follow the words, end; the stand-in's hands stand apart below. */
export function AimScreen() {
  const { view } = useLinkContext();
  const prediction = useLinkPrediction();
  const { running, alignment } = view;
  if (!prediction) {
    return (
      <>
        <Problem error={new Error('Without geometry there is nothing to aim at: repair the path first.')} />
        {running && (
          <Working jobId={view.link.jobId}>
            <BreakOff alignmentId={running.id} />
          </Working>
        )}
      </>
    );
  }
  return (
    <>
      {running ? (
        <LiveAim key={running.id} view={view} prediction={prediction} alignment={running} />
      ) : (
        <>
          {alignment?.result && (
            <AimResult alignment={alignment} near={view.near.place.name} far={view.far.place.name} />
          )}
          <StartAim view={view} prediction={prediction} />
        </>
      )}
      {!running && <Instruments view={view} />}
      {view.practice && (
        <Working jobId={view.link.jobId}>
          <HandsPanel view={view} running={!!running} />
        </Working>
      )}
    </>
  );
}

const InstrumentSchool = lazy(async () => ({ default: (await import('./InstrumentSchool')).InstrumentSchool }));

/** The other school is seldom used, and comes when it is asked for. */
function Instruments({ view }: { view: LinkView }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <details style={{ marginTop: 24 }} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>With a signal generator and an analyser instead</summary>
      {isOpen && (
        <Suspense>
          <InstrumentSchool view={view} />
        </Suspense>
      )}
    </details>
  );
}
