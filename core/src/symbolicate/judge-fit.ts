import type { FrameCoverage } from './readable-report.ts';

/** Whether a symbol file that only version and build tie is the one of that build, as far as its frames tell. */
export interface Fit {
  readonly verdict: 'fits' | 'doubtful' | 'other-build';
  /** How sure it is that the file is of another build, from 0 to 1. */
  readonly sure: number;
}

/**
 * Shares of distinct frames that a mapping knows nothing of: its own build's, and another's. Measured on the builds of the demo, each
 * with the mapping of each other: none of 66 in the first, and 44 to 94 % in the second, 44 % between neighbours. Both are taken more
 * cautiously here.
 */
const uncoveredByRight = 0.02;
const uncoveredByWrong = 0.4;
/** How many of the files that are sent for a build are another's, before a frame was seen. */
const wrongBefore = 0.05;

/** Judges by Bayes' rule how likely a file is of another build. */
export function judgeFit({ covered, uncovered }: FrameCoverage): Fit {
  const evidence =
    Math.log(wrongBefore / (1 - wrongBefore)) +
    uncovered * Math.log(uncoveredByWrong / uncoveredByRight) +
    covered * Math.log((1 - uncoveredByWrong) / (1 - uncoveredByRight));
  const sure = 1 / (1 + Math.exp(-evidence));
  return { verdict: sure >= 0.99 ? 'other-build' : sure >= 0.5 ? 'doubtful' : 'fits', sure };
}

/** In a sentence: how many frames do not fit, and what follows; null where the file fits. */
export function wordFit(coverage: FrameCoverage): string | null {
  const { verdict, sure } = judgeFit(coverage);
  if (verdict === 'fits') return null;
  const all = coverage.covered + coverage.uncovered;
  const share = `${coverage.uncovered} of ${all} ${all === 1 ? 'frame does' : 'frames do'} not occur in it`;
  const percent = sure > 0.999 ? 'over 99.9' : (Math.floor(sure * 1000) / 10).toString();
  return `${share}; it is ${verdict === 'other-build' ? 'almost surely' : 'perhaps'} of another build (${percent} % sure)`;
}
