import { printScope } from '@rough-ember/core/scope/scope';
import { wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { kindsOfEnds } from '@rough-ember/core/stability/figures';
import type { ActivityCase, AppRequests, AppScreens, RequestItem, ScreenItem } from '@rough-ember/server/stability/app-activity';
import type { ReactNode } from 'react';
import { Strip } from '../desk/Strip';
import { hasValue, withCondition } from '../scope/scope-context';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import { failuresOf, rateOfScreen, wordFailures, wordMs } from './activity-words';
import styles from './CrashFree.module.css';
import { endWordsPlural } from './Headline';
import { stripOf } from './ScreenTable';

const verdicts = { worse: ', surely more than the others', better: ', surely less than the others', alike: '', 'too-early': '' } as const;

/** One screen of the app: what goes wrong on it, since which version, and in which cases. */
export function ScreenPanel({ answer, screen, here }: { answer: AppScreens; screen: ScreenItem; here: string }) {
  const { badEnds, scope, versions } = answer;
  const rate = rateOfScreen(screen);
  const ofScreen = printScope({
    ...withCondition(scope, hasValue('screen', '', screen.screen)),
    kinds: kindsOfEnds(badEnds),
    cases: 'any',
  });
  return (
    <section className={styles.sides} aria-label={`Screen ${screen.screen}`}>
      <h2 className={styles.title}>{screen.screen}</h2>
      <p>
        {rate ? (
          <>
            <b>{wordThousandth(rate.value)}</b> {endWordsPlural(badEnds)} for 1,000 visits ({wordRange(rate)}){verdicts[screen.verdict]}.
          </>
        ) : (
          `No session tells of visits, so there is no rate.`
        )}{' '}
        {wordCount(screen.reports, 'report', 'reports')} of {wordCount(screen.people, 'person', 'people')}.
      </p>
      {rate && (
        <p>
          {wordCount(screen.visits, 'visit', 'visits')} in {wordCount(screen.sessions, 'session', 'sessions')} of{' '}
          {wordCount(screen.persons, 'person', 'people')}, {wordShare(answer.persons === 0 ? 0 : screen.persons / answer.persons)} of those
          who tell their screens.
        </p>
      )}
      {screen.reports > 0 && (
        <>
          <h3>By version</h3>
          <Strip labelled of="visits" versions={stripOf(versions, screen)} reports={screen.versions.map((one) => one.reports)} />
        </>
      )}
      <h3>Its cases</h3>
      <CaseBars
        cases={screen.cases}
        most={screen.reports}
        addressOf={(ref) => `${here}/cases/${ref}?${ofScreen}`}
        told={(one) => wordNumber(one.reports)}
        none="Nothing went wrong on it."
      />
      {screen.reports > 0 && (
        <p className={styles.links}>
          <a href={`${here}/cases?${ofScreen}`}>All cases of this screen</a>
        </p>
      )}
    </section>
  );
}

/** One kind of request: how it goes, and the cases that follow its failure. */
export function RequestPanel({ answer, request, here }: { answer: AppRequests; request: RequestItem; here: string }) {
  const failures = failuresOf(request);
  const scope = printScope({ ...answer.scope, cases: 'any' });
  return (
    <section className={styles.sides} aria-label={request.request}>
      <h2 className={styles.title}>
        <code>{request.request}</code>
      </h2>
      <p>
        <b>{wordFailures(failures.value)}</b> failed ({wordRange(failures, wordFailures)}): {wordNumber(request.failed)} of{' '}
        {wordCount(request.count, 'request', 'requests')} of {wordCount(request.persons, 'person', 'people')} had no answer, or one of 400
        and higher.
      </p>
      {request.medianMs !== null && (
        <p>
          Half of them took at most {wordMs(request.medianMs)}, 95 % at most {wordMs(request.p95Ms)}; durations are known of{' '}
          {wordShare(request.timed / request.count)}, within 4.5 %.
        </p>
      )}
      <h3>Cases that follow its failure</h3>
      <CaseBars
        cases={request.cases}
        most={null}
        addressOf={(ref) => `${here}/cases/${ref}?${scope}`}
        told={(one) => `${wordNumber(one.reports)} of ${wordNumber(one.ofCase)}`}
        none={
          request.reportsAfter === 0
            ? 'It failed before no report.'
            : `It failed before ${wordCount(request.reportsAfter, 'report', 'reports')}, in no case more often than in the others.`
        }
      />
      {request.cases.length > 0 && (
        <p className={styles.faint}>
          Of so many of its reports the trail tells that the request failed before: surely more often than of other reports.
        </p>
      )}
    </section>
  );
}

/** Cases with bars: each as a part of `most`, or of its own reports. */
function CaseBars<Case extends ActivityCase & { readonly ofCase?: number }>({
  cases,
  most,
  addressOf,
  told,
  none,
}: {
  cases: readonly Case[];
  most: number | null;
  addressOf: (ref: string) => string;
  told: (one: Case) => ReactNode;
  none: string;
}) {
  if (cases.length === 0) return <p className={styles.faint}>{none}</p>;
  return (
    <ol className={styles.contributions}>
      {cases.map((one) => (
        <li key={one.ref}>
          <a href={addressOf(one.ref)}>{one.ref}</a>{' '}
          <span className={styles.caseName} title={`${one.what} in ${one.where}`}>
            {one.what} <code>{one.where}</code>
          </span>
          <b>{told(one)}</b>
          <i data-more="true" style={{ width: `${(100 * one.reports) / Math.max(1, most ?? one.ofCase ?? one.reports)}%` }} />
        </li>
      ))}
    </ol>
  );
}
