import { wordFree, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { type BadEnds, stabilityFigures } from '@rough-ember/core/stability/figures';
import type { VersionStability } from '@rough-ember/server/stability/crash-free';
import { Value } from '../scope/Value';
import { Cut } from '../shell/Cut';
import { Wide } from '../shell/Wide';
import { VersionVerdict } from '../versions/VersionVerdict';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './CrashFree.module.css';

/** The versions of the scope, newest first, each with its figures and how it does against the version that it is compared with. */
export function VersionTable({ versions, badEnds }: { versions: readonly VersionStability[]; badEnds: BadEnds }) {
  const newestFirst = [...versions].reverse();
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
            <th scope="col">Since it came out</th>
          </tr>
        </thead>
        <tbody>
          {newestFirst.map(({ version, counts, shareOfSessions, comparison }) => {
            const figures = stabilityFigures(counts, badEnds);
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
                <td>{comparison && <VersionVerdict comparison={comparison} />}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Wide>
  );
}
