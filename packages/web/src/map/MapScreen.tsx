import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import { routes } from '@kivram/contract/routes';
import type { Position } from '@kivram/core/geodesy/coordinates';
import { solveGeodesic } from '@kivram/core/geodesy/geodesic';
import { Button, Modal } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { JobTabs } from '../job/JobTabs';
import { ProblemError } from '../api';
import { newId } from '../changeId';
import { KeptError } from '../outbox/outbox';
import { useWaiting } from '../outbox/useOutbox';
import { Length } from '../parts/Figure';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { useKeys } from '../parts/useKeys';
import { newObstacle } from '../path/newObstacle';
import { ObstacleForm } from '../path/ObstacleForm';
import { useChange, useJob, useJobMap, useMake, useMay, useRefresh, useServerSettings, useTerrain } from '../queries';
import { AreaPanel } from './AreaPanel';
import { extentOf } from './extent';
import { FilesPanel } from './FilesPanel';
import { JobMap, type Overlay } from './JobMap';
import { PlaceForm } from '../place/PlaceForm';
import { ObstaclePanel } from './ObstaclePanel';
import { PlaceList } from './PlaceList';
import { ReshapePanel } from './ReshapePanel';
import { TerrainPanel } from './TerrainPanel';
import type { MapJob } from './mapJob';
import { withWaiting } from './waitingMap';

/** What the next click on the map does. */
type Mode = 'look' | 'place' | 'obstacle' | 'shape';

/** Something that can be undone: a place that was moved, or taken off the map. */
type Step =
  | {
      kind: 'moved';
      placeId: string;
      name: string;
      from: Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>;
      byM: number;
    }
  | { kind: 'removed'; name: string; place: Place };

const hints: Record<Mode, string | null> = {
  look: null,
  place: 'Click where it is. Esc gives up.',
  obstacle: 'Click where it stands: once for a single thing, or corner by corner for a row or a wood. Then: Done.',
  shape: 'Draw the corners to where they are; a click adds one. Then: Save the shape.',
};

/** The job on a map that needs no network. */
export function MapScreen() {
  const { jobId = '' } = useParams();
  const asked = useSearchParams()[0].get('place') ?? '';
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const error = (!job.data && job.error) || (!map.data && map.error);
  if (error) return <NotShown error={error} />;
  if (!job.data || !map.data) return <p className="soft">Reading the job</p>;
  return <Workplace key={asked} job={{ ...job.data, ...map.data }} />;
}

function Workplace({ job }: { job: MapJob }) {
  const terrain = useTerrain();
  const server = useServerSettings();
  const refresh = useRefresh();
  const make = useMake();
  const waiting = useWaiting();
  const shownMap = useMemo(() => withWaiting(job, job.job.id, waiting), [job, waiting]);
  const navigate = useNavigate();
  const [mode, setMode] = useState<Mode>('look');
  const [query] = useSearchParams();
  const asked = job.places.find((p) => p.id === query.get('place')) ?? null;
  const [chosenId, setChosenId] = useState<string | null>(asked?.id ?? null);
  const [at, setAt] = useState<Position | null>(null);
  const [corners, setCorners] = useState<Position[]>([]);
  const [noting, setNoting] = useState(false);
  const [edited, setEdited] = useState<Obstacle | null>(null);
  const [reshaped, setReshaped] = useState<Obstacle | null>(null);
  const [taken, setTaken] = useState<Step[]>([]);
  const [error, setError] = useState<unknown>(null);
  const [shown, setShown] = useState<Position | null>(asked);
  const [overlay, setOverlay] = useState<Overlay | null>(null);
  const chosen = job.places.find((p) => p.id === chosenId) ?? null;
  const may = useMay(job.job.id);

  const back = (): void => {
    setMode('look');
    setAt(null);
    setCorners([]);
    setReshaped(null);
  };
  const did = (step: Step): void => setTaken((before) => [...before, step]);
  /** @returns whether it was stored; if not, the reason is shown */
  const change = async (place: Place, to: object): Promise<boolean> => {
    setError(null);
    try {
      const body = { version: place.version, ...to };
      await make(newId(), { route: routes.changePlace, params: { placeId: place.id }, body });
      return true;
    } catch (problem) {
      // Where no terrain is known, a place keeps the height it had.
      if (problem instanceof ProblemError && problem.problem.title === 'No terrain' && 'groundFromTerrain' in to) {
        return await change(place, { ...to, groundFromTerrain: undefined });
      }
      setError(problem);
      // Kept on this device, it stands on the map, and can be undone; refused, the place goes back to where it is on the server.
      if (problem instanceof KeptError) return true;
      await refresh();
      return false;
    }
  };
  const move = (place: Place, to: Position): void => {
    if (!may.work) return void refresh();
    const { latitudeDeg, longitudeDeg, groundHeightM } = place;
    const byM = solveGeodesic(place, to).distanceM;
    const from = { latitudeDeg, longitudeDeg, groundHeightM };
    void change(place, { ...to, groundFromTerrain: true }).then((stored) => {
      if (stored) did({ kind: 'moved', placeId: place.id, name: place.name, from, byM });
    });
  };
  const undo = (): void => {
    const last = taken.at(-1);
    if (!last) return;
    setTaken(taken.slice(0, -1));
    if (last.kind === 'removed') void putBack(last.place);
    else {
      const place = job.places.find((p) => p.id === last.placeId);
      if (place) void change(place, last.from);
    }
  };
  const putBack = async ({ name, latitudeDeg, longitudeDeg, groundHeightM, kind }: Place): Promise<void> => {
    setError(null);
    try {
      const body = { name, latitudeDeg, longitudeDeg, groundHeightM, kind };
      await make(newId(), { route: routes.createPlace, params: { jobId: job.job.id }, body });
    } catch (problem) {
      setError(problem);
    }
  };
  const click = (position: Position): void => {
    if (mode === 'place') setAt(position);
    if (mode === 'obstacle' || mode === 'shape') setCorners([...corners, position]);
  };
  /** What is drawn or typed is saved or given up before anything else begins. */
  const begin = (next: Mode): void => {
    if (mode === 'look' && !may.onlyReads) setMode(next);
  };
  useKeys({
    Escape: back,
    a: () => begin('place'),
    o: () => begin('obstacle'),
    z: undo,
    j: () => void navigate(`/jobs/${job.job.id}`),
  });
  useHotkeys([['mod+Z', undo]]);
  const last = taken.at(-1);
  const { astray } = extentOf(job.places);
  return (
    <>
      <JobTabs jobId={job.job.id} name={job.job.name} customer={job.job.customer} />
      <div className="row" style={{ margin: '4px 0 10px' }}>
        <h2 className="map-heading">Map</h2>
        <span style={{ flex: 1 }} />
        {!may.work ? null : mode === 'look' ? (
          <>
            <Button size="sm" variant="default" onClick={() => begin('place')}>
              Add a place
            </Button>
            <Button size="sm" variant="default" onClick={() => begin('obstacle')}>
              Note something in the way
            </Button>
          </>
        ) : (
          <>
            {mode === 'obstacle' && (
              <Button size="sm" disabled={!corners.length} onClick={() => setNoting(true)}>
                Done
              </Button>
            )}
            <Button size="sm" variant="default" onClick={back}>
              Give up
            </Button>
          </>
        )}
        {last && (
          <Button size="sm" variant="default" onClick={undo}>
            Undo: {last.name}{' '}
            {last.kind === 'moved' ? (
              <>
                moved&nbsp;
                <Length metres={last.byM} />
              </>
            ) : (
              'removed'
            )}
          </Button>
        )}
      </div>
      <Problem error={error} />
      <div className="map-screen">
        <JobMap
          job={job}
          map={shownMap}
          chosenId={chosenId}
          corners={corners}
          overlay={overlay}
          tileUrl={server.data?.tileUrl ?? null}
          terrainKey={terrain.data?.map((f) => f.id).join() ?? ''}
          hint={hints[mode]}
          shown={shown}
          onChoose={setChosenId}
          onMove={move}
          onClick={click}
          onCorner={(index, to) => setCorners(corners.map((corner, i) => (i === index ? to : corner)))}
        />
        <div>
          <section className="map-panel">
            <h2>Places</h2>
            {astray.map(({ place, distanceM }) => (
              <p key={place.id} className="caution">
                {place.name} lies <Length metres={distanceM} /> from the others: are its coordinates right, and in their
                order?{' '}
                <Button
                  size="compact-sm"
                  variant="default"
                  onClick={() => {
                    setChosenId(place.id);
                    setShown(place);
                  }}
                >
                  Show it
                </Button>
              </p>
            ))}
            {may.work && job.atZero?.length > 0 && <AtZero jobId={job.job.id} places={job.places} ids={job.atZero} />}
            {may.work && (chosen || mode === 'place') ? (
              <PlaceForm
                key={chosen && mode !== 'place' ? chosen.id : 'new'}
                jobId={job.job.id}
                onRemoved={(place) => did({ kind: 'removed', name: place.name, place })}
                place={mode === 'place' ? null : chosen}
                at={at}
                done={() => {
                  back();
                  setChosenId(null);
                }}
              />
            ) : (
              <PlaceList map={shownMap} chosenId={chosenId} onChoose={setChosenId} />
            )}
          </section>
          {reshaped && (
            <section className="map-panel">
              <h2>Its shape</h2>
              <ReshapePanel obstacle={reshaped} corners={corners} onCorners={setCorners} done={back} />
            </section>
          )}
          <AreaPanel job={job} onOverlay={setOverlay} />
          <TerrainPanel jobId={job.job.id} />
          <FilesPanel job={job} />
          <ObstaclePanel
            obstacles={job.obstacles}
            isDrawing={mode !== 'look'}
            mayChange={may.work}
            onChange={setEdited}
            onReshape={(obstacle) => {
              setMode('shape');
              setReshaped(obstacle);
              setCorners(obstacle.footprint);
              setShown(obstacle.footprint[0] ?? null);
            }}
          />
        </div>
      </div>
      <Modal opened={noting} onClose={() => setNoting(false)} title="What stands there?">
        <ObstacleForm
          jobId={job.job.id}
          obstacle={newObstacle('trees', corners)}
          done={() => {
            setNoting(false);
            back();
          }}
        />
      </Modal>
      <Modal opened={edited !== null} onClose={() => setEdited(null)} title="What stands there?">
        {edited && <ObstacleForm jobId={job.job.id} obstacle={edited} done={() => setEdited(null)} />}
      </Modal>
    </>
  );
}

/** Places that came before the terrain: their heights are taken in one press. */
function AtZero({ jobId, places, ids }: { jobId: string; places: readonly Place[]; ids: readonly string[] }) {
  const take = useChange(routes.takeGround, { jobId });
  const names = places.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
  const more = names.length > 3 ? ` and ${names.length - 3} more` : '';
  return (
    <div className="caution">
      {names.slice(0, 3).join(', ')}
      {more} {names.length > 1 ? 'stand' : 'stands'} at 0 m, and the terrain knows better.{' '}
      <Button size="compact-sm" variant="default" loading={take.isPending} onClick={() => take.mutate(undefined)}>
        Take {names.length > 1 ? 'their heights' : 'its height'} from the terrain
      </Button>
      <Problem error={take.error} />
    </div>
  );
}
