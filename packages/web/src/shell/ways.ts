import type { Found } from '@kivram/contract/views/find';
import { steps, type Step } from '@kivram/core/verdict/steps';

/** A screen that can be gone to by its name. */
export interface Way {
  words: string;
  path: string;
}

/** The screens from where one stands. */
export function waysOf(jobId: string | undefined, linkId: string | undefined): Way[] {
  return [
    ...(linkId
      ? [
          ...steps.map((step): Way => ({ words: `This link: ${step}`, path: `/links/${linkId}/${step}` })),
          { words: 'This link: change it', path: `/links/${linkId}/about` },
        ]
      : []),
    ...(jobId
      ? [
          { words: 'Links of the job', path: `/jobs/${jobId}` },
          { words: 'Map', path: `/jobs/${jobId}/map` },
          { words: 'Network', path: `/jobs/${jobId}/network` },
          { words: 'What is needed', path: `/jobs/${jobId}/need` },
          { words: 'Law and licences', path: `/jobs/${jobId}/law` },
          { words: 'Visits and photos', path: `/jobs/${jobId}/visits` },
          { words: 'People', path: `/jobs/${jobId}/people` },
          { words: 'Timeline', path: `/jobs/${jobId}/timeline` },
          { words: 'The job itself', path: `/jobs/${jobId}/about` },
          { words: 'Plan a new link', path: `/jobs/${jobId}/new-link` },
        ]
      : []),
    { words: 'All jobs', path: '/jobs' },
    { words: 'Changes that wait', path: '/waiting' },
    { words: 'Begin a new job', path: '/jobs/new' },
    { words: 'Catalogue of gear', path: '/catalogue' },
    { words: 'Add a spec sheet', path: '/catalogue/new' },
  ];
}

/** The step that a text ends with, as in "ice works aim", and the text before it. */
export function stepIn(text: string): { step: Step | null; rest: string } {
  const [, rest = '', last = ''] = /^(.*\S)\s+(\S+)\s*$/.exec(text) ?? [];
  const step = steps.find((name) => last.length > 1 && name.startsWith(last.toLowerCase()));
  return step ? { step, rest } : { step: null, rest: text };
}

/** Where to go for something that was found, and what is said of it. */
export function goesTo({ kind, id, jobId, linkId, about }: Found, step: Step | null): { path: string; about: string } {
  const job = `/jobs/${jobId ?? ''}`;
  switch (kind) {
    case 'link':
      return { path: `/links/${id}/${step ?? 'path'}`, about: step ? `link, ${step}` : 'link' };
    case 'radio':
      return linkId
        ? { path: `/links/${linkId}/${step ?? 'about'}`, about: `radio, ${about}` }
        : { path: `${job}/map`, about: `radio, ${about}` };
    case 'place':
      return {
        path: `${job}/map?place=${id}`,
        about: about === 'landmark' ? 'landmark on the map' : 'place on the map',
      };
    case 'device':
      return { path: `${job}/network`, about: `device, ${about}` };
    case 'model':
      return { path: `/catalogue/${encodeURIComponent(id)}`, about: 'spec sheet' };
    case 'job':
      return { path: job, about: `job${about ? `, ${about}` : ''}` };
  }
}
