import type { RequestOutcome, Sequence, StepPattern } from './sequence.ts';
import type { PathStep } from './session-path.ts';

/** How far a session follows a sequence. */
export interface Progress {
  /** Steps of the sequence that came in order. */
  readonly reached: number;
  /** When each of them came, in milliseconds since 1970: of all ways to find them, the one whose steps come latest. */
  readonly atMs: readonly number[];
  /** Where in the path the last of them stands; -1 when none came. */
  readonly place: number;
}

/** A test of single steps, made once for a sequence. */
export type StepTest = (step: PathStep) => boolean;

export const testsOf = (sequence: Sequence): StepTest[] => sequence.map(testOf);

function testOf({ kind, name, outcome }: StepPattern): StepTest {
  const isNamed = nameTest(kind, name);
  return (step) => step.kind === kind && isNamed(step.name) && (outcome === null || wentSo(step, outcome));
}

function nameTest(kind: StepPattern['kind'], name: string | null): (name: string) => boolean {
  if (name === null) return () => true;
  const wanted = name.toLowerCase();
  const isPart = kind === 'request' || kind === 'log';
  const parts = wanted.split('*');
  if (parts.length === 1) {
    if (isPart) return (given) => given.toLowerCase().includes(wanted);
    // A flag without a variant is any change of it.
    const isFlag = kind === 'flag' && !wanted.includes('=');
    return (given) => (isFlag ? given.slice(0, given.indexOf('=')) : given).toLowerCase() === wanted;
  }
  return (given) => matchesParts(given.toLowerCase(), parts, isPart);
}

/** Whether a text has parts in order, the first at its start and the last at its end unless they may stand anywhere. */
function matchesParts(text: string, parts: readonly string[], anywhere: boolean): boolean {
  const [first = '', last = ''] = [parts[0], parts.at(-1)];
  if (!anywhere && (!text.startsWith(first) || !text.endsWith(last) || text.length < first.length + last.length)) return false;
  const end = anywhere ? text.length : text.length - last.length;
  let at = anywhere ? 0 : first.length;
  for (const part of anywhere ? parts : parts.slice(1, -1)) {
    const found = text.indexOf(part, at);
    if (found < 0 || found + part.length > end) return false;
    at = found + part.length;
  }
  return true;
}

function wentSo({ status, failed = false }: PathStep, outcome: RequestOutcome): boolean {
  if (outcome.kind === 'failed') return failed;
  if (outcome.kind === 'ok') return !failed;
  if (status === undefined) return false;
  return outcome.kind === 'status' ? status === outcome.status : Math.floor(status / 100) === outcome.hundreds;
}

/**
 * How far a path follows a sequence: its steps in order, others may lie between. A step may come again, and one that comes later
 * leaves more time for the next, so the latest time is kept at which each beginning of the sequence was complete.
 */
export function follow(steps: readonly PathStep[], sequence: Sequence, tests: readonly StepTest[]): Progress {
  /** For each number of steps, when the latest such beginning was complete, as a chain back to the first. */
  const latest: (Chain | null)[] = [null, ...sequence.map(() => null)];
  for (const [place, step] of steps.entries()) {
    for (let at = sequence.length; at >= 1; at--) {
      const { withinMs } = sequence[at - 1] as StepPattern;
      const before = latest[at - 1] as Chain | null;
      if (at > 1 && before === null) continue;
      if (!(tests[at - 1] as StepTest)(step)) continue;
      if (before !== null && withinMs !== null && step.atMs - before.atMs > withinMs) continue;
      latest[at] = { atMs: step.atMs, place, before };
    }
  }
  const reached = latest.findLastIndex((one) => one !== null);
  const atMs: number[] = [];
  for (let one = latest[reached] ?? null; one !== null; one = one.before) atMs.unshift(one.atMs);
  return { reached: Math.max(0, reached), atMs, place: latest[reached]?.place ?? -1 };
}

interface Chain {
  readonly atMs: number;
  readonly place: number;
  readonly before: Chain | null;
}
