/** Steps that came in this order before most reports of a case. */
export interface CommonSteps {
  readonly steps: readonly string[];
  /** Reports in which all of them came in this order, and reports that were looked at. */
  readonly reports: number;
  readonly looked: number;
}

const mostSteps = 5;
const leastShare = 0.5;
const candidates = 30;

/**
 * The longest run of steps that most reports have in common, found by adding the step that costs the fewest reports for as
 * long as half of them remain. Each trail is a list of steps, oldest first; other steps may lie between.
 */
export function commonSteps(trails: readonly (readonly string[])[]): CommonSteps {
  const looked = trails.length;
  const counts = new Map<string, number>();
  for (const trail of trails) for (const step of new Set(trail)) counts.set(step, (counts.get(step) ?? 0) + 1);
  const likely = [...counts]
    .filter(([, count]) => count >= leastShare * looked)
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, candidates)
    .map(([step]) => step);
  let best: { steps: readonly string[]; reports: number } = { steps: [], reports: looked };
  while (best.steps.length < mostSteps) {
    let next: typeof best | null = null;
    for (const step of likely) {
      if (best.steps.includes(step)) continue;
      for (let place = 0; place <= best.steps.length; place++) {
        const steps = [...best.steps.slice(0, place), step, ...best.steps.slice(place)];
        const reports = trails.filter((trail) => comeInOrder(trail, steps)).length;
        if (reports >= leastShare * looked && (next === null || reports > next.reports)) next = { steps, reports };
      }
    }
    // A step that loses many reports says more of the reports that are left than of the case.
    if (next === null || next.reports < 0.8 * best.reports) break;
    best = next;
  }
  return { ...best, looked };
}

function comeInOrder(trail: readonly string[], steps: readonly string[]): boolean {
  let at = 0;
  for (const step of trail) if (step === steps[at]) at++;
  return at === steps.length;
}
