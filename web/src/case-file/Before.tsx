import type { TrailEvent } from '@rough-ember/core/report/trail';
import { wordBefore, wordEvent } from '@rough-ember/core/report/trail-words';
import styles from './Before.module.css';

/** What happened before the report, oldest first, with the time left until it. */
export function Before({ trail, occurredAt }: { trail: readonly TrailEvent[]; occurredAt: string }) {
  return (
    <ol className={styles.trail}>
      {trail.map((event, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: events have no identity but their place, and the list never changes
        <li key={index} data-trouble={isTrouble(event)}>
          <time dateTime={event.at} title={event.at}>
            {wordBefore(event.at, occurredAt)}
          </time>
          <span className={styles.kind}>{event.kind}</span>
          <span className={styles.what}>{wordEvent(event)}</span>
        </li>
      ))}
    </ol>
  );
}

const isTrouble = (event: TrailEvent): boolean =>
  (event.kind === 'request' && (event.status === null || event.status >= 400)) ||
  (event.kind === 'log' && (event.level === 'warn' || event.level === 'error'));
