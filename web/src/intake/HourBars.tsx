import type { IntakeHour } from '@rough-ember/server/intake/intake-overview';
import { wordNumber } from '../words/numbers';
import styles from './HourBars.module.css';

/** What arrived in each of the last hours: accepted from below, what was excluded and refused on top of it. */
export function HourBars({ hours, shown }: { hours: readonly IntakeHour[]; shown: number }) {
  const byHour = new Map(hours.map((one) => [one.hoursAgo, one.counts]));
  const columns = Array.from({ length: shown }, (_, index) => {
    const counts = byHour.get(shown - 1 - index);
    return {
      hoursAgo: shown - 1 - index,
      taken: counts ? counts.accepted + counts.duplicate : 0,
      excluded: counts ? counts.excluded + counts['sampled-out'] : 0,
      refused: counts?.refused ?? 0,
    };
  });
  const highest = Math.max(1, ...columns.map((one) => one.taken + one.excluded + one.refused));
  const total = (pick: (one: (typeof columns)[number]) => number) => columns.reduce((sum, one) => sum + pick(one), 0);
  const words = `${total((one) => one.taken)} items taken, ${total((one) => one.excluded)} excluded or sampled out, ${total((one) => one.refused)} refused in the last ${shown} hours`;
  return (
    <figure className={styles.figure}>
      <div className={styles.bars} role="img" aria-label={words}>
        {columns.map(({ hoursAgo, taken, excluded, refused }) => (
          <span
            key={hoursAgo}
            className={styles.column}
            title={`${hoursAgo === 0 ? 'the last hour' : `${hoursAgo} to ${hoursAgo + 1} hours ago`}: ${taken} taken, ${excluded} excluded, ${refused} refused`}
          >
            <i className={styles.refused} style={{ height: `${(refused / highest) * 100}%` }} />
            <i className={styles.excluded} style={{ height: `${(excluded / highest) * 100}%` }} />
            <i className={styles.taken} style={{ height: `${(taken / highest) * 100}%` }} />
          </span>
        ))}
      </div>
      <figcaption>
        <span>{shown} hours ago</span>
        <span>
          <i className={styles.taken} /> taken <i className={styles.excluded} /> excluded <i className={styles.refused} /> refused · up to{' '}
          {wordNumber(highest)} an hour
        </span>
        <span>now</span>
      </figcaption>
    </figure>
  );
}
