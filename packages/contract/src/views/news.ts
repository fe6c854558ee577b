/** What a viewer of a job is told of, by the name it has on the wire. `state`: the step states of a link, told by the link. */
export type NewsNoun =
  | 'job'
  | 'crew'
  | 'network'
  | 'place'
  | 'need'
  | 'obstacle'
  | 'cable'
  | 'air'
  | 'radio'
  | 'link'
  | 'localRule'
  | 'licence'
  | 'visit'
  | 'photo'
  | 'alternative'
  | 'bench'
  | 'alignment'
  | 'pathCheck'
  | 'test'
  | 'sheet'
  | 'login'
  | 'levelSource'
  | 'state';

/**
 * What moved, by noun: the version that each entry has now, null where it has none or is gone. What hangs on a link (its bench, tests, sheets, states) goes by the link's id. Null in place of the
 * entries: so many that they are not counted up.
 */
export type Moved = Partial<Record<NewsNoun, Record<string, number | null> | null>>;

/** What the stream of a job sends. Numbers grow within a job: whoever has heard of one has heard of all before it. */
export type NewsEvent =
  /** the stream stands, and what is to come has a greater number */
  | { type: 'here'; number: number }
  | {
      type: 'moved';
      number: number;
      /** the id that the change was sent under; null for what the program did by itself */
      changeId: string | null;
      /** who made it */
      crewMemberId: string | null;
      moved: Moved;
    }
  /** more than is told one by one, or longer ago than is kept: all of it is asked for again */
  | { type: 'all'; number: number; changeId: string | null }
  /** nothing has happened, and the line stands */
  | { type: 'still' };
