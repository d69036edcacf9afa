import { Button } from '@mantine/core';
import { useState } from 'react';
import { problemOf, type RequestProblem, request } from '../client/api';
import { ProblemNotice } from '../shell/Notice';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import { wordAgo } from '../words/time';
import styles from './SimilarCases.module.css';
import { useEvidence } from './use-evidence';

/** What may belong to this case, and what may not: like cases to be merged, and ways its reports came to be taken out. */
export function SimilarCases({ appSlug, refName, now, mayAct }: { appSlug: string; refName: string; now: string; mayAct: boolean }) {
  const { answer } = useEvidence(appSlug, refName, 'similar');
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const act = async (ask: () => Promise<string>) => {
    try {
      const words = await ask();
      setProblem(null);
      setSaid(words);
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  const takeOut = (reportId: string) => async () => {
    const { ref } = await request('POST /apps/{app}/cases/{ref}/split', { app: appSlug, ref: refName }, { body: { reports: [reportId] } });
    return `These reports are ${ref} now, and later ones will be.`;
  };
  const mergeIn = (ref: string) => async () => {
    await request('POST /apps/{app}/cases/merge', { app: appSlug }, { body: { into: refName, cases: [ref] } });
    return `${ref} is part of this case now.`;
  };
  if (!answer) return null;
  const { similar, variants } = answer;
  const all = variants.reduce((sum, one) => sum + one.reports, 0);
  return (
    <div className={styles.similar}>
      <ProblemNotice problem={problem} />
      {said && <p role="status">{said} It can be taken back under Talk.</p>}
      {variants.length > 1 && (
        <>
          <h3 className={styles.title}>Ways its reports came</h3>
          <ul className={styles.list}>
            {variants.map(({ reportId, reports, lastAt }) => (
              <li key={reportId}>
                <a href={`/apps/${appSlug}/reports/${reportId}`}>{wordCount(reports, 'report', 'reports')}</a>{' '}
                <span className={styles.faint}>
                  {wordShare(reports / all)}, the latest {wordAgo(lastAt, now)}
                </span>
                {mayAct && (
                  <Button size="compact-xs" variant="subtle" onClick={() => void act(takeOut(reportId))}>
                    Take out as a case
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
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
              <Button size="compact-xs" variant="subtle" onClick={() => void act(mergeIn(ref))}>
                Merge into this one
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
