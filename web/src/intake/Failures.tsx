import { Button } from '@mantine/core';
import { wordAgo, wordTime } from '@rough-ember/core/words/time';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { wordCount } from '../words/numbers';
import { sentence } from '../words/sentence';
import styles from './Failures.module.css';

interface FailuresProps {
  readonly failures: IntakeOverview['failures'];
  readonly now: string;
  readonly appSlug: string;
  readonly mayAct: boolean;
  readonly onChange: () => void;
}

/** Reports that were taken and could not be processed, by reason; they are kept, and can be sent round again. */
export function Failures({ failures, now, appSlug, mayAct, onChange }: FailuresProps) {
  const [told, setTold] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  const retry = (which: { reason?: string }) =>
    attempt(async () => {
      const { retried } = await request('POST /apps/{app}/retries', { app: appSlug }, { body: which });
      setTold(`${wordCount(retried, 'report is', 'reports are')} being tried again.`);
      onChange();
    });
  if (failures.length === 0) return told === null ? null : <p className={styles.told}>{told}</p>;
  const total = failures.reduce((sum, one) => sum + one.reports, 0);
  return (
    <section className={styles.failures} aria-labelledby="failures-title">
      <h2 id="failures-title" className={styles.title}>
        {wordCount(total, 'report was taken but could', 'reports were taken but could')} not be processed
      </h2>
      <p>
        Nothing of them is lost: they are tried again by themselves when a symbol file of their build comes or another version of the server
        starts.
      </p>
      <ul>
        {failures.map(({ reason, reports, latestReportId, latestAt }) => (
          <li key={reason}>
            <span>
              <b>{wordCount(reports, 'report', 'reports')}:</b> {sentence(reason)}{' '}
              <a href={`/apps/${appSlug}/reports/${latestReportId}`}>
                The latest came{' '}
                <time dateTime={latestAt} title={wordTime(latestAt)}>
                  {wordAgo(latestAt, now)}
                </time>
              </a>
            </span>
            {mayAct && (
              <Button size="compact-xs" variant="default" onClick={() => retry({ reason })}>
                Try again
              </Button>
            )}
          </li>
        ))}
      </ul>
      {mayAct && failures.length > 1 && (
        <Button size="xs" variant="default" onClick={() => retry({})}>
          Try all again
        </Button>
      )}
      {told !== null && <p role="status">{told}</p>}
      <ProblemNotice problem={problem} />
    </section>
  );
}
