import type { ReportInput } from '@rough-ember/core/report/report';
import type { SessionItemInput } from '@rough-ember/core/report/session';
import { durationBucket, hasFailed } from '@rough-ember/core/report/session-activity';
import { lastScreen, type TrailEvent } from '@rough-ember/core/report/trail';
import { type DemoApp, type DemoPerson, type DemoRelease, tilesRequest } from './demo-app.ts';
import type { Random } from './random.ts';

/** What a session item tells of its screens and requests. */
type Activity = Required<Pick<SessionItemInput, 'screens' | 'requests'>>;

/** The screen on which a report came. */
export const screenOf = ({ trail }: Pick<ReportInput, 'trail'>): string | null => lastScreen((trail ?? []) as TrailEvent[]);

/** What a session did that told its trail: that of a report. */
export function activityOfTrail(trail: ReportInput['trail']): Activity {
  const counts = new ActivityCounts();
  for (const event of (trail ?? []) as TrailEvent[]) {
    if (event.kind === 'screen') counts.visit(event.name);
    if (event.kind === 'request') counts.ask(event, event.status, event.durationMs ?? 0);
  }
  return counts.activity;
}

/** Requests of Larkfield's apps beside those for tiles: which screens send them, how long they take, and how many fail. */
const otherRequests = [
  { method: 'GET', path: '/v1/species/{number}', typicalMs: 140, failing: 0.004 },
  { method: 'POST', path: '/v1/sightings', typicalMs: 420, failing: 0.03 },
  { method: 'GET', path: '/v1/sign-in', typicalMs: 230, failing: 0.012 },
] as const;

const longestWalk = 6;
const secondsOfScreen = 45;

/** So many sessions tell their trail though nothing went wrong. */
const trailShare = 0.1;
/** Decided by the id, as clients do. */
const tellsTrail = (sessionId: string): boolean => Number.parseInt(sessionId.slice(0, 4), 16) < trailShare * 0x10000;

/** A session in which nothing goes wrong. */
interface QuietSession {
  readonly id: string;
  readonly release: DemoRelease;
  readonly person: Pick<DemoPerson, 'hasFlag' | 'home'>;
  /** Milliseconds since 1970. */
  readonly startedAt: number;
  readonly durationMs: number;
}

/** Lets somebody walk through the app for a while: home first, then what people open, each with what it asks for. */
export function drawActivity(
  random: Random,
  { quietScreens, screens, flag }: Pick<DemoApp, 'quietScreens' | 'screens' | 'flag'>,
  { id, release, person, startedAt, durationMs }: QuietSession,
): Activity & Pick<SessionItemInput, 'trail'> {
  const counts = new ActivityCounts();
  const trail: TrailEvent[] = [];
  const told = () => ({ ...counts.activity, ...(tellsTrail(id) && { trail }) });
  const after = (seconds: number) => new Date(startedAt + 1_000 * seconds).toISOString();
  const visit = (name: string, seconds: number) => {
    counts.visit(name);
    if (seconds > 0) trail.push({ kind: 'tap', at: after(seconds - 0.2), target: `open-${name}`, text: null });
    trail.push({ kind: 'screen', at: after(seconds), name });
  };
  const ask = (place: RequestPlace, status: number, durationMs: number, seconds: number) => {
    counts.ask(place, status, durationMs);
    trail.push({ kind: 'request', at: after(seconds), ...place, status, durationMs: Math.round(durationMs) });
  };
  visit('home', 0);
  const steps = Math.min(longestWalk, Math.floor(durationMs / 1_000 / secondsOfScreen));
  if (steps === 0) return told();
  const inRelease = new Set([...Object.keys(release.crashes), ...(release.kills ?? []), ...Object.keys(release.hangs ?? {})]);
  const choices = [
    ...Object.entries(quietScreens).map(([screen, visits]) => ({ screen, weight: visits })),
    ...Object.entries(screens)
      .filter(([screen]) => inRelease.has(screen) && (screen !== flag.screen || person.hasFlag))
      .map(([screen, { visits = usualVisits }]) => ({ screen, weight: visits })),
  ];
  for (let step = 0; step < steps; step++) {
    const { screen } = random.weighted(choices);
    const seconds = (step + 1) * secondsOfScreen;
    visit(screen, seconds - 10);
    const chance = random.next();
    if (chance < 0.4) {
      // One carrier has trouble to bring tiles along.
      const isLate = random.next() < (person.home.carrier === 'Skerry Telecom' ? 0.09 : 0.02);
      ask(tilesRequest, isLate ? 504 : 200, isLate ? 8_000 : spread(random, 180), seconds);
    } else if (chance < 0.6) {
      const { typicalMs, failing, ...request } = random.pick(otherRequests);
      const fails = random.next() < failing;
      ask({ host: 'api.larkfield.example', ...request }, fails ? 503 : 200, spread(random, typicalMs), seconds);
    }
  }
  return told();
}

const usualVisits = 3;

/** Durations have a long tail: most lie around the typical one, a few far above. */
const spread = (random: Random, typicalMs: number): number => typicalMs * 2 ** (3 * (random.next() + random.next() + random.next()) - 4.5);

class ActivityCounts {
  private readonly screens = new Map<string, number>();
  private readonly requests = new Map<string, { count: number; failed: number; durations: Map<number, number>; about: RequestPlace }>();

  visit(screen: string): void {
    this.screens.set(screen, (this.screens.get(screen) ?? 0) + 1);
  }

  ask({ method, host, path }: RequestPlace, status: number | null, durationMs: number): void {
    const name = `${method} ${host}${path}`;
    const one = this.requests.get(name) ?? { count: 0, failed: 0, durations: new Map<number, number>(), about: { method, host, path } };
    this.requests.set(name, one);
    one.count++;
    if (hasFailed(status)) one.failed++;
    const bucket = durationBucket(durationMs);
    one.durations.set(bucket, (one.durations.get(bucket) ?? 0) + 1);
  }

  get activity(): Activity {
    return {
      screens: [...this.screens].map(([name, visits]) => ({ name, visits })),
      requests: [...this.requests.values()].map(({ about, count, failed, durations }) => ({
        ...about,
        count,
        failed,
        durations: [...durations].map(([bucket, of]) => ({ bucket, count: of })),
      })),
    };
  }
}

interface RequestPlace {
  readonly method: string;
  readonly host: string;
  readonly path: string;
}
