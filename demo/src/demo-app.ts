import { readFileSync } from 'node:fs';
import { readCrashFile } from '@rough-ember/core/report/crash-file';
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
  readonly devices: readonly DemoDevice[];
  /** A feature behind a flag: on wherever its screen goes wrong, and for some others. */
  readonly flag: { readonly name: string; readonly screen: string };
  readonly reports: number;
  readonly installations: number;
  readonly seed: number;
}

export interface DemoDevice {
  readonly osName: 'Android' | 'iOS';
  readonly manufacturer: string;
  readonly model: string;
  readonly os: readonly string[];
  readonly weight: number;
}

const dayMs = 86_400_000;

const countries = [
  { country: 'GB', carrier: 'Estuary Mobile', weight: 6 },
  { country: 'IE', carrier: 'Skerry Telecom', weight: 3 },
  { country: 'DE', carrier: 'Wattfunk', weight: 2 },
  { country: 'NO', carrier: 'Fjordnett', weight: 1 },
] as const;

/** What the app noted before it went wrong, and how the device was at that moment. */
function circumstances(random: Random, { screen, at, flag }: { screen: string; at: number; flag: DemoApp['flag'] }) {
  const { country, carrier } = random.weighted(countries);
  const before = (seconds: number) => new Date(at - seconds * 1000).toISOString();
  const last = 0.4 + random.next() * 3;
  const slow = random.next() < 0.3;
  const trail: ReportInput['trail'] = [
    { kind: 'lifecycle', at: before(last + 40 + random.next() * 200), state: 'foreground' },
    { kind: 'screen', at: before(last + 30), name: 'home' },
    {
      kind: 'request',
      at: before(last + 12),
      method: 'GET',
      host: 'tiles.larkfield.example',
      path: '/v2/{zoom}/{x}/{y}',
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
    flags: { [flag.name]: screen === flag.screen || random.next() < 0.4 ? 'on' : 'off' },
    attributes: { screen, 'map.layers': random.next() < 0.5 ? ['terrain', 'sightings'] : ['terrain'] },
  };
}

/** What a build's program really printed, read the way an upload is. */
function crashOf(file: URL) {
  const read = readCrashFile(readFileSync(file), { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok || !read.value[0]) throw new Error(`the crash text ${file.pathname} cannot be read`);
  const { exceptions, threads, images } = read.value[0];
  return { exceptions, threads, images };
}

/** The reports of an app over the last twelve weeks, oldest first: the same for the same `now`. */
export function demoReports({ releases, screens, devices, flag, reports: count, installations, seed }: DemoApp, now: Date): ReportInput[] {
  const random = new Random(seed);
  const people = Array.from({ length: installations }, (_, index) => {
    const device = random.weighted(devices);
    return {
      installationId: random.uuid(),
      personId: random.next() < 0.4 ? `warden-${index + 1}` : null,
      device: { manufacturer: device.manufacturer, model: device.model },
      os: { name: device.osName, version: random.pick(device.os) },
      // A few people use the app every day, most now and then.
      weight: 1 / (1 + index / 8),
      // Some never update at once.
      slownessDays: random.next() ** 3 * 14,
    };
  });

  const reports: ReportInput[] = [];
  while (reports.length < count) {
    const person = random.weighted(people);
    // Use grows a little over the weeks; most of it in the daytime.
    const daysAgo = 84 * (1 - Math.sqrt(random.next()));
    const midnight = Math.floor((now.getTime() - daysAgo * dayMs) / dayMs) * dayMs;
    const at = midnight + (6 + 7 * (random.next() + random.next())) * 3_600_000;
    const release = releases.findLast(
      (one) => daysAgo + (one === releases[0] ? 0 : person.slownessDays) < one.days && random.next() < one.share,
    );
    const id = random.uuid();
    const chance = random.next();
    if (!release || at > now.getTime()) continue;
    const choices = Object.keys(release.crashes).map((screen) => {
      const { weight, growth } = screens[screen] as DemoScreen;
      const age = Math.max(0, (release.days - daysAgo) / 30);
      return { screen, weight: Math.max(0.2, weight * (1 + growth * age)) };
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
      ...crashOf(release.crashes[screen] as URL),
      ...circumstances(random, { screen, at, flag }),
    });
  }
  return reports.sort((a, b) => a.occurredAt.localeCompare(b.occurredAt));
}
