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
      <label>
        Rain that falls now <span className="figure">{now === 0 ? 'none' : `${now.toFixed(0)} mm/h`}</span>
        {now > 0 && <span className="note">: levels, steps and rates are those in it</span>}
        <Range
          min={0}
          max={200}
          step={1}
          value={now}
          onMove={set('rainNowMmPerH')}
          aria-label="Rain that falls now, mm/h"
        />
      </label>
      <label>
        Rain of the climate, 53 minutes a year: <span className="figure">{rain.toFixed(0)} mm/h</span>
        {draft.rainMmPerH !== null && <span className="note">, {usual} in the plan</span>}
        <Range
          min={0}
          max={200}
          step={1}
          value={rain}
          onMove={(value) => set('rainMmPerH')(value === usual ? null : value)}
          aria-label="Rain exceeded for 0.01 % of the year, mm/h"
        />
      </label>
      {grows && (
        <label>
          The trees in <span className="figure">{years === 0 ? 'this year' : `${years} years`}</span>
          <Range
            min={0}
            max={20}
            step={1}
            value={years}
            onMove={set('treeYears')}
            aria-label="Years that the trees grow"
          />
        </label>
      )}
      <p className="note">
        Climate: {climates[climate.class ?? likelyClimate(latitudeDeg)].words}
        {climate.class === null && ', guessed from the latitude'}.{' '}
        <Link to={`/jobs/${link.jobId}/about`}>About the job</Link> has it.
      </p>
    </div>
  );
}
