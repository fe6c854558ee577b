import type { LinkView } from '@kivram/contract/views/link';
import { climateOf, climates, likelyClimate } from '@kivram/core/propagation/climate';
import { Link } from 'react-router';
import { numberIn } from '../parts/NumberField';
import { Range } from '../parts/Range';
import type { DraftErrors, PlanDraft } from './planDraft';

interface Props {
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
  view: LinkView;
}

/** The heaviest rain that can be tried, mm/h: common practice, no source. */
const heaviestMmPerH = 200;

/** What if it rains now, if the climate is wetter, or the trees grow: tried here, kept nowhere, for it is no choice of a link. */
export function WeatherChoices({ draft, set, view }: Props) {
  const { climate, near, far, terrain, link } = view;
  const latitudeDeg = (near.place.latitudeDeg + far.place.latitudeDeg) / 2;
  const usual = climateOf(climate, latitudeDeg).rainMmPerH;
  const now = numberIn(draft.rainNowMmPerH) || 0;
  const rain = draft.rainMmPerH === null ? usual : numberIn(draft.rainMmPerH);
  const grows = terrain?.obstacles.some((o) => o.kind === 'trees' && o.growthMPerYear > 0) ?? false;
  const years = numberIn(draft.treeYears) || 0;
  if (link.pathKind === 'shaft') return null;
  return (
    <div className="row weather">
      <Slider
        label="Rain that falls now"
        says="Rain that falls now, mm/h"
        shown={now === 0 ? 'none' : `${now.toFixed(0)} mm/h`}
        beside={now > 0 ? ': levels, steps and rates are those in it' : ''}
        most={heaviestMmPerH}
        value={now}
        onMove={set('rainNowMmPerH')}
      />
      <Slider
        label="Rain of the climate, 53 minutes a year:"
        says="Rain exceeded for 0.01 % of the year, mm/h"
        shown={`${rain.toFixed(0)} mm/h`}
        beside={draft.rainMmPerH === null ? '' : `, ${usual} in the plan`}
        most={heaviestMmPerH}
        value={rain}
        onMove={(value) => set('rainMmPerH')(value === usual ? null : value)}
      />
      {grows && (
        <Slider
          label="The trees in"
          says="Years that the trees grow"
          shown={years === 0 ? 'this year' : `${years} years`}
          most={20}
          value={years}
          onMove={set('treeYears')}
        />
      )}
      <p className="note">
        Climate: {climates[climate.class ?? likelyClimate(latitudeDeg)].words}
        {climate.class === null && ', guessed from the latitude'}.{' '}
        <Link to={`/jobs/${link.jobId}/about`}>About the job</Link> has it.
      </p>
    </div>
  );
}

interface SliderProps {
  label: string;
  /** what a screen reader says, with the unit */
  says: string;
  shown: string;
  beside?: string;
  most: number;
  value: number;
  onMove(value: number): void;
}

function Slider({ label, says, shown, beside, most, value, onMove }: SliderProps) {
  return (
    <label>
      {label} <span className="figure">{shown}</span>
      {beside && <span className="note">{beside}</span>}
      <Range min={0} max={most} step={1} value={value} onMove={onMove} aria-label={says} />
    </label>
  );
}
