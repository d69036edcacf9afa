import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { demoFolder } from './demo-folder.ts';

const sources = fileURLToPath(new URL('larkfield-guide/sources/', demoFolder));
const sound = fileURLToPath(new URL('larkfield-guide/sound/', demoFolder));

/** Who wrote the guide. */
const authors = {
  perdita: 'Perdita <perdita@larkfield.example>',
  tom: 'Tom <tom@larkfield.example>',
  wren: 'Wren <wren@larkfield.example>',
} as const;

interface HistoryCommit {
  readonly by: keyof typeof authors;
  /** Days before its version came out. */
  readonly daysBefore: number;
  readonly subject: string;
  /** Files as they are in the version, by what their paths begin with; or another text of one. */
  readonly files: readonly (string | { readonly path: string; readonly text: string })[];
}

const guide = 'com/larkfield/guide';
const textOf = (version: string, path: string): string => readFileSync(join(sources, version, guide, path), 'utf8');

/** A file as it was before a later commit of its version put something in place of a part of it. */
function earlier(version: string, path: string, later: string, before: string): { path: string; text: string } {
  const text = textOf(version, path);
  if (!text.includes(later)) throw new Error(`${version} of ${path} does not hold "${later}"`);
  return { path: `${guide}/${path}`, text: text.replace(later, before) };
}

const owners = `# Who looks after what
*                                 perdita@larkfield.example
/com/larkfield/guide/map/         wren@larkfield.example
/sound/                           wren@larkfield.example
/com/larkfield/guide/sightings/   perdita@larkfield.example tom@larkfield.example
`;

/** The library that listens, which lies beside the sources of each version. */
const nativeSources = (): { path: string; text: string }[] =>
  filesBelow(sound)
    .filter((path) => /\.[ch]pp$/.test(path))
    .map((path) => ({ path: `sound/${path}`, text: readFileSync(join(sound, path), 'utf8') }));

/** The history of the guide: which commits brought what its cases are about can be read here. */
const history = (): readonly { readonly version: string; readonly commits: readonly HistoryCommit[] }[] => [
  {
    version: '4.1.0',
    commits: [
      { by: 'perdita', daysBefore: 40, subject: 'Begin the guide', files: ['text/', { path: 'CODEOWNERS', text: owners }] },
      { by: 'wren', daysBefore: 31, subject: 'Keep sightings in a diary', files: ['sightings/'] },
      { by: 'tom', daysBefore: 16, subject: 'Take in tracks of other devices', files: ['tracks/'] },
      { by: 'perdita', daysBefore: 9, subject: 'Tell the tides', files: ['tides/'] },
      { by: 'perdita', daysBefore: 1, subject: 'Put all screens together', files: ['Guide.java'] },
    ],
  },
  {
    version: '4.2.0',
    commits: [
      { by: 'tom', daysBefore: 20, subject: 'Walk through a checklist without a cursor', files: ['sightings/'] },
      { by: 'wren', daysBefore: 11, subject: 'Let people look for species', files: ['species/'] },
      { by: 'perdita', daysBefore: 5, subject: 'Read the settings at the start', files: ['settings/'] },
      { by: 'perdita', daysBefore: 1, subject: 'Show the species on the first screen', files: ['Guide.java'] },
    ],
  },
  {
    version: '4.3.0',
    commits: [
      {
        by: 'wren',
        daysBefore: 18,
        subject: 'Draw the map in dark colours at night',
        files: [
          'map/MapLayer.java',
          'map/MapScreen.java',
          'map/TileCache.java',
          earlier(
            '4.3.0',
            'map/NightMap.java',
            'String tile = Require.present(cache.peek(key(zoom, x, y)), "tile");',
            'String tile = cache.peek(key(zoom, x, y));\n        if (tile == null) {\n            return "blank";\n        }',
          ),
        ],
      },
      { by: 'wren', daysBefore: 15, subject: 'Tell birds by their songs, in C++', files: nativeSources() },
      {
        by: 'perdita',
        daysBefore: 12,
        subject: 'Take notes on a walk',
        files: [earlier('4.3.0', 'notes/FieldNotes.java', 'for (String note : notes) {', 'for (String note : new ArrayList<>(notes)) {')],
      },
      { by: 'wren', daysBefore: 9, subject: 'Write sightings only when they changed', files: ['sightings/'] },
      { by: 'perdita', daysBefore: 6, subject: 'Read old settings, too', files: ['settings/'] },
      { by: 'wren', daysBefore: 4, subject: 'Tidy notes without a copy of all of them', files: ['notes/'] },
      { by: 'tom', daysBefore: 2, subject: 'Trust the cache to hold what the day map has drawn', files: ['map/NightMap.java'] },
      { by: 'perdita', daysBefore: 1, subject: 'Show the night map and the notes', files: ['Guide.java'] },
    ],
  },
  {
    version: '4.3.1',
    commits: [
      { by: 'tom', daysBefore: 3, subject: 'Count the tiles of the night map', files: ['map/'] },
      { by: 'wren', daysBefore: 2, subject: 'Tell of rare birds', files: ['alerts/'] },
      { by: 'wren', daysBefore: 1.5, subject: 'Number the notes', files: ['notes/'] },
      { by: 'perdita', daysBefore: 1, subject: 'Show what is rare on the first screen', files: ['Guide.java'] },
    ],
  },
];

/** The history as `git fast-import` reads it. `cameOut` are the days before `now` on which versions came out. */
function fastImportOf(cameOut: Readonly<Record<string, number>>, now: number): string {
  const out: string[] = [];
  for (const { version, commits } of history()) {
    const paths = filesBelow(join(sources, version));
    for (const { by, daysBefore, subject, files } of commits) {
      const at = Math.floor((now - ((cameOut[version] ?? 0) + daysBefore) * 86_400_000) / 1_000);
      out.push('commit refs/heads/main', `author ${authors[by]} ${at} +0000`, `committer ${authors[by]} ${at} +0000`, dataOf(subject));
      for (const file of files) {
        const written =
          typeof file === 'string'
            ? paths
                .filter((path) => path.startsWith(`${guide}/${file}`))
                .map((path) => ({ path, text: readFileSync(join(sources, version, path), 'utf8') }))
            : [file];
        for (const { path, text } of written) out.push(`M 100644 inline ${path}`, dataOf(text));
      }
      out.push('');
    }
    out.push(`reset refs/tags/v${version}`, 'from refs/heads/main', '');
  }
  return `${out.join('\n')}\n`;
}

const dataOf = (text: string): string => `data ${Buffer.byteLength(text)}\n${text}`;

const filesBelow = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => relative(folder, join(entry.parentPath, entry.name)))
    .sort();

/**
 * Makes the git repository of the guide's sources in a folder that is not there yet; false where there is no git. `cameOut` says how many days ago
 * each version came out.
 */
export function buildGuideHistory(folder: string, cameOut: Readonly<Record<string, number>>, now = Date.now()): boolean {
  const making = `${folder}.making`;
  rmSync(making, { recursive: true, force: true });
  mkdirSync(dirname(folder), { recursive: true });
  const environment = { ...process.env, GIT_CONFIG_NOSYSTEM: '1', GIT_CONFIG_GLOBAL: '/dev/null' };
  const git = (parameters: readonly string[], input?: string) =>
    spawnSync('git', parameters, { env: environment, ...(input === undefined ? {} : { input }) });
  if (git(['init', '--quiet', '--bare', '--initial-branch=main', making]).status !== 0) return false;
  const imported = git(['-C', making, 'fast-import', '--quiet'], fastImportOf(cameOut, now));
  if (imported.status !== 0) throw new Error(`the history of the guide could not be made: ${imported.stderr}`);
  rmSync(folder, { recursive: true, force: true });
  renameSync(making, folder);
  return true;
}
