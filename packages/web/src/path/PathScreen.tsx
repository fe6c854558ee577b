import type { Place } from '@kivram/contract/entities/place';
import { routes } from '@kivram/contract/routes';
import type { LinkView } from '@kivram/contract/views/link';
import { planOf, type End } from '@kivram/core/budget/plan';
import { tryPredict, type LinkPrediction } from '@kivram/core/budget/prediction';
import { standardK } from '@kivram/core/geodesy/tilt';
import { subRefractiveK } from '@kivram/core/path/analysis';
import type { HeightPair } from '@kivram/core/path/heights';
import { judgePath } from '@kivram/core/path/words';
import { Button } from '@mantine/core';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { useLinkPrediction } from '../link/useLinkPrediction';
import { Figure, Height } from '../parts/Figure';
import { PlainSelect } from '../parts/PlainSelect';
import { Problem } from '../parts/Problem';
import { StateMark } from '../parts/StateMark';
import { useChange } from '../queries';
import { useSettings } from '../settings';
import { HeightsChoice } from './HeightsChoice';
import { ObstacleList } from './ObstacleList';
import './path.css';
import { Pointing } from './Pointing';
import { PointReadout, ProfileTable } from './ProfileFigures';
import { ProfileView } from './ProfileView';
import { Working } from '../parts/Only';
import { useToday } from '../parts/useToday';

const ShaftView = lazy(async () => ({ default: (await import('./ShaftView')).ShaftView }));

/** Whether the two ends see each other in radio's sense, what is in the way, how high to mount, and where to point. */
export function PathScreen() {
  const { view } = useLinkContext();
  const prediction = useLinkPrediction();
  const state = view.state.steps.find((s) => s.step === 'path');
  if (!prediction) {
    return (
      <>
        <Problem error={new Error(state?.because)} />
        <p>
          Put the ends right on the <Link to={`/jobs/${view.link.jobId}/map`}>map</Link>.
        </p>
      </>
    );
  }
  return (
    <>
      {prediction.ride ? (
        <>
          <Suspense fallback={<p className="soft">Loading</p>}>
            <ShaftView view={view} prediction={prediction} />
          </Suspense>
          <Pointing view={view} prediction={prediction} tried={{}} />
        </>
      ) : (
        <Ground view={view} prediction={prediction} />
      )}
    </>
  );
}

type Heights = Partial<Record<End, number>>;
const noHeights: Heights = {};

/** The path over the ground, recomputed while heights are dragged. */
function Ground({ view, prediction }: { view: LinkView; prediction: LinkPrediction }) {
  const { units } = useSettings();
  const today = new Date(useToday());
  const thisYear = view.terrain?.year ?? today.getFullYear();
  const versions = `${view.near.radio.version},${view.far.radio.version}`;
  const kept = useDraft<Heights>(`link/${view.link.id}/path`, noHeights, versions);
  const heights = kept.value;
  const [air, setAir] = useState({ k: standardK, year: thisYear });
  const [swapped, setSwapped] = useState(false);
  const [pointerM, setPointerM] = useState<number | null>(null);
  const [lastPointedM, setLastPointedM] = useState<number | null>(null);

  const tried = useMemo(() => {
    const plan = planOf(view);
    const end = (side: End) => ({ ...plan[side], mountHeightM: heights[side] ?? plan[side].mountHeightM });
    const terrain = plan.terrain && { ...plan.terrain, ...air };
    return tryPredict({ ...plan, near: end('near'), far: end('far'), terrain }).prediction;
  }, [view, heights, air]);
  const analysis = tried?.path;
  if (!analysis) return <Problem error={new Error('This path cannot be computed with these heights.')} />;

  const place = (end: End) => ({
    name: view[end].place.name,
    groundM: view[end].place.groundHeightM,
    mountM: heights[end] ?? view[end].radio.mountHeightM,
  });
  const verdict = judgePath(analysis, units);
  const lossDb = analysis.diffractionDb + analysis.vegetationDb;
  const point = (distanceM: number | null): void => {
    setPointerM(distanceM);
    if (distanceM !== null) setLastPointedM(distanceM);
  };
  const setHeights = (next: Heights): void => kept.set(() => next);
  return (
    <>
      <p className="path-verdict" role="status">
        <StateMark state={verdict.state} because={verdict.headline} />
      </p>
      <ul className="path-notes">
        {verdict.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
        {!analysis.surface.terrainKnown && (
          <li>
            Look along the path from both ends, or import terrain on the{' '}
            <Link to={`/jobs/${view.link.jobId}/map`}>map</Link>.
          </li>
        )}
      </ul>
      <ProfileView
        analysis={analysis}
        near={place('near')}
        far={place('far')}
        swapped={swapped}
        pointerM={pointerM}
        onPoint={point}
        onDrag={(end, mountM) => setHeights({ ...heights, [end]: mountM })}
        label={`Side view from ${view.near.place.name} to ${view.far.place.name}: ${verdict.headline}. Arrow keys move the pointer.`}
      />
      <PointReadout analysis={analysis} pointerM={pointerM} />
      <Clash draft={kept} what="A mount height" />
      <HeightDraft view={view} heights={heights} stale={kept.stale || kept.peeking} onBack={kept.drop} />
      <div className="path-bar">
        <PlainSelect
          aria-label="How the air bends rays"
          value={String(air.k)}
          onChoose={(k) => setAir({ ...air, k: Number(k) })}
          options={[
            { value: String(standardK), label: 'usual air, k 4/3' },
            { value: '1', label: 'k 1' },
            { value: String(subRefractiveK), label: 'little bending, k 2/3' },
          ]}
        />
        <PlainSelect
          aria-label="Trees as they will be in"
          value={String(air.year)}
          onChoose={(year) => setAir({ ...air, year: Number(year) })}
          options={[0, 1, 2, 3, 5, 8, 10, 15, 20].map((n) => ({
            value: String(thisYear + n),
            label: `trees of ${thisYear + n}`,
          }))}
        />
        <Button size="sm" variant="default" onClick={() => setSwapped(!swapped)}>
          {swapped ? 'Near end on the left' : 'See it from the other side'}
        </Button>
        <span style={{ flex: 1 }} />
        <span>
          <span className="soft">lost to ground and trees</span> <Figure value={-lossDb} unit="dB" signed />
        </span>
        <span>
          <span className="soft">level</span> <Figure value={tried.near.rslDbm} unit="dBm" />{' '}
          <span className="soft">and</span> <Figure value={tried.far.rslDbm} unit="dBm" />
        </span>
      </div>
      <ProfileTable analysis={analysis} />
      <ObstacleList
        jobId={view.link.jobId}
        obstacles={view.terrain?.obstacles ?? []}
        near={view.near.place}
        far={view.far.place}
        azimuthDeg={prediction.near.azimuthDeg}
        analysis={analysis}
        atM={lastPointedM ?? analysis.worst.distanceM}
      />
      <HeightsChoice
        analysis={analysis}
        near={place('near')}
        far={place('far')}
        onChoose={({ nearM, farM }: HeightPair) => setHeights({ near: nearM, far: farM })}
      />
      <GroundDoubt view={view} />
      <Pointing view={view} prediction={tried} tried={heights} />
    </>
  );
}

/** Heights that were tried and not kept yet. */
interface HeightDraftProps {
  view: LinkView;
  heights: Heights;
  /** what is stored has changed since: first it must be said what holds */
  stale: boolean;
  onBack(): void;
}

function HeightDraft({ view, heights, stale, onBack }: HeightDraftProps) {
  const near = useChange(routes.changeRadio, { radioId: view.near.radio.id });
  const far = useChange(routes.changeRadio, { radioId: view.far.radio.id });
  const changed = (['near', 'far'] as const).filter(
    (end) => heights[end] !== undefined && Math.abs((heights[end] ?? 0) - view[end].radio.mountHeightM) > 0.005,
  );
  if (!changed.length) return null;
  const keep = async (): Promise<void> => {
    for (const end of changed) {
      const change = end === 'near' ? near : far;
      await change.mutateAsync({ version: view[end].radio.version, mountHeightM: heights[end] });
    }
    onBack();
  };
  return (
    <div className="path-draft">
      {changed.map((end) => (
        <span key={end}>
          <strong className={end}>{view[end].place.name}</strong> <Height metres={heights[end] ?? 0} />{' '}
          <span className="soft">
            instead of <Height metres={view[end].radio.mountHeightM} />
          </span>
        </span>
      ))}
      <Working jobId={view.link.jobId}>
        <Button
          size="sm"
          disabled={stale}
          loading={near.isPending || far.isPending}
          onClick={() => void keep().catch(() => undefined)}
        >
          Keep
        </Button>
      </Working>
      <Button size="sm" variant="default" onClick={onBack}>
        Back
      </Button>
      <Problem error={near.error ?? far.error} />
    </div>
  );
}

/** Where the ground that was typed in and the terrain disagree, one of them is wrong. */
function GroundDoubt({ view }: { view: LinkView }) {
  const ground = view.terrain?.profile.groundM;
  const doubts = (
    [
      [view.near.place, ground?.[0]],
      [view.far.place, ground?.at(-1)],
    ] as [Place, number | null | undefined][]
  ).filter(([place, terrainM]) => typeof terrainM === 'number' && Math.abs(terrainM - place.groundHeightM) > 3);
  return doubts.map(([place, terrainM]) => (
    <p key={place.id} className="caution">
      {place.name} is noted at <Height metres={place.groundHeightM} />, the terrain says{' '}
      <Height metres={terrainM ?? 0} />. If the position is right, the noted height should be measured again.
    </p>
  ));
}
