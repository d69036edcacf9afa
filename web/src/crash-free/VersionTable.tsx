import { compareShares } from '@rough-ember/core/stability/difference';
import { type BadEnds, badSessions, stabilityFigures } from '@rough-ember/core/stability/figures';
import type { VersionStability } from '@rough-ember/server/stability/crash-free';
import { Value } from '../scope/Value';
import { Cut } from '../shell/Cut';
import { Wide } from '../shell/Wide';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './CrashFree.module.css';
import { verdictWords, wordComparison, wordFree, wordRange, wordThousandth } from './stability-words';

/** The versions of the scope, newest first, each with its figures and how it compares with the one before it. */
export function VersionTable({ versions, badEnds }: { versions: readonly VersionStability[]; badEnds: BadEnds }) {
  const newestFirst = versions.map((one, at) => ({ ...one, before: versions[at - 1] })).reverse();
  return (
    <Wide>
      <table className={styles.versions}>
        <thead>
          <tr>
            <th scope="col">Version</th>
            <th scope="col">Sessions</th>
            <th scope="col">Share</th>
            <th scope="col">For 1,000</th>
            <th scope="col">Free</th>
            <th scope="col">People free</th>
            <th scope="col">At the start</th>
            <th scope="col">Against the one before</th>
          </tr>
        </thead>
        <tbody>
          {newestFirst.map(({ version, counts, shareOfSessions, before }) => {
            const figures = stabilityFigures(counts, badEnds);
            const comparison =
              before && compareShares(badSessions(counts, badEnds), badSessions(before.counts, badEnds), versions.length - 1);
            return (
              <tr key={version}>
                <th scope="row">
                  <Value field="version" value={version}>
                    <Cut text={version} />
                  </Value>
                </th>
                <td>{wordNumber(counts.sessions)}</td>
                <td>{wordShare(shareOfSessions)}</td>
                <td>
                  <b>{wordThousandth(figures.crashes.value)}</b> <small>{wordRange(figures.crashes)}</small>
                </td>
                <td>{figures.few ? 'too few' : wordFree(figures.crashFreeSessions.value)}</td>
                <td>{figures.few ? 'too few' : wordFree(figures.crashFreePersons.value)}</td>
                <td>{wordThousandth(figures.crashesAtStart.value)}</td>
                <td>
                  {comparison && (
                    <span data-verdict={comparison.verdict} title={wordComparison(comparison)}>
                      {verdictWords[comparison.verdict]}
                    </span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Wide>
  );
}
