import { useLinkContext } from '../link/LinkLayout';
import { Problem } from '../parts/Problem';
import { AimResult } from './AimResult';
import { BreakOff } from './BreakOff';
import { HandsPanel } from './HandsPanel';
import { LiveAim } from './LiveAim';
import { StartAim } from './StartAim';
import './aim.css';

/** Aiming: begin, follow the words, end; the stand-in's hands stand apart below. */
export function AimScreen() {
  const { view, prediction } = useLinkContext();
  const { running, alignment } = view;
  if (!prediction) {
    return (
      <>
        <Problem error={new Error('Without geometry there is nothing to aim at: repair the path first.')} />
        {running && <BreakOff alignmentId={running.id} />}
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
      <HandsPanel view={view} running={!!running} />
    </>
  );
}
