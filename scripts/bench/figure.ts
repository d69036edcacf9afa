/** One figure: what was measured, against which yardstick of the same run. */
export interface Figure {
  readonly name: string;
  readonly value: number;
  readonly unit: string;
  readonly yardstick: string;
  readonly ratio: number;
  /** What a person should know beside it. */
  readonly note: string;
}

/** Measures one figure; the folder is its own and goes afterwards. */
export type Bench = (folder: string) => Promise<Figure>;

const runs = 5;

/** The middle one of several runs, in milliseconds. */
export async function medianMs(run: () => Promise<void> | void): Promise<number> {
  const times: number[] = [];
  for (let count = 0; count < runs; count++) {
    const began = performance.now();
    await run();
    times.push(performance.now() - began);
  }
  return percentile(times, 50);
}

/** The value that `percent` of all are at or below. */
export function percentile(values: readonly number[], percent: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor((sorted.length * percent) / 100))] as number;
}
