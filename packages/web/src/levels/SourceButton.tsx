import { routes } from '@kivram/contract/routes';
import type { LevelSourceView } from '@kivram/contract/views/level';
import type { LinkView } from '@kivram/contract/views/link';
import { levelWayWords } from '@kivram/core/aiming/levelWay';
import type { End } from '@kivram/core/budget/plan';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { call } from '../api';
import { useMay } from '../queries';

const SourceModal = lazy(async () => ({ default: (await import('./SourceModal')).SourceModal }));

export const useLevelSources = (linkId: string) =>
  useQuery({ queryKey: ['link', linkId, 'levels'], queryFn: () => call(routes.levelSources, { linkId }) });

/** Whether it was said where a level comes from: the stand-in radios of a practice job are there without a word. */
export const isSourceChosen = ({ way, version }: LevelSourceView): boolean => version >= 0 || way === 'standin';

/** Where the level of an end comes from, in words, and the way to change it. */
export function SourceButton({ view, end }: { view: LinkView; end: End }) {
  const sources = useLevelSources(view.link.id);
  const may = useMay(view.link.jobId);
  const [isOpen, setOpen] = useState(false);
  const source = sources.data?.[end];
  if (!source) return null;
  const where = source.snmp?.host ?? source.http?.url.replace(/^\w+:\/\/([^/?#]*).*$/, '$1');
  return (
    <>
      <span>
        {isSourceChosen(source) ? levelWayWords[source.way] : 'not chosen yet'}
        {where && <span className="figure"> {where}</span>}
      </span>{' '}
      {may.work && (
        <button
          type="button"
          className="linklike"
          aria-label={`Change where the level of the ${end} end comes from`}
          onClick={() => setOpen(true)}
        >
          {isSourceChosen(source) ? 'change' : 'choose'}
        </button>
      )}
      {isOpen && (
        <Suspense>
          <SourceModal view={view} end={end} source={source} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
