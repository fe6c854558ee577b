import { otherEnd, type End } from '../budget/plan';
import { directions } from './throughputVerdict';
import { whyNot, type LinkFacts, type Step, type StepState } from './steps';

/** The piece of work that comes next on a link: what, at which end, and why there. */
export interface NextWork extends StepState {
  /** as one would say it: "Mend the settings" */
  task: string;
  /** null where it is done at the table, or at both ends alike */
  end: End | null;
  /** why this, and why at that end */
  why: string;
}

type Work = Pick<NextWork, 'task' | 'end' | 'why'>;

/** The next piece of work, or nothing where all is done: the first step that fails, else the first that is open; a level that is short is mended before it is proven. */
export function nextWork(facts: LinkFacts, list: readonly StepState[]): NextWork | undefined {
  const work = list.filter((s) => s.step !== 'record');
  const first = work.find((s) => s.state === 'fails') ?? work.find((s) => s.state === 'open');
  const aim = work.find((s) => s.step === 'aim');
  const next = first?.step === 'prove' && aim?.state === 'thin' && isShort(facts) ? aim : first;
  return next && { ...next, ...works[next.step](facts, next) };
}

function isShort({ alignment }: LinkFacts): boolean {
  return alignment?.diagnosis === 'obstructed';
}

/** On the table the access point is set first and left on; far from it the far end is, or the change cuts the link. */
function benchEnd({ accessEnd, mounted }: LinkFacts): Pick<Work, 'end' | 'why'> {
  return mounted.near && mounted.far
    ? { end: 'far', why: 'the far end first: a change that it has not got yet cuts the link' }
    : { end: accessEnd, why: 'the access point first, and left on' };
}

const works: Record<Step, (facts: LinkFacts, state: StepState) => Work> = {
  path: (_facts, { because }) => ({ task: 'Clear the path', end: null, why: because }),
  radio: (_facts, { because }) => ({ task: 'Change the radio plan', end: null, why: because }),
  bench: (facts, { state, because }) => {
    if (state === 'fails') return { task: 'Mend the settings', end: null, why: because };
    const at = benchEnd(facts);
    if (!facts.sheetsExist) return { task: 'Configure the radios', ...at };
    return facts.pairing
      ? { task: 'Pair them again', ...at, why: `${because}; ${at.why}` }
      : { task: 'Pair them on the bench', ...at };
  },
  mount: (facts, { because }) => {
    const stands = (end: End): boolean => {
      const evidence = facts.mounted[end];
      return !!evidence && whyNot('mount', evidence, facts) === undefined;
    };
    const end: End = stands('near') ? 'far' : 'near';
    return { task: facts.mounted[end] ? 'Look at the mount again' : 'Mount it', end, why: because };
  },
  aim: ({ alignment }, { state, because }) => {
    if (!alignment) return { task: 'Aim', end: 'near', why: 'the near end first, then the far end' };
    if (alignment.diagnosis === 'unswept') return { task: 'Sweep it', end: alignment.end, why: because };
    if (alignment.diagnosis === 'unsearched') return { task: 'Look beside the lobe', end: alignment.end, why: because };
    return { task: 'Aim again', end: state === 'open' ? 'near' : alignment.end, why: because };
  },
  prove: ({ tests }, { state, because }) => {
    if (state === 'fails') return { task: 'Find what limits it', end: null, why: because };
    const missing = directions.filter((direction) => !tests[direction]);
    if (missing.length === 1) {
      const end: End = missing[0] === 'nearToFar' ? 'near' : 'far';
      const words = end === 'near' ? 'near to far' : 'far to near';
      return {
        task: 'Prove the other direction',
        end,
        why: `${words} is missing: send from here, or add -R at the ${otherEnd(end)} end`,
      };
    }
    return missing.length
      ? { task: 'Prove the throughput', end: 'near', why: 'the client at the near end, the server at the far end' }
      : { task: 'Prove it again', end: 'near', why: because };
  },
  record: (_facts, { because }) => ({ task: 'Record it', end: null, why: because }),
};
