import type { CohortView } from '@rough-ember/server/stability/people-over-time';
import type { ReactNode } from 'react';
import { Wide } from '../shell/Wide';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './People.module.css';

export interface NamedCohort extends CohortView {
  readonly name: string;
}

const levels = 5;

/** Which part of the people who began together came back in each stretch of seven days after their own first day. */
export function Retention({
  title,
  first,
  cohorts,
  none,
}: {
  title: ReactNode;
  first: string;
  cohorts: readonly NamedCohort[];
  none: string;
}) {
  const stretches = cohorts[0]?.later.map((_, at) => at) ?? [];
  return (
    <section>
      <h2>
        {title} <span className={styles.faint}>empty: not over yet, or fewer than 20 people</span>
      </h2>
      {cohorts.length === 0 ? (
        <p className={styles.faint}>{none}</p>
      ) : (
        <Wide>
          <table className={styles.retention}>
            <thead>
              <tr>
                <th scope="col">{first}</th>
                <th scope="col">people</th>
                {stretches.map((at) => (
                  <th key={at} scope="col" title={`days ${7 * (at + 1)} to ${7 * (at + 2) - 1} after the first`}>
                    week {at + 2}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {[...cohorts].reverse().map((cohort) => (
                <tr key={cohort.name}>
                  <th scope="row">{cohort.name}</th>
                  <td className={styles.count}>{wordNumber(cohort.people)}</td>
                  {cohort.later.map((share, at) => (
                    // biome-ignore lint/suspicious/noArrayIndexKey: the stretches are these, in this order
                    <td key={at}>
                      {share && (
                        <span
                          className={styles.cell}
                          data-level={Math.min(levels - 1, Math.floor(share.value * levels))}
                          title={`${wordShare(share.value)} of them (95 %: ${wordShare(share.low)} to ${wordShare(share.high)})`}
                        >
                          {wordShare(share.value)}
                        </span>
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </Wide>
      )}
    </section>
  );
}
