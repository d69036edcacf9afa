/** Shade of a cell: 0 none, then up the ember ramp; `few` where a version sent too little to judge by. */
export type EmberLevel = 0 | 1 | 2 | 3 | 4 | 'few';

/** Below this many of a version, a share of them says little. */
const enoughReports = 20;
const enoughSessions = 200;

/** What a version was used and what it sent. */
export interface VersionUse {
  readonly reports: number;
  readonly sessions: number;
}

/** The shade of a case in a version: by its reports for 1,000 sessions, or where no session is told by its share of all reports. */
export function emberLevel(reports: number, { reports: all, sessions }: VersionUse): EmberLevel {
  if (reports === 0) return 0;
  if (sessions === 0) return all < enoughReports ? 'few' : step(reports / all, [0.05, 0.15, 0.35]);
  return sessions < enoughSessions ? 'few' : emberLevelOfRate((1_000 * reports) / sessions);
}

/** The shade of a screen of the app, by what went wrong in 1,000 visits of it: several cases, as for a version. */
export const emberLevelOfVisits = (reports: number, visits: number): EmberLevel =>
  reports === 0 ? 0 : visits < enoughSessions ? 'few' : emberLevelOfAll((1_000 * reports) / visits);

/** The shade of one case by its reports for 1,000 sessions. */
const emberLevelOfRate = (rate: number): EmberLevel => step(rate, [0.5, 2, 6]);

/** The shade of everything that crashes together, for 1,000 sessions: a version has several cases. */
export const emberLevelOfAll = (rate: number): EmberLevel => (rate === 0 ? 0 : step(rate, [2, 8, 24]));

const step = (value: number, steps: readonly [number, number, number]): EmberLevel =>
  value < steps[0] ? 1 : value < steps[1] ? 2 : value < steps[2] ? 3 : 4;
