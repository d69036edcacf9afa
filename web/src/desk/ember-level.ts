/** Shade of a cell: 0 none, then up the ember ramp; `few` where a version sent too little to judge by. */
export type EmberLevel = 0 | 1 | 2 | 3 | 4 | 'few';

/** Below this many reports of a version, a share of them says little. */
const enoughReports = 20;

/** The shade of a case in a version by its share of all that the version reported. */
export function emberLevel(reports: number, ofVersion: number): EmberLevel {
  if (reports === 0) return 0;
  if (ofVersion < enoughReports) return 'few';
  const share = reports / ofVersion;
  return share < 0.05 ? 1 : share < 0.15 ? 2 : share < 0.35 ? 3 : 4;
}
