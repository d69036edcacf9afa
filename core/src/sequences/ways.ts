import type { Verdict } from '../stability/comparison.ts';
import { verdictsOfMany } from '../stability/discoveries.ts';
import type { Estimate } from '../stability/share.ts';
import { type Part, sidesOfParts } from '../stability/sides.ts';
import type { WeighedPath } from './funnel.ts';
import { type PathEnd, screensOf } from './session-path.ts';
import { heaviest, WeighedShare } from './weighed-share.ts';

/** Screens that were shown directly one after the other, and how often a session ends badly there. */
export interface Way {
  readonly screens: readonly string[];
  /** Sessions that were looked at, went this way and ended badly on its last screen. */
  readonly looked: number;
  /** Whose they were. */
  readonly people: number;
  /** Sessions of the scope that went this way, estimated. */
  readonly sessions: number;
  /** Of those, that ended badly on its last screen. */
  readonly risk: Estimate;
  /** The same of sessions that came to its last screen by other ways; of a single screen, of sessions that did not come to it. */
  readonly riskElsewhere: Estimate;
  /** Such that of all that are told better or worse one in twenty is so by chance. */
  readonly verdict: Verdict;
  /** Of the sessions that ended badly and tell their screens, how many ended so; and of those that went well, how many went this way. */
  readonly shareOfBad: number;
  readonly shareOfGood: number;
}

const longestWay = 4;
/** A way that fewer bad sessions took says nothing. */
const leastLooked = 3;
/** Longer sessions go in circles; so many of their screens are looked at. */
const mostScreens = 100;
/** A way from screen to screen that somebody makes up by the thousand costs no more than these. */
const mostWays = 150;
const shown = 40;

/** The ways through screens on whose last one sessions end badly, those first that are surely worse than other ways to the same screen. */
export function waysOf(paths: readonly WeighedPath[], isBad: (end: PathEnd) => boolean): Way[] {
  const walks = paths.map((path) => walkOf(path, isBad(path.end)));
  const usualWeight = heaviest(paths);
  const counted = [...tailsOf(walks)]
    .filter(([, looked]) => looked >= leastLooked)
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, mostWays)
    .map(([key]) => countWay(JSON.parse(key) as string[], walks, usualWeight));
  const verdicts = verdictsOfMany(counted.map(({ along, elsewhere }) => sidesOfParts(along.independent, elsewhere.independent)));
  const ways = counted.map(({ along, elsewhere, ...way }, place): Way => {
    const verdict = verdicts[place] ?? 'too-early';
    return { ...way, sessions: along.part.count, risk: along.estimate, riskElsewhere: elsewhere.estimate, verdict };
  });
  const isTold = (way: Way) =>
    way.screens.length === 1 || ((way.verdict === 'worse' || way.verdict === 'better') && !ways.some((other) => saysAsMuch(other, way)));
  const rank = ({ verdict }: Way) => (verdict === 'worse' ? 0 : 1);
  return ways
    .filter(isTold)
    .sort((a, b) => rank(a) - rank(b) || b.looked - a.looked || a.screens.length - b.screens.length)
    .slice(0, shown);
}

/** Whether a shorter way to the same screen is that of the very same sessions. */
const saysAsMuch = (shorter: Way, way: Way): boolean =>
  shorter.screens.length > 1 &&
  shorter.screens.length < way.screens.length &&
  shorter.looked === way.looked &&
  shorter.sessions === way.sessions &&
  endsAlong(way.screens, shorter.screens);

interface Walk {
  readonly path: WeighedPath;
  readonly isBad: boolean;
  readonly screens: readonly string[];
}

const walkOf = (path: WeighedPath, isBad: boolean): Walk => ({ path, isBad, screens: screensOf(path.steps).slice(-mostScreens) });

/** The last screens of sessions that ended badly, of every length, with how many ended so. */
function tailsOf(walks: readonly Walk[]): Map<string, number> {
  const tails = new Map<string, number>();
  for (const { isBad, screens } of walks) {
    if (!isBad) continue;
    for (let length = 1; length <= Math.min(longestWay, screens.length); length++) {
      const key = JSON.stringify(screens.slice(-length));
      tails.set(key, (tails.get(key) ?? 0) + 1);
    }
  }
  return tails;
}

function countWay(screens: readonly string[], walks: readonly Walk[], usualWeight: number) {
  const [along, elsewhere] = [new WeighedShare(usualWeight), new WeighedShare(usualWeight)];
  const [bad, good] = [
    { hits: 0, count: 0 },
    { hits: 0, count: 0 },
  ];
  const last = screens.at(-1) as string;
  const people = new Set<string>();
  let looked = 0;
  for (const walk of walks) {
    const { path, isBad } = walk;
    const went = goesAlong(walk.screens, screens);
    const endedHere = isBad && walk.screens.at(-1) === last;
    const endedSo = endedHere && endsAlong(walk.screens, screens);
    if (went) along.add(path, endedSo);
    else if (screens.length === 1) elsewhere.add(path, isBad);
    else if (walk.screens.includes(last)) elsewhere.add(path, endedHere);
    const own = isBad ? bad : good;
    own.count += path.weight;
    if (isBad ? endedSo : went) own.hits += path.weight;
    if (!endedSo) continue;
    looked++;
    people.add(path.person);
  }
  const share = ({ hits, count }: Part) => (count === 0 ? 0 : hits / count);
  return { screens, looked, people: people.size, along, elsewhere, shareOfBad: share(bad), shareOfGood: share(good) };
}

const endsAlong = (walked: readonly string[], screens: readonly string[]): boolean =>
  screens.every((screen, at) => walked[walked.length - screens.length + at] === screen);

function goesAlong(walked: readonly string[], screens: readonly string[]): boolean {
  for (let at = 0; at + screens.length <= walked.length; at++)
    if (screens.every((screen, place) => walked[at + place] === screen)) return true;
  return false;
}
