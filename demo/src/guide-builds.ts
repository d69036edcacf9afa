/** One released build of Larkfield Guide: its crash texts and symbol files lie in `larkfield-guide/builds/<version>`. */
export interface GuideBuild {
  readonly version: string;
  readonly build: string;
  /** The screens that crash in this version; each names a file in `crashes` and in `expected`. */
  readonly screens: readonly string[];
  /** The same for crashes in the C++ library, which has no obfuscation mapping but debug information. */
  readonly nativeScreens: readonly string[];
}

export const guideBuilds: readonly GuideBuild[] = [
  { version: '4.1.0', build: '410', screens: ['sighting-form', 'checklist', 'tides', 'track-import', 'diary-export'], nativeScreens: [] },
  {
    version: '4.2.0',
    build: '420',
    screens: ['sighting-form', 'tides', 'track-import', 'diary-export', 'species', 'settings'],
    nativeScreens: [],
  },
  {
    version: '4.3.0',
    build: '430',
    screens: ['sighting-form', 'tides', 'track-import', 'species', 'night-map', 'field-notes'],
    nativeScreens: ['song'],
  },
  { version: '4.3.1', build: '431', screens: ['sighting-form', 'tides', 'species', 'night-map'], nativeScreens: ['song'] },
];
