import type { WeekOfPeople } from '@rough-ember/core/session-index/people-over-time';
import { printDay } from '@rough-ember/core/session-index/person-day';
import { wordDay } from '@rough-ember/core/words/time';
import { Wide } from '../shell/Wide';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './People.module.css';

const kinds = [
  { kind: 'begun', title: 'began' },
  { kind: 'stayed', title: 'were there the week before' },
  { kind: 'cameBack', title: 'came back after a week or more' },
] as const;

/** The people of each week by whether they began, stayed or came back; the present week is not over. */
export function WeeksOfPeople({ weeks }: { weeks: readonly WeekOfPeople[] }) {
  const most = Math.max(1, ...weeks.map((week) => week.people));
  return (
    <Wide>
      <table className={styles.weeks}>
        <thead>
          <tr>
            <th scope="col">Week from</th>
            <th scope="col">People</th>
            {kinds.map(({ kind, title }) => (
              <th key={kind} scope="col">
                <i className={styles.key} data-kind={kind} />
                {title}
              </th>
            ))}
            <th scope="col">
              <span className={styles.hidden}>As bars</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {[...weeks].reverse().map((week, at) => (
            <tr key={week.first}>
              <th scope="row">
                {wordDay(printDay(week.first))}
                {at === 0 && <small> so far</small>}
              </th>
              <td>{wordNumber(week.people)}</td>
              {kinds.map(({ kind }) => (
                <td key={kind}>
                  {wordNumber(week[kind])} <small>{week.people > 0 && wordShare(week[kind] / week.people)}</small>
                </td>
              ))}
              <td className={styles.bars} aria-hidden="true">
                {kinds.map(({ kind }) => (
                  <i key={kind} data-kind={kind} style={{ width: `${(100 * week[kind]) / most}%` }} />
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}
