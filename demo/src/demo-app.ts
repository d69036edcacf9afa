import { readFileSync } from 'node:fs';
import { dayMs, hourMs } from '@rough-ember/core/durations';
import type { FirstQuestion } from '@rough-ember/core/first-look/first-look';
import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import type { ReportInput } from '@rough-ember/core/report/report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import { Random } from './random.ts';

/** What goes wrong on a screen of an app. */
export interface DemoScreen {
  /** How often, against the other screens. */
  readonly weight: number;
  /** What the app makes of it. */
  readonly kind: ReportKind;
  /** How its frequency moves while a version is out; 0 keeps it. */
  readonly growth: number;
  /** It goes wrong as the app starts. */
  readonly atStart?: boolean;
  /** It goes wrong on this model alone, which has little memory. */
  readonly onlyOn?: string;
  /** How often people open it, against the other screens; seldom, if left out. */
  readonly visits?: number;
  /** How often tiles were late before it went wrong; as often as anywhere, if left out. */
  readonly afterLateTiles?: number;
  /** The screen from which so many come for whom it goes wrong; the others come from home. */
  readonly from?: { readonly screen: string; readonly share: number };
}

/** One released build: when it reached people, and what crashed in it. */
export interface DemoRelease {
  readonly version: string;
  readonly build: string;
  /** Days before now. */
  readonly days: number;
  /** How much of the app's use it takes at its height. */
  readonly share: number;
  /** The screens that crash in it, each with the file of its crash text as the system of that build wrote it. */
  readonly crashes: Readonly<Record<string, URL>>;
  /** The screens on which the system ends it, which leaves no stack. */
  readonly kills?: readonly string[];
  /** The screens on which the main thread waits for another one that stands still: the stacks of both, out of crash texts. */
  readonly hangs?: Readonly<Record<string, { readonly main: URL; readonly holder: URL }>>;
  /** Its symbol files; those without an id go with version and build. */
  readonly symbolFiles: readonly { readonly file: URL; readonly name: string; readonly carriesId: boolean }[];
}

/** An app of the demo, as it is set up at first start. */
export interface DemoApp {
  readonly app: {
    readonly slug: string;
    readonly name: string;
    readonly prefix: string;
    readonly platforms: readonly string[];
    readonly ourPackages: readonly string[];
  };
  readonly releases: readonly DemoRelease[];
  readonly screens: Readonly<Record<string, DemoScreen>>;
  /** Screens on which nothing goes wrong, with how often people open them. */
  readonly quietScreens: Readonly<Record<string, number>>;
  readonly devices: readonly DemoDevice[];
  /** A feature behind a flag, which some people have: its screen goes wrong for nobody else. */
  readonly flag: { readonly name: string; readonly screen: string };
  /** A case that was closed and came back: what crashes there, the version it was closed in, and days before now. */
  readonly cameBack?: { readonly where: string; readonly version: string; readonly days: number };
  /** Steps of its rollouts and changes of its flag, in days before now. */
  readonly rollouts: readonly DemoStep[];
  readonly flagChanges?: readonly { readonly days: number; readonly variant: string; readonly percent: number; readonly note: string }[];
  /** Folder of its sources under `demo/`, where they are kept by version or are the same for all. */
  readonly sources?: string;
  /** What a newcomer is asked, to find their way. */
  readonly firstLook?: readonly FirstQuestion[];
  /** Attributes that its people filter by. */
  readonly filterable: readonly string[];
  readonly reports: number;
  readonly installations: number;
  readonly seed: number;
}

export interface DemoStep {
  readonly version: string;
  readonly days: number;
  readonly percent: number;
  readonly action?: 'halt' | 'resume';
  readonly note?: string;
}

export interface DemoDevice {
  readonly osName: 'Android' | 'iOS';
  readonly manufacturer: string;
  readonly model: string;
  readonly os: readonly string[];
  readonly weight: number;
  /** Such as "2 GB". */
  readonly memoryClass: string;
}

const countries = [
  { country: 'GB', carrier: 'Estuary Mobile', weight: 6 },
  { country: 'IE', carrier: 'Skerry Telecom', weight: 3 },
  { country: 'DE', carrier: 'Wattfunk', weight: 2 },
  { country: 'NO', carrier: 'Fjordnett', weight: 1 },
] as const;

/** What every app of the family asks for, again and again. */
export const tilesRequest = { method: 'GET', host: 'tiles.larkfield.example', path: '/v2/{zoom}/{x}/{y}' } as const;

/** What the app noted before it went wrong, and how the device was at that moment. */
function circumstances(
  random: Random,
  {
    screen,
    at,
    flag,
    home: { country, carrier },
    hasFlag,
    afterLateTiles = 0.3,
    from,
  }: Pick<DemoPerson, 'home' | 'hasFlag'> &
    Pick<DemoScreen, 'afterLateTiles' | 'from'> & { screen: string; at: number; flag: DemoApp['flag'] },
) {
  const before = (seconds: number) => new Date(at - seconds * 1000).toISOString();
  const last = 0.4 + random.next() * 3;
  const slow = random.next() < afterLateTiles;
  const comesFrom = from !== undefined && new Random(at).next() < from.share ? from.screen : null;
  const trail: ReportInput['trail'] = [
    { kind: 'lifecycle', at: before(last + 40 + random.next() * 200), state: 'foreground' },
    { kind: 'screen', at: before(last + 30), name: 'home' },
    ...(comesFrom === null ? [] : [{ kind: 'screen' as const, at: before(last + 14), name: comesFrom }]),
    {
      kind: 'request',
      at: before(last + 12),
      ...tilesRequest,
      status: slow ? 504 : 200,
      durationMs: Math.round(slow ? 8000 : 90 + random.next() * 400),
    },
    { kind: 'tap', at: before(last + 2.2), target: `open-${screen}` },
    { kind: 'screen', at: before(last + 2), name: screen },
    {
      kind: 'log',
      at: before(last),
      level: slow ? 'warn' : 'info',
      message: slow ? 'tiles are late, the last ones are shown' : 'the screen is drawn',
    },
  ];
  return {
    trail,
    country,
    carrier,
    network: random.next() < 0.7 ? ('cellular' as const) : ('wifi' as const),
    locale: country === 'DE' ? 'de-DE' : country === 'NO' ? 'nb-NO' : 'en-GB',
    flags: { [flag.name]: hasFlag ? 'on' : 'off' },
    attributes: { 'map.layers': random.next() < 0.5 ? ['terrain', 'sightings'] : ['terrain'] },
  };
}

function readCrash(file: URL) {
  const read = readCrashFile(readFileSync(file), { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok || !read.value[0]) throw new Error(`the crash text ${file.pathname} cannot be read`);
  const { exceptions, threads, images } = read.value[0];
  return { exceptions, threads, images };
}

/** Somebody who has the app. */
export interface DemoPerson {
  readonly installationId: string;
  readonly personId: string | null;
  readonly device: { readonly manufacturer: string; readonly model: string; readonly memoryClass: string };
  readonly os: { readonly name: string; readonly version: string };
  readonly home: { readonly country: string; readonly carrier: string };
  readonly hasFlag: boolean;
  readonly weight: number;
  readonly slownessDays: number;
}

/** The people of an app; those of before stay who they are when more are asked for. */
export function demoPeople(random: Random, { devices, installations }: Pick<DemoApp, 'devices' | 'installations'>): DemoPerson[] {
  return Array.from({ length: installations }, (_, index) => {
    const device = random.weighted(devices);
    return {
      installationId: random.uuid(),
      personId: random.next() < 0.4 ? `warden-${index + 1}` : null,
      device: { manufacturer: device.manufacturer, model: device.model, memoryClass: device.memoryClass },
      home: random.weighted(countries),
      hasFlag: random.next() < 0.35,
      os: { name: device.osName, version: random.pick(device.os) },
      // A few people use the app every day, most now and then.
      weight: 1 / (1 + index / 8),
      // Some never update at once.
      slownessDays: random.next() ** 3 * 14,
    };
  });
}

/** How long the demo goes back. */
export const demoDays = 84;

/** A moment of use, in milliseconds: use grows a little over the weeks, and most of it is in the daytime. */
export function momentOfUse(random: Random, now: Date): number {
  const daysAgo = demoDays * (1 - Math.sqrt(random.next()));
  const midnight = Math.floor((now.getTime() - daysAgo * dayMs) / dayMs) * dayMs;
  return midnight + (6 + 7 * (random.next() + random.next())) * hourMs;
}

/** The release that somebody had at a moment; undefined before the first. */
export function releaseOf(
  random: Random,
  releases: readonly DemoRelease[],
  { at, now, slownessDays }: { at: number; now: Date; slownessDays: number },
): DemoRelease | undefined {
  const daysAgo = (now.getTime() - at) / dayMs;
  return releases.findLast((one) => daysAgo + (one === releases[0] ? 0 : slownessDays) < one.days && random.next() < one.share);
}

/** The reports of an app over the last twelve weeks, oldest first: the same for the same `now`. */
export function demoReports(demo: DemoApp, now: Date): ReportInput[] {
  const random = new Random(demo.seed);
  const people = demoPeople(random, demo);
  return drawReports(demo, { random, people, now, count: demo.reports, moment: () => momentOfUse(random, now) }).sort((a, b) =>
    a.occurredAt.localeCompare(b.occurredAt),
  );
}

/** Lets things go wrong for people at moments until there are so many reports. */
export function drawReports(
  { releases, screens, flag }: Pick<DemoApp, 'releases' | 'screens' | 'flag'>,
  { random, people, now, count, moment }: { random: Random; people: readonly DemoPerson[]; now: Date; count: number; moment: () => number },
): ReportInput[] {
  const reports: ReportInput[] = [];
  while (reports.length < count) {
    const person = random.weighted(people);
    const at = moment();
    const release = releaseOf(random, releases, { at, now, slownessDays: person.slownessDays });
    const id = random.uuid();
    const chance = random.next();
    if (!release || at > now.getTime()) continue;
    const choices = [...Object.keys(release.crashes), ...(release.kills ?? []), ...Object.keys(release.hangs ?? {})].map((screen) => {
      const { weight: usual, growth, onlyOn } = screens[screen] as DemoScreen;
      const isSpared = (screen === flag.screen && !person.hasFlag) || (onlyOn !== undefined && onlyOn !== person.device.model);
      const weight = isSpared ? 0 : usual;
      const age = Math.max(0, release.days - (now.getTime() - at) / dayMs) / 30;
      return { screen, weight: weight === 0 ? 0 : Math.max(0.2, weight * (1 + growth * age)) };
    });
    const total = choices.reduce((sum, one) => sum + one.weight, 0);
    // Fewer reports than moments: a version with few faults sends fewer.
    if (chance > total / 60) continue;
    const { screen } = random.weighted(choices);
    reports.push({
      id,
      kind: (screens[screen] as DemoScreen).kind,
      occurredAt: new Date(at).toISOString(),
      version: release.version,
      build: release.build,
      os: person.os,
      device: person.device,
      installationId: person.installationId,
      personId: person.personId,
      sessionId: sessionOfReport(id),
      ...(release.crashes[screen] ? crashOf(release.crashes[screen]) : {}),
      ...(release.hangs?.[screen] ? hangOf(release.hangs[screen]) : {}),
      ...circumstances(random, { ...screens[screen], screen, at, flag, home: person.home, hasFlag: person.hasFlag }),
    });
  }
  return reports;
}

/** The id of the session that a report of the demo belongs to. */
const sessionOfReport = (reportId: string): string => `5e551017${reportId.slice(8)}`;

const crashesRead = new Map<string, ReturnType<typeof readCrash>>();

/** What a build's program really printed, read the way an upload is, and once. */
function crashOf(file: URL): ReturnType<typeof readCrash> {
  const known = crashesRead.get(file.href) ?? readCrash(file);
  crashesRead.set(file.href, known);
  return known;
}

const holderId = 14;

/** A main thread that waits for a monitor, and the thread that has it; each stands where a crash text of the build has its frames. */
function hangOf({ main, holder }: { main: URL; holder: URL }): Pick<ReportInput, 'threads'> {
  const framesOf = (file: URL) => crashOf(file).exceptions[0]?.frames ?? [];
  return {
    threads: [
      { name: 'main', id: 1, crashed: true, state: 'Blocked', waitsFor: { what: 'a monitor', threadId: holderId }, frames: framesOf(main) },
      { name: 'plot-sync', id: holderId, state: 'Waiting', frames: framesOf(holder) },
    ],
  };
}
