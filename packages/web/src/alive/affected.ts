import type { NewsEvent, NewsNoun } from '@kivram/contract/views/news';
import type { QueryKey } from '@tanstack/react-query';

/** News of something, or of so much that it is not told one by one. */
export type SomeNews = Extract<NewsEvent, { type: 'moved' | 'all' }>;

/** Of each part of what is read of a job, what it shows. Step states and what is next are told as `state` when they are computed. */
const shownOfJob: Record<string, readonly NewsNoun[]> = {
  itself: ['job', 'crew', 'network'],
  links: ['job', 'link', 'place', 'cable', 'need', 'state', 'alignment'],
  map: ['place', 'obstacle', 'link', 'radio', 'state'],
  law: ['job', 'localRule', 'licence'],
  needs: ['job', 'need', 'place', 'cable', 'link', 'state'],
  visits: ['visit', 'photo', 'crew'],
};

const planned: readonly NewsNoun[] = ['link'];

/** The same of a link, told by the link. */
const shownOfLink: Record<string, readonly NewsNoun[]> = {
  itself: ['link', 'alternative', 'bench', 'alignment', 'test', 'sheet', 'login', 'levelSource', 'state'],
  // The others of its air are told of with it.
  air: planned,
  alignments: ['alignment'],
  levels: ['levelSource', 'sheet', 'login'],
  'path-checks': ['pathCheck'],
};

/** What every link of a job may be planned with, or be shown beside. */
const underAllLinks: readonly NewsNoun[] = ['job', 'place', 'obstacle', 'network', 'localRule', 'licence'];

/** What belongs to no single job, and shows something of each. */
const shownOfAll: Record<string, readonly NewsNoun[]> = {
  jobs: ['job', 'link'],
  session: ['crew'],
  removal: ['place', 'link', 'cable', 'obstacle', 'visit', 'photo'],
};

/** Whether news of a job make what was read under a key old. */
export function isAffected(news: SomeNews, jobId: string, [root, id, part = 'itself']: QueryKey): boolean {
  if (root === 'job' && id !== jobId) return false;
  if (news.type === 'all') return root !== 'models' && root !== 'health';
  const { moved, changeId } = news;
  const tells = (nouns: readonly NewsNoun[] | undefined): boolean => !!nouns?.some((noun) => noun in moved);
  // Every change has its line in the timeline, and is the last that somebody made.
  if (part === 'timeline' || part === 'people') return changeId !== null;
  if (root === 'job') return tells(shownOfJob[part as string]);
  if (root !== 'link') return tells(shownOfAll[root as string]);
  const tellsOfIt = shownOfLink[part as string]?.some((noun) => {
    const entries = moved[noun];
    return entries === null || (entries && (id as string) in entries);
  });
  return !!tellsOfIt || ((part === 'itself' || part === 'air') && tells(underAllLinks));
}

/** Whether news tell of nothing but what was computed anew. */
export const isOfStatesOnly = (news: SomeNews): boolean =>
  news.type === 'moved' && Object.keys(news.moved).every((noun) => noun === 'state');
