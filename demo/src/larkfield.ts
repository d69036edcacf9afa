import type { ReportInput } from '@rough-ember/core/report/report';
import { type DemoApp, type DemoDevice, type DemoRelease, type DemoStep, demoReports } from './demo-app.ts';
import { demoFolder } from './demo-folder.ts';
import { guideFirstLook } from './first-look.ts';
import { type GuideBuild, guideBuilds } from './guide-builds.ts';

export const phones: readonly DemoDevice[] = [
  { osName: 'Android', manufacturer: 'Brill', model: '6a', memoryClass: '8 GB', os: ['14', '15'], weight: 9 },
  { osName: 'Android', manufacturer: 'Brill', model: '7 Pro', memoryClass: '12 GB', os: ['15', '16'], weight: 6 },
  { osName: 'Android', manufacturer: 'Tarn', model: 'X2', memoryClass: '6 GB', os: ['13', '14'], weight: 7 },
  { osName: 'Android', manufacturer: 'Tarn', model: 'Go 3', memoryClass: '2 GB', os: ['12'], weight: 4 },
  { osName: 'Android', manufacturer: 'Fenwick', model: 'Note 9', memoryClass: '6 GB', os: ['13', '14'], weight: 5 },
  { osName: 'Android', manufacturer: 'Oakley Dale', model: 'OD-40', memoryClass: '4 GB', os: ['12', '13'], weight: 2 },
];
const applePhones: readonly DemoDevice[] = [
  { osName: 'iOS', manufacturer: 'Apple', model: 'iPhone14,2', memoryClass: '6 GB', os: ['17.5.1', '18.1'], weight: 8 },
  { osName: 'iOS', manufacturer: 'Apple', model: 'iPhone15,4', memoryClass: '6 GB', os: ['18.1', '18.2'], weight: 6 },
  { osName: 'iOS', manufacturer: 'Apple', model: 'iPhone12,8', memoryClass: '3 GB', os: ['16.7', '17.5.1'], weight: 3 },
  { osName: 'iOS', manufacturer: 'Apple', model: 'iPad13,18', memoryClass: '4 GB', os: ['17.5.1'], weight: 2 },
];

/** The build whose mapping is left out on purpose, ready to be dropped by a newcomer. */
export const buildWithoutMapping = guideBuilds.at(-1) as GuideBuild;

const guideFolder = new URL('larkfield-guide/builds/', demoFolder);
export const mappingFile = (version: string): URL => new URL(`${version}/mapping.txt`, guideFolder);

/** When each build of the guide reached people, in days before now, and how much of its use it takes at its height. */
const guideRollout: Readonly<Record<string, Pick<DemoRelease, 'days' | 'share'>>> = {
  '4.1.0': { days: 84, share: 1 },
  '4.2.0': { days: 47, share: 1 },
  '4.3.0': { days: 19, share: 0.9 },
  '4.3.1': { days: 5, share: 0.6 },
};

/** A rollout as most of them go: a few people, then more, then everybody within four days. */
const staged = (version: string, days: number): DemoStep[] => [
  { version, days, percent: 5 },
  { version, days: days - 1.5, percent: 30 },
  { version, days: days - 4, percent: 100 },
];

export const larkfieldGuide: DemoApp = {
  app: { slug: 'larkfield-guide', name: 'Larkfield Guide', prefix: 'LG', platforms: ['Android'], ourPackages: ['com.larkfield'] },
  releases: guideBuilds.map((one) => {
    const { version, build, screens, nativeScreens } = one;
    return {
      ...(guideRollout[version] as Pick<DemoRelease, 'days' | 'share'>),
      version,
      build,
      crashes: crashFiles(new URL(`${version}/`, guideFolder), [...screens, ...nativeScreens], 'txt'),
      kills: ['photo-review'],
      symbolFiles: [
        ...(one === buildWithoutMapping ? [] : [{ file: mappingFile(version), name: 'mapping.txt', carriesId: false }]),
        ...(nativeScreens.length > 0 ? [{ file: new URL(`${version}/libsong.so`, guideFolder), name: 'libsong.so', carriesId: true }] : []),
      ],
    };
  }),
  screens: {
    'sighting-form': { weight: 7, kind: 'crash', growth: 0, visits: 12, from: { screen: 'search', share: 0.6 } },
    checklist: { weight: 5, kind: 'crash', growth: 0, visits: 7 },
    'photo-review': { weight: 9, kind: 'kill', growth: 0.2, onlyOn: 'Go 3', visits: 5 },
    tides: { weight: 60, kind: 'error', growth: 0, visits: 8 },
    'track-import': { weight: 3, kind: 'crash', growth: 0 },
    'diary-export': { weight: 16, kind: 'crash', growth: 0, onlyOn: 'Go 3' },
    species: { weight: 4, kind: 'crash', growth: 0, visits: 14 },
    settings: { weight: 6, kind: 'crash', growth: -0.6, atStart: true },
    'night-map': { weight: 30, kind: 'crash', growth: 2.5, visits: 9, afterLateTiles: 0.86, from: { screen: 'map', share: 0.85 } },
    song: { weight: 5, kind: 'crash', growth: 0.3, visits: 9 },
    'field-notes': { weight: 4, kind: 'crash', growth: 0.4 },
  },
  quietScreens: { home: 10, search: 8, map: 16, diary: 5, 'bird-of-the-day': 3 },
  devices: phones,
  flag: { name: 'night-map', screen: 'night-map' },
  rollouts: [
    ...staged('4.1.0', 84),
    ...staged('4.2.0', 47),
    ...staged('4.3.0', 19),
    { version: '4.3.1', days: 5, percent: 5 },
    { version: '4.3.1', days: 4, percent: 20, note: 'Crashes of the night map are to be cured.' },
    { version: '4.3.1', days: 2.5, percent: 20, action: 'halt', note: 'The night map still crashes, and its mapping is missing.' },
  ],
  flagChanges: [
    { days: 18, variant: 'on', percent: 10, note: 'The night map for a few.' },
    { days: 12, variant: 'on', percent: 35, note: 'The night map for a third.' },
  ],
  cameBack: { where: 'SightingStore.write', version: '4.3.0', days: 15 },
  sources: 'larkfield-guide/sources/{version}',
  firstLook: guideFirstLook,
  filterable: ['map.layers'],
  reports: 900,
  installations: 260,
  seed: 4310,
};

const folderOf = (app: string, version: string): URL => new URL(`${app}/builds/${version}/`, demoFolder);

function crashFiles(folder: URL, screens: readonly string[], ending: string): Record<string, URL> {
  return Object.fromEntries(screens.map((screen) => [screen, new URL(`crashes/${screen}.${ending}`, folder)]));
}

/** A release whose files lie in the folder of its version. */
function release(
  app: string,
  { version, build, days, share }: Pick<DemoRelease, 'version' | 'build' | 'days' | 'share'>,
  { screens, ending = 'txt', files }: { screens: readonly string[]; ending?: string; files: Readonly<Record<string, boolean>> },
): DemoRelease {
  const folder = folderOf(app, version);
  const symbolFiles = Object.entries(files).map(([path, carriesId]) => ({
    file: new URL(path, folder),
    name: path.replace(/^.*\//, ''),
    carriesId,
  }));
  return { version, build, days, share, crashes: crashFiles(folder, screens, ending), symbolFiles };
}

const guideForIos: DemoApp = {
  app: { slug: 'larkfield-guide-ios', name: 'Larkfield Guide for iOS', prefix: 'LI', platforms: ['iOS'], ourPackages: [] },
  releases: [
    release(
      'larkfield-guide-ios',
      { version: '3.1.0', build: '310', days: 84, share: 1 },
      { screens: ['nest-map', 'song'], ending: 'ips', files: { 'Guide.app.dSYM/Contents/Resources/DWARF/Guide': true } },
    ),
    release(
      'larkfield-guide-ios',
      { version: '3.2.0', build: '320', days: 23, share: 0.9 },
      { screens: ['nest-map', 'song', 'sighting-upload'], ending: 'ips', files: { 'Guide.app.dSYM/Contents/Resources/DWARF/Guide': true } },
    ),
  ],
  screens: {
    'nest-map': { weight: 9, kind: 'crash', growth: 0 },
    song: { weight: 4, kind: 'crash', growth: 0.2 },
    'sighting-upload': { weight: 14, kind: 'crash', growth: 1 },
  },
  quietScreens: { home: 10, search: 6, map: 12 },
  devices: applePhones,
  rollouts: [...staged('3.1.0', 84), ...staged('3.2.0', 23)],
  flag: { name: 'quick-upload', screen: 'sighting-upload' },
  sources: 'larkfield-guide-ios/sources',
  filterable: ['map.layers'],
  reports: 150,
  installations: 38,
  seed: 310,
};

const feederCam: DemoApp = {
  app: { slug: 'feeder-cam', name: 'Feeder Cam', prefix: 'FC', platforms: ['Android', 'iOS'], ourPackages: [] },
  releases: [
    release(
      'feeder-cam',
      { version: '2.8.0', build: '280', days: 84, share: 1 },
      { screens: ['gallery', 'live', 'schedule'], files: { 'index.android.bundle.map': false } },
    ),
    release(
      'feeder-cam',
      { version: '2.9.0', build: '290', days: 31, share: 0.8 },
      { screens: ['gallery', 'live', 'schedule', 'birds'], files: { 'index.android.bundle.map': false } },
    ),
  ],
  screens: {
    gallery: { weight: 8, kind: 'crash', growth: 0 },
    live: { weight: 24, kind: 'error', growth: 0 },
    schedule: { weight: 5, kind: 'crash', growth: -0.3 },
    birds: { weight: 9, kind: 'crash', growth: 0.5 },
  },
  quietScreens: { home: 10, feeders: 8 },
  devices: [...phones, ...applePhones],
  rollouts: [...staged('2.8.0', 84), ...staged('2.9.0', 31)],
  flag: { name: 'seed-plan', screen: 'birds' },
  filterable: ['map.layers'],
  reports: 130,
  installations: 41,
  seed: 280,
};

const trails: DemoApp = {
  app: { slug: 'trails', name: 'Trails', prefix: 'TR', platforms: ['Android', 'iOS'], ourPackages: [] },
  releases: [
    release(
      'trails',
      { version: '1.6.0', build: '160', days: 84, share: 1 },
      { screens: ['recording', 'offline-map'], files: { 'app.android-arm64.symbols': true, 'obfuscation-map.json': false } },
    ),
    release(
      'trails',
      { version: '1.7.0', build: '170', days: 26, share: 0.85 },
      { screens: ['recording', 'offline-map', 'share'], files: { 'app.android-arm64.symbols': true, 'obfuscation-map.json': false } },
    ),
  ],
  screens: {
    recording: { weight: 7, kind: 'crash', growth: 0 },
    'offline-map': { weight: 26, kind: 'error', growth: 0.2 },
    share: { weight: 8, kind: 'crash', growth: 0 },
  },
  quietScreens: { home: 10, 'my-trails': 7, map: 12 },
  devices: phones,
  rollouts: [...staged('1.6.0', 84), ...staged('1.7.0', 26)],
  flag: { name: 'share-sheet', screen: 'share' },
  filterable: ['map.layers'],
  reports: 90,
  installations: 27,
  seed: 160,
};

const survey: DemoApp = {
  app: { slug: 'wardens-survey', name: "Wardens' Survey", prefix: 'WS', platforms: ['Android'], ourPackages: ['Larkfield.Survey'] },
  releases: [
    release(
      'wardens-survey',
      { version: '2.5.0', build: '250', days: 84, share: 1 },
      { screens: ['plot', 'summary', 'save'], files: { 'Larkfield.Survey.dll': true, 'Larkfield.Survey.pdb': true } },
    ),
    {
      ...release(
        'wardens-survey',
        { version: '2.6.0', build: '260', days: 38, share: 0.9 },
        { screens: ['plot', 'summary', 'save', 'calendar'], files: { 'Larkfield.Survey.dll': true, 'Larkfield.Survey.pdb': true } },
      ),
      hangs: {
        'plot-sync': {
          main: new URL('crashes/plot.txt', folderOf('wardens-survey', '2.6.0')),
          holder: new URL('crashes/save.txt', folderOf('wardens-survey', '2.6.0')),
        },
      },
    },
  ],
  screens: {
    plot: { weight: 8, kind: 'crash', growth: 0 },
    summary: { weight: 3, kind: 'crash', growth: 0 },
    save: { weight: 22, kind: 'error', growth: 0 },
    calendar: { weight: 6, kind: 'crash', growth: 0.2 },
    'plot-sync': { weight: 9, kind: 'hang', growth: 0.4 },
  },
  quietScreens: { home: 10, plots: 6 },
  devices: phones,
  rollouts: [...staged('2.5.0', 84), ...staged('2.6.0', 38)],
  flag: { name: 'calendar', screen: 'calendar' },
  sources: 'wardens-survey/sources',
  filterable: ['map.layers'],
  reports: 110,
  installations: 22,
  seed: 250,
};

/** All apps of the family; the first is where a newcomer begins. */
export const larkfieldApps: readonly DemoApp[] = [larkfieldGuide, guideForIos, feederCam, trails, survey];

/** Sessions of the demo at which it has the reports that each app names; more sessions, more reports. */
const sessionsOfFewReports = 33_000;

/** An app of the demo at another size: `sessions` are those of the whole family, the result says how many are of this app. */
export function demoOfSize(demo: DemoApp, sessions: number): { readonly demo: DemoApp; readonly sessions: number } {
  const factor = Math.max(1, sessions / sessionsOfFewReports);
  const all = larkfieldApps.reduce((sum, one) => sum + one.reports, 0);
  return {
    demo: { ...demo, reports: Math.round(demo.reports * factor), installations: Math.round(demo.installations * factor) },
    sessions: Math.round((sessions * demo.reports) / all),
  };
}

/** The reports of Larkfield Guide, or of more people than the demo has. */
export const larkfieldReports = (now: Date, more: Partial<{ seed: number; count: number; installations: number }> = {}): ReportInput[] => {
  const { count = larkfieldGuide.reports, ...rest } = more;
  return demoReports({ ...larkfieldGuide, ...rest, reports: count }, now);
};
