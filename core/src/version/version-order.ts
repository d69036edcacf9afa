/**
 * The order of version names, by number and not by letter: 4.2.0 < 4.10.0, 4.3.0-beta.2 < 4.3.0.
 *
 * Follows Semantic Versioning 2.0.0 §11 where a name is one, and extends it to any count of dotted parts:
 * missing parts count as 0, a `v` in front and `+metadata` behind are ignored.
 */

interface ParsedVersion {
  readonly parts: readonly (number | string)[];
  readonly preRelease: readonly (number | string)[];
}

const identifiers = (text: string): (number | string)[] =>
  text.split(/[._-]/).map((part) => (/^\d{1,15}$/.test(part) ? Number(part) : part.toLowerCase()));

function parseVersion(version: string): ParsedVersion {
  const name = version
    .trim()
    .replace(/^v(?=\d)/i, '')
    .replace(/\+.*$/, '');
  const cut = name.search(/[-_ ]|(?<=\d)(?=[a-z])/i);
  if (cut < 0) return { parts: identifiers(name), preRelease: [] };
  return { parts: identifiers(name.slice(0, cut)), preRelease: identifiers(name.slice(cut).replace(/^[-_ ]/, '')) };
}

/** Numbers are padded so that they sort as text; numbers come before words (SemVer §11.4.3). */
const sortableIdentifier = (part: number | string): string =>
  typeof part === 'number' ? `0${String(part).padStart(15, '0')}` : `1${part}`;

/**
 * A text for which plain byte order is version order, to be stored beside a version and compared by the database.
 *
 * @example versionSortKey('4.2.0') < versionSortKey('4.10.0')
 */
export function versionSortKey(version: string): string {
  const known = knownKeys.get(version);
  if (known !== undefined) return known;
  if (knownKeys.size >= mostKnownKeys) knownKeys.clear();
  const key = makeSortKey(version);
  knownKeys.set(version, key);
  return key;
}

/** An app has few versions, and they are compared again and again. */
const knownKeys = new Map<string, string>();
const mostKnownKeys = 2_000;

function makeSortKey(version: string): string {
  const { parts, preRelease } = parseVersion(version);
  while (parts.length > 1 && parts.at(-1) === 0) (parts as (number | string)[]).pop();
  const main = parts.map(sortableIdentifier).join('.');
  // "!" sorts before "." (a longer version) and marks a pre-release, which comes before its release ("#").
  return preRelease.length > 0 ? `${main}!${preRelease.map(sortableIdentifier).join('.')}` : `${main}#`;
}

/** Negative when `a` is the older version, positive when it is the newer one, 0 when they are the same. */
export function compareVersions(a: string, b: string): number {
  const left = versionSortKey(a);
  const right = versionSortKey(b);
  return left < right ? -1 : left > right ? 1 : 0;
}

/** Whether two names mean the same version, as `v4.3` and `4.3.0` do. */
export const isSameVersion = (a: string, b: string): boolean => versionSortKey(a) === versionSortKey(b);

/** Names of versions, oldest first, of those that mean the same the first that is given. */
export function distinctVersions(names: readonly string[]): string[] {
  const byKey = new Map([...names].reverse().map((name) => [versionSortKey(name), name]));
  return [...byKey.values()].sort(compareVersions);
}

/** The version that most likely follows: the last number counted up, or the release that a pre-release is for, as `4.3.1` for `4.3.1-rc.2`. */
export function nextVersion(version: string): string {
  const released = /^([^-]*\d)-/.exec(version)?.[1];
  if (released !== undefined) return released;
  return version.replace(/(\d+)(?!.*\d)/, (digits) => String(BigInt(digits) + 1n));
}

/** Whether a version came before a release, as `4.3.1-rc.2` does. */
export const isPreRelease = (version: string): boolean => parseVersion(version).preRelease.length > 0;
