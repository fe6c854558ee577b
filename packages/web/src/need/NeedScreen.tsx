import { routes } from '@kivram/contract/routes';
import type { NeedsView } from '@kivram/contract/views/need';
import type { PlaceNeed } from '@kivram/core/need/activity';
import { airRoom, sumNeeds, type NeedSum } from '@kivram/core/need/sum';
import { Button, Select } from '@mantine/core';
import { useState, useSyncExternalStore } from 'react';
import { Link, useParams } from 'react-router';
import { drafts } from '../drafts/drafts';
import { JobTabs } from '../job/JobTabs';
import { Figure, typeset } from '../parts/Figure';
import { Working } from '../parts/Only';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { sendThen, useChange, useJob, useNeeds } from '../queries';
import { needDraftOf, needIn, siteOf, type NeedDraft } from './needDraft';
import { Cables } from './Cables';
import { PlaceNeedForm } from './PlaceNeedForm';
import './need.css';

/** What must cross the links: what every place does, added up along the way that its traffic takes. */
export function NeedScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const needs = useNeeds(jobId);
  const error = job.error ?? needs.error;
  if (!job.data || !needs.data) return error ? <NotShown error={error} /> : <p className="soft">Reading the needs</p>;
  const { name, customer } = job.data.job;
  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={customer} />
      <Places jobId={jobId} view={needs.data} />
    </>
  );
}

const draftKey = (jobId: string, placeId: string): string => `job/${jobId}/need/${placeId}`;

function Places({ jobId, view }: { jobId: string; view: NeedsView }) {
  const [added, setAdded] = useState<string[]>([]);
  const typed = useSyncExternalStore(drafts.subscribe, drafts.all);
  const known = new Map(view.needs.map((need) => [need.placeId, need]));
  const shown = view.places.filter(({ id }) => known.has(id) || added.includes(id) || typed.has(draftKey(jobId, id)));
  const left = view.places.filter((place) => !shown.includes(place));
  const reckoned = shown.flatMap(({ id }): PlaceNeed[] => {
    const draft = (typed.get(draftKey(jobId, id))?.value as NeedDraft | undefined) ?? needDraftOf(known.get(id));
    const need = needIn(id, draft);
    return need ? [need] : [];
  });
  const sum = sumNeeds(siteOf(view), reckoned);
  return (
    <>
      {!view.feedPlaceId && (
        <p className="caution">
          Nobody has said where the feed comes in: <Link to={`/jobs/${jobId}/network`}>the network</Link> has it. Until
          then nothing can be added up along the links.
        </p>
      )}
      <Sums jobId={jobId} view={view} sum={sum} shown={shown.length > 0} />
      <h2 className="need-places">What each place does</h2>
      {view.places.length === 0 && (
        <p>
          There are no places yet: <Link to={`/jobs/${jobId}/map`}>put them on the map</Link>, then say here what each
          does.
        </p>
      )}
      {shown.map((place) => (
        <PlaceNeedForm
          key={place.id}
          draftKey={draftKey(jobId, place.id)}
          jobId={jobId}
          place={place}
          places={view.places}
          kept={known.get(place.id)}
        />
      ))}
      <Working jobId={jobId}>
        {left.length > 0 && (
          <Select
            label="Another place"
            placeholder="choose one"
            data={left.map(({ id, name }) => ({ value: id, label: name }))}
            value={null}
            onChange={(id) => id && setAdded([...added, id])}
            searchable
            w={260}
          />
        )}
      </Working>
      {view.places.length > 1 && <Cables jobId={jobId} view={view} />}
    </>
  );
}

const roomStates = { room: 'holds', hardly: 'thin', none: 'fails' } as const;

/** What crosses each link, against what it is planned for and what it carries; and what does not let it through. */
function Sums({ jobId, view, sum, shown }: { jobId: string; view: NeedsView; sum: NeedSum; shown: boolean }) {
  const plan = useChange(routes.planNeeds, { jobId });
  const crossed = view.links.filter(({ id }) => (sum.links.get(id)?.places.length ?? 0) > 0);
  const name = new Map(view.places.map((place) => [place.id, place.name]));
  const differing = crossed.flatMap((link) => {
    const need = sum.links.get(link.id);
    const [needNearToFarMbps, needFarToNearMbps] = [rounded(need?.nearToFarMbps), rounded(need?.farToNearMbps)];
    const same = needNearToFarMbps === link.needNearToFarMbps && needFarToNearMbps === link.needFarToNearMbps;
    return same ? [] : [{ linkId: link.id, version: link.version, needNearToFarMbps, needFarToNearMbps }];
  });
  return (
    <section>
      <h2>What must cross each link</h2>
      {sum.limits.map((limit) => (
        <p key={`${limit.kind} ${limit.id} ${limit.neededMbps}`} className="caution">
          {limitWords(limit, view, name)}
        </p>
      ))}
      {crossed.length === 0 ? (
        <p>Nothing yet: {shown ? 'no link carries any of it.' : 'say below what is done at the places.'}</p>
      ) : (
        <div className="scroll" tabIndex={0} role="region" aria-label="What must cross each link, as a table">
          <table className="ruled need-sums">
            <thead>
              <tr>
                <th>Link</th>
                <th>For</th>
                <th className="right">Near to far</th>
                <th className="right">planned</th>
                <th className="right">Far to near</th>
                <th className="right">planned</th>
                <th>Its air</th>
              </tr>
            </thead>
            <tbody>
              {crossed.map((link) => {
                const need = sum.links.get(link.id);
                const rates = {
                  out: rounded(need?.nearToFarMbps),
                  plannedOut: link.needNearToFarMbps,
                  back: rounded(need?.farToNearMbps),
                  plannedBack: link.needFarToNearMbps,
                };
                const load = sum.airLoad.get(link.airId) ?? 0;
                const sharers = view.links.filter((other) => other.airId === link.airId).length;
                return (
                  <tr key={link.id}>
                    <th scope="row">
                      <Link to={`/links/${link.id}/radio`}>{link.name}</Link>
                    </th>
                    <td>{need?.places.map((id) => name.get(id)).join(', ')}</td>
                    {Object.entries(rates).map(([key, mbps]) => (
                      <td key={key} className={key.startsWith('planned') ? 'right soft' : 'right'}>
                        <Rate mbps={mbps} beside={Object.values(rates)} />
                      </td>
                    ))}
                    <td>
                      <StateMark
                        state={roomStates[airRoom(load)]}
                        because={`${loadText(load)} of its time${sharers > 1 ? `, shared by ${sharers} links` : ''}`}
                      />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
      <p className="note">
        Through the feed: <Figure value={sum.feed.toMbps} unit="Mbit/s" /> in,{' '}
        <Figure value={sum.feed.fromMbps} unit="Mbit/s" /> out. Rates are what TCP delivers; a box promises its rate on
        air, about half as much again.
      </p>
      <Problem error={plan.error} />
      {crossed.length > 0 && (
        <Working jobId={jobId}>
          <Button
            disabled={!differing.length}
            loading={plan.isPending}
            onClick={() => sendThen(plan, { links: differing }, () => undefined)}
          >
            {differing.length
              ? `Plan ${differing.length} link${differing.length > 1 ? 's' : ''} by this`
              : 'All are planned by this'}
          </Button>
        </Working>
      )}
    </section>
  );
}

/** To a tenth of a kilobit: what narrowband carries is counted in kilobits. */
function rounded(mbps: number | undefined): number {
  return Math.round(10_000 * (mbps ?? 0)) / 10_000;
}

function loadText(load: number): string {
  return Number.isFinite(load) ? `${typeset(100 * load, load < 0.1 ? 1 : 0)} %` : 'more than all';
}

function limitWords(
  { kind, id, neededMbps, has }: NeedSum['limits'][number],
  view: NeedsView,
  name: ReadonlyMap<string, string>,
): string {
  const mbps = (value: number): string => `${typeset(value, value < 10 ? 1 : 0)} Mbit/s`;
  if (kind === 'feed')
    return `The feed delivers ${mbps(has)}, and ${mbps(neededMbps)} are needed one way: no link mends that.`;
  if (kind === 'adapter') {
    const adapter = view.needs.find((need) => need.placeId === id)?.adapterName || 'The adapter';
    return `${adapter.charAt(0).toUpperCase()}${adapter.slice(1)} at ${name.get(id) ?? ''} passes ${mbps(has)}, and ${mbps(neededMbps)} are needed: it is the limit, not the radio.`;
  }
  if (kind === 'cable') {
    const cable = view.cables.find((one) => one.id === id);
    return `The cable ${cable?.name ?? ''} passes ${mbps(has)}, and ${mbps(neededMbps)} are needed one way: it is the limit, not a radio.`;
  }
  if (kind === 'unreached') return `No link leads to ${name.get(id) ?? ''} yet: ${mbps(neededMbps)} of it have no way.`;
  const links = view.links.filter((link) => link.airId === id).map((link) => link.name);
  return `${links.join(', ')}: the channel would need ${loadText(neededMbps)} of its time. Take a wider one, faster gear, or an air of its own for one of them.`;
}
