import { readFileSync } from 'node:fs';
import { readCrashFile } from '@rough-ember/core/report/crash-file';
import type { ReportInput } from '@rough-ember/core/report/report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import { type GuideBuild, guideBuilds } from './guide-builds.ts';
import { Random } from './random.ts';

/** The demo's app, as it is set up at first start. */
export const larkfieldGuide = {
  slug: 'larkfield-guide',
  name: 'Larkfield Guide',
  prefix: 'LG',
  platforms: ['Android'],
  ourPackages: ['com.larkfield'],
} as const;

/** The build whose mapping is left out on purpose, ready to be dropped by a newcomer. */
export const buildWithoutMapping = guideBuilds.at(-1) as GuideBuild;

const folder = new URL('../larkfield-guide/builds/', import.meta.url);
export const mappingFile = (version: string): URL => new URL(`${version}/mapping.txt`, folder);

/** The library that identifies songs, with its debug information, in the builds that ship it. */
export const soundLibraries: readonly URL[] = guideBuilds
  .filter(({ nativeScreens }) => nativeScreens.length > 0)
  .map(({ version }) => new URL(`${version}/libsong.so`, folder));

/** When each version reached people, in days before now, and how much of the app's use it takes at its height. */
const releases = [
  { version: '4.1.0', days: 84, share: 1 },
  { version: '4.2.0', days: 47, share: 1 },
  { version: '4.3.0', days: 19, share: 0.9 },
  { version: '4.3.1', days: 5, share: 0.6 },
] as const;

/** How often each screen goes wrong; `kind` is what the app makes of it, `growth` how it moves while a version is out. */
const screens: Readonly<Record<string, { weight: number; kind: ReportKind; growth: number }>> = {
  'sighting-form': { weight: 7, kind: 'crash', growth: 0 },
  checklist: { weight: 5, kind: 'crash', growth: 0 },
  tides: { weight: 10, kind: 'error', growth: 0 },
  'track-import': { weight: 3, kind: 'crash', growth: 0 },
  'diary-export': { weight: 3, kind: 'crash', growth: 0 },
  species: { weight: 4, kind: 'crash', growth: 0 },
  settings: { weight: 6, kind: 'crash', growth: -0.6 },
  'night-map': { weight: 17, kind: 'crash', growth: 2.5 },
  song: { weight: 5, kind: 'crash', growth: 0.3 },
  'field-notes': { weight: 4, kind: 'crash', growth: 0.4 },
};

const devices = [
  { manufacturer: 'Brill', model: '6a', os: ['14', '15'], weight: 9 },
  { manufacturer: 'Brill', model: '7 Pro', os: ['15', '16'], weight: 6 },
  { manufacturer: 'Tarn', model: 'X2', os: ['13', '14'], weight: 7 },
  { manufacturer: 'Tarn', model: 'Go 3', os: ['12'], weight: 4 },
  { manufacturer: 'Fenwick', model: 'Note 9', os: ['13', '14'], weight: 5 },
  { manufacturer: 'Oakley Dale', model: 'OD-40', os: ['12', '13'], weight: 2 },
] as const;

const dayMs = 86_400_000;

const countries = [
  { country: 'GB', carrier: 'Estuary Mobile', weight: 6 },
  { country: 'IE', carrier: 'Skerry Telecom', weight: 3 },
  { country: 'DE', carrier: 'Wattfunk', weight: 2 },
  { country: 'NO', carrier: 'Fjordnett', weight: 1 },
] as const;

/** What the app noted before it went wrong, and how the device was at that moment. */
function circumstances(random: Random, { screen, at, nightMap }: { screen: string; at: number; nightMap: boolean }) {
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
    flags: { 'night-map': nightMap || random.next() < 0.4 ? 'on' : 'off' },
    attributes: { screen, 'map.layers': random.next() < 0.5 ? ['terrain', 'sightings'] : ['terrain'] },
  };
}

/** Crashes of a screen, read from what the obfuscated program of that build printed. */
function crashOf(version: string, screen: string) {
  const read = readCrashFile(readFileSync(new URL(`${version}/crashes/${screen}.txt`, folder)), { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok || !read.value[0]) throw new Error(`the crash text of ${screen} in ${version} cannot be read`);
  return read.value[0];
}

/**
 * The reports of Larkfield Guide over the last twelve weeks, oldest first: the same for the same seed and `now`.
 */
export function larkfieldReports(now: Date, { seed = 4310, count = 420, installations = 64 } = {}): ReportInput[] {
  const random = new Random(seed);
  const people = Array.from({ length: installations }, (_, index) => {
    const device = random.weighted(devices);
    return {
      installationId: random.uuid(),
      personId: random.next() < 0.4 ? `warden-${index + 1}` : null,
      device: { manufacturer: device.manufacturer, model: device.model },
      os: { name: 'Android', version: random.pick(device.os) },
      // A few people use the guide every day, most now and then.
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
    const build = guideBuilds.find((one) => one.version === release?.version);
    const id = random.uuid();
    const chance = random.next();
    if (!release || !build || at > now.getTime()) continue;
    const choices = [...build.screens, ...build.nativeScreens].map((screen) => {
      const { weight, growth } = screens[screen] as (typeof screens)[string];
      const age = Math.max(0, (release.days - daysAgo) / 30);
      return { screen, weight: Math.max(0.2, weight * (1 + growth * age)) };
    });
    const total = choices.reduce((sum, one) => sum + one.weight, 0);
    // Fewer reports than moments: a version with few faults sends fewer.
    if (chance > total / 60) continue;
    const { screen } = random.weighted(choices);
    const { exceptions, threads } = crashOf(build.version, screen);
    reports.push({
      id,
      kind: (screens[screen] as (typeof screens)[string]).kind,
      occurredAt: new Date(at).toISOString(),
      version: build.version,
      build: build.build,
      os: person.os,
      device: person.device,
      installationId: person.installationId,
      personId: person.personId,
      exceptions,
      threads,
      ...circumstances(random, { screen, at, nightMap: screen === 'night-map' }),
    });
  }
  return reports.sort((a, b) => a.occurredAt.localeCompare(b.occurredAt));
}
