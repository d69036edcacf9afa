import { dayMs, hourMs } from '../durations.ts';
import { wordCount } from '../words/count.ts';
import type { Commit } from './commit-log.ts';

/** A frame of ours whose source is known, and the commits of the range that changed it. */
export interface FrameChanges {
  /** 0 is the culprit, the frame that one would open first. */
  readonly depth: number;
  /** `NightMap.tileFor` */
  readonly function: string;
  readonly path: string;
  /** Hashes of commits of the range that changed lines of the function, the newest first. */
  readonly changedFunction: readonly string[];
  /** Hash of the commit that changed the very line last, be it in the range or before it; null when not known. */
  readonly changedLine: string | null;
}

/** A commit that may have brought a case. */
export interface LikelyChange {
  readonly hash: string;
  readonly authorName: string;
  readonly authorEmail: string;
  readonly at: string;
  readonly subject: string;
  /** Why it may be it: "changed `NightMap.tileFor`, line 14, 2 days before 4.3.0". */
  readonly reason: string;
}

const shown = 5;
const worth = { line: 12, function: 6, file: 2 } as const;

/**
 * Which of the commits between the last version without a case and the first with it may have brought it: those that changed its frames, the very
 * line before the function, the function before the file, and what is near the culprit before what is far. The likeliest first.
 */
export function rankChanges(
  commits: readonly Commit[],
  frames: readonly FrameChanges[],
  { version, cameOutAt }: { readonly version: string; readonly cameOutAt: string | null },
): LikelyChange[] {
  const ranked = commits.flatMap((commit) => {
    let score = 0;
    let best: { readonly worth: number; readonly words: string } | null = null;
    const add = (value: number, words: string) => {
      score += value;
      if (best === null || value > best.worth) best = { worth: value, words };
    };
    const counted = new Set<string>();
    for (const frame of frames) {
      const near = 1 / (1 + frame.depth);
      if (frame.changedLine === commit.hash) add(worth.line * near, `changed the very line of ${frame.function}`);
      else if (frame.changedFunction.includes(commit.hash)) add(worth.function * near, `changed ${frame.function}`);
      else if (commit.paths.includes(frame.path) && !counted.has(frame.path)) {
        counted.add(frame.path);
        add(worth.file * near, `changed ${frame.path.split('/').at(-1)}, where ${frame.function} is`);
      }
    }
    if (best === null) return [];
    const { words, worth: nearest } = best as { words: string; worth: number };
    return [{ commit, nearest, score, reason: `${words}${wordBefore(commit.at, version, cameOutAt)}` }];
  });
  // A commit that began a file touched everything in it: the nearest thing that was changed says more than how much was. Of two that
  // changed the same, the later one is the likelier.
  ranked.sort((a, b) => b.nearest - a.nearest || b.score - a.score || Date.parse(b.commit.at) - Date.parse(a.commit.at));
  return ranked.slice(0, shown).map(({ commit: { paths: _paths, ...commit }, reason }) => ({ ...commit, reason }));
}

/** How long before the version came out. */
function wordBefore(at: string, version: string, cameOutAt: string | null): string {
  if (cameOutAt === null) return `, in ${version}`;
  const ms = Date.parse(cameOutAt) - Date.parse(at);
  if (!(ms >= 0)) return `, in ${version}`;
  if (ms < dayMs) return `, ${wordCount(Math.max(1, Math.round(ms / hourMs)), 'hour', 'hours')} before ${version} came out`;
  return `, ${wordCount(Math.round(ms / dayMs), 'day', 'days')} before ${version} came out`;
}
