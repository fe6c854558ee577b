export const foundKinds = ['job', 'link', 'place', 'radio', 'device', 'model'] as const;

/** Something that was found by a part of its name, its address or its label. */
export interface Found {
  kind: (typeof foundKinds)[number];
  id: string;
  jobId: string | null;
  /** of a link or a radio: the link to go to */
  linkId: string | null;
  name: string;
  /** what was found of it, or where it is */
  about: string;
}
