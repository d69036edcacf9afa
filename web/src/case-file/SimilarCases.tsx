import { Button } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { AnswerOf } from '@rough-ember/server/api/registry';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import styles from './SimilarCases.module.css';
import { useEvidence } from './use-evidence';

interface VariantsProps {
  readonly appSlug: string;
  readonly variants: AnswerOf<'GET /apps/{app}/cases/{ref}/similar'>['variants'];
  readonly now: string;
  /** Null for whoever may not change cases. */
  readonly onTakeOut: ((reportId: string) => void) | null;
}

/** The ways in which the reports of a case came, each of which may be a case of its own. */
function Variants({ appSlug, variants, now, onTakeOut }: VariantsProps) {
  const all = variants.reduce((sum, one) => sum + one.reports, 0);
  return (
    <>
      <h3 className={styles.title}>Ways its reports came</h3>
      <ul className={styles.list}>
        {variants.map(({ reportId, reports, lastAt }) => (
          <li key={reportId}>
            <a href={`/apps/${appSlug}/reports/${reportId}`}>{wordCount(reports, 'report', 'reports')}</a>{' '}
            <span className={styles.faint}>
              {wordShare(reports / all)}, the latest {wordAgo(lastAt, now)}
            </span>
            {onTakeOut && (
              <Button size="compact-xs" variant="subtle" onClick={() => onTakeOut(reportId)}>
                Take out as a case
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

/** What may belong to this case, and what may not: like cases to be merged, and ways its reports came to be taken out. */
export function SimilarCases({ appSlug, refName, now, mayAct }: { appSlug: string; refName: string; now: string; mayAct: boolean }) {
  const { answer } = useEvidence(appSlug, refName, 'similar');
  const { problem, attempt } = useAttempt();
  const [said, setSaid] = useState<string | null>(null);
  const takeOut = (reportId: string) =>
    attempt(async () => {
      const path = { app: appSlug, ref: refName };
      const { ref } = await request('POST /apps/{app}/cases/{ref}/split', path, { body: { reports: [reportId] } });
      setSaid(`These reports are ${ref} now, and later ones will be.`);
    });
  const mergeIn = (ref: string) =>
    attempt(async () => {
      await request('POST /apps/{app}/cases/merge', { app: appSlug }, { body: { into: refName, cases: [ref] } });
      setSaid(`${ref} is part of this case now.`);
    });
  if (!answer) return null;
  const { similar, variants } = answer;
  return (
    <div className={styles.similar}>
      <ProblemNotice problem={problem} />
      {said && <p role="status">{said} It can be taken back under Talk.</p>}
      {variants.length > 1 && <Variants {...{ appSlug, variants, now }} onTakeOut={mayAct ? (reportId) => void takeOut(reportId) : null} />}
      <h3 className={styles.title}>Cases like this one</h3>
      {similar.length === 0 && <p className={styles.faint}>No other case shares much of its stack.</p>}
      <ul className={styles.list}>
        {similar.map(({ ref, what, where, likeness, shared }) => (
          <li key={ref}>
            <a href={`/apps/${appSlug}/cases/${ref}?last=all&cases=any`}>
              {ref} {what} in <code>{where}</code>
            </a>{' '}
            <span className={styles.faint} title={shared.join('\n')}>
              {wordNumber(Math.round(100 * likeness))} % alike
            </span>
            {mayAct && (
              <Button size="compact-xs" variant="subtle" onClick={() => void mergeIn(ref)}>
                Merge into this one
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
