import { quartilesOf } from '../stability/quartiles.ts';
import type { Estimate } from '../stability/share.ts';
import { follow, testsOf } from './match.ts';
import type { Sequence } from './sequence.ts';
import type { PathEnd, SessionPath, StepKind } from './session-path.ts';
import { heaviest, WeighedShare } from './weighed-share.ts';

/** A path with how many sessions it stands for. */
export type WeighedPath = SessionPath & { readonly weight: number };

/** How many sessions come to a step of a sequence, and what becomes of those that do not come to the next. */
export interface FunnelStep {
  /** Sessions that were looked at and came so far, and for how many of the scope they stand. */
  readonly looked: number;
  readonly sessions: number;
  /** Of all sessions. */
  readonly ofAll: Estimate;
  /** Of those that came to the step before; of all for the first. */
  readonly ofBefore: Estimate;
  /** Half of them came here from the step before within so many milliseconds; null for the first. */
  readonly medianMs: number | null;
  /** How those ended that went no further along the sequence, as a share of those that came here. */
  readonly lost: Readonly<Record<PathEnd, Estimate>>;
  /** What they did next instead, the most common first. */
  readonly instead: readonly { readonly step: string; readonly looked: number }[];
}

const mostInstead = 3;

/** How far sessions follow a sequence. */
export function funnelOf(paths: readonly WeighedPath[], sequence: Sequence): FunnelStep[] {
  const tests = testsOf(sequence);
  const usualWeight = heaviest(paths);
  const followed = paths.map((path) => ({ path, progress: follow(path.steps, sequence, tests) }));
  return sequence.map((_, at) => {
    const newShare = () => new WeighedShare(usualWeight);
    const [ofAll, ofBefore] = [newShare(), newShare()];
    const lost = { crashed: newShare(), hung: newShare(), killed: newShare(), ended: newShare() };
    const instead = new Map<string, number>();
    const tookMs: number[] = [];
    let looked = 0;
    for (const { path, progress } of followed) {
      const came = progress.reached > at;
      ofAll.add(path, came);
      if (progress.reached >= at) ofBefore.add(path, came);
      if (!came) continue;
      looked++;
      const [here, before] = [progress.atMs[at], progress.atMs[at - 1]];
      if (here !== undefined && before !== undefined) tookMs.push(here - before);
      const stays = progress.reached === at + 1;
      for (const [end, share] of Object.entries(lost)) share.add(path, stays && path.end === end);
      if (stays) countInstead(instead, path, progress.place);
    }
    return {
      looked,
      sessions: ofAll.part.hits,
      ofAll: ofAll.estimate,
      ofBefore: ofBefore.estimate,
      medianMs: quartilesOf(tookMs)?.median ?? null,
      lost: { crashed: lost.crashed.estimate, hung: lost.hung.estimate, killed: lost.killed.estimate, ended: lost.ended.estimate },
      instead: [...instead]
        .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
        .slice(0, mostInstead)
        .map(([step, looked]) => ({ step, looked })),
    };
  });
}

/** What the app notes by itself, and what a tap leads to says more than the tap. */
const passedOver: ReadonlySet<StepKind> = new Set(['log', 'request', 'flag', 'lifecycle', 'tap']);

/** The first screen, event or report after a place; where nothing but taps came, the first of these. */
function countInstead(counts: Map<string, number>, { steps }: SessionPath, place: number): void {
  const later = steps.slice(place + 1);
  const next = later.find(({ kind }) => !passedOver.has(kind)) ?? later.find(({ kind }) => kind === 'tap');
  if (next === undefined) return;
  const words = next.name === '' ? next.kind : `${next.kind} ${next.name}`;
  counts.set(words, (counts.get(words) ?? 0) + 1);
}
