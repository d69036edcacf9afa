import { Button } from '@mantine/core';
import { wordStatus } from '@rough-ember/core/cases/case-words';
import type { FirstQuestion } from '@rough-ember/core/first-look/first-look';
import { wordRolloutStatus } from '@rough-ember/core/rollouts/rollouts';
import {
  wordBaseline,
  wordDifference,
  wordFree,
  wordRange,
  wordThousandth,
  wordVerdict,
} from '@rough-ember/core/stability/comparison-words';
import { badSessions, enoughSessions, stabilityFigures } from '@rough-ember/core/stability/figures';
import { wordSymbolFile } from '@rough-ember/core/symbols/families';
import { wordAgo } from '@rough-ember/core/words/time';
import type { CaseItem } from '@rough-ember/server/desk/case-list';
import type { FirstStep } from '@rough-ember/server/now/first-hour';
import type { Now } from '@rough-ember/server/now/load-now';
import { type ReactNode, useState } from 'react';
import { wordNews } from '../case-file/status-words';
import { addressOf } from '../client/api';
import { useLive } from '../client/use-live';
import { rateOfScreen } from '../crash-free/activity-words';
import { BudgetLine } from '../crash-free/BudgetLine';
import { Trend } from '../desk/Trend';
import { FirstHour } from '../now/FirstHour';
import { FirstLook } from '../now/FirstLook';
import styles from '../now/Now.module.css';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { useTimes } from '../shell/use-times';
import { WallLinks } from '../wall/WallLinks';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import { capitalised } from '../words/sentence';

export interface NowPageProps {
  readonly shell: PageShell;
  readonly news: Now;
  /** Questions to find one's way by; none where the app has none. */
  readonly firstLook: readonly FirstQuestion[];
  /** What is worth doing next with the app. */
  readonly undone: readonly FirstStep[];
}

export function NowPage(props: NowPageProps) {
  return (
    <Shell shell={props.shell} place="now">
      <News {...props} />
    </Shell>
  );
}

/** What changed since somebody looked, in sentences first; every figure leads to what it counts. */
function News({ shell, news: initial, firstLook, undone }: NowPageProps) {
  const here = `/apps/${shell.app.slug}`;
  const { data: news, problem } = useLive(
    shell.app.slug,
    addressOf('GET /apps/{app}/now', { app: shell.app.slug }, initial.since ? { since: initial.since } : {}),
    initial,
  );
  const [showsWall, setShowsWall] = useState(false);
  const { wordTime } = useTimes();
  const nothing = news.started.length + news.reopened.length + news.worse.length + news.missing.length + news.refusals.length === 0;
  return (
    <main className={styles.page}>
      <ProblemNotice problem={problem} />
      {showsWall && <WallLinks shell={shell} onClose={() => setShowsWall(false)} />}
      {shell.account.role !== 'viewer' && (
        <Button className={styles.wall} size="compact-xs" variant="subtle" onClick={() => setShowsWall(true)}>
          On a big screen …
        </Button>
      )}
      <h1 className={styles.since}>
        {news.since === null ? (
          'The last seven days'
        ) : (
          <>
            Since you looked, <span title={wordTime(news.since)}>{wordAgo(news.since, news.now)}</span>
          </>
        )}
      </h1>
      <div className={styles.columns}>
        <div className={styles.told}>
          <NewestSentence news={news} here={here} />
          <WeekSentence news={news} here={here} />
          {news.budget && (
            <div className={styles.budget}>
              <BudgetLine budget={news.budget} />
            </div>
          )}
          <Cases title="Began" none="No case began." cases={news.started} news={news} here={here} />
          <Cases title="Came back" none="" cases={news.reopened} news={news} here={here} />
          <Cases title="Getting worse" none="" cases={news.worse} news={news} here={here} />
          <WorstScreens news={news} here={here} />
          {nothing && news.newest && <p className={styles.calm}>Nothing else wants a look.</p>}
        </div>
        <aside className={styles.side} aria-label="What is missing">
          <FirstHour undone={undone} here={here} />
          <FirstLook questions={firstLook} here={here} />
          <Lacking news={news} here={here} />
        </aside>
      </div>
    </main>
  );
}

/** Symbol files that reports wait for, and requests that were refused. */
function Lacking({ news, here }: { news: Now; here: string }) {
  return (
    <>
      {news.missing.length > 0 && (
        <section>
          <h2>Symbol files missing</h2>
          <ul>
            {news.missing.map((one) => (
              <li key={`${one.kind} ${one.name} ${one.version}`}>
                <a href={`${here}/symbols`}>
                  {wordSymbolFile(one)} of {one.version}
                </a>
                <b>{wordCount(one.reports, 'report', 'reports')}</b>
              </li>
            ))}
          </ul>
        </section>
      )}
      {news.refusals.length > 0 && (
        <section>
          <h2>Refused in the last 24 hours</h2>
          <ul>
            {news.refusals.map(({ reason, requests }) => (
              <li key={reason}>
                <a href={`${here}/intake?outcome=refused`}>{reason}</a>
                <b>{wordCount(requests, 'request', 'requests')}</b>
              </li>
            ))}
          </ul>
        </section>
      )}
      {news.missing.length + news.refusals.length === 0 && <p>Every symbol file is there, and nothing was refused.</p>}
    </>
  );
}

/** The newest version: how far it is out, how it does, and whether that is better or worse than before. */
function NewestSentence({ news: { newest }, here }: { news: Now; here: string }): ReactNode {
  if (!newest) {
    return (
      <p className={styles.lead}>
        No session has arrived yet. <a href={`${here}/intake`}>Intake</a> has what an app needs to send one.
      </p>
    );
  }
  const { version, counts, comparison, rollout, shareOfSessions } = newest;
  const figures = stabilityFigures(counts);
  const link = `${here}/versions?version=${encodeURIComponent(version)}`;
  return (
    <p className={styles.lead}>
      <a href={link}>
        <b>{version}</b>
      </a>{' '}
      {wordRolloutStatus(rollout)}
      {rollout.halted && rollout.note && ` (“${rollout.note}”)`}, with {wordShare(shareOfSessions)} of the sessions. It crashes in{' '}
      <b>{wordThousandth(figures.crashes.value)}</b> of 1,000
      {comparison && (
        <>
          :{' '}
          <a href={link} data-verdict={comparison.sessions.verdict} title={`Compared with ${wordBaseline(comparison)}.`}>
            {wordVerdict(comparison.sessions.verdict, comparison.than)}
          </a>
          {wordDifference(comparison.sessions, comparison.halfBy)}
        </>
      )}
      .
    </p>
  );
}

/** The last seven days against the seven before. */
function WeekSentence({ news: { week }, here }: { news: Now; here: string }): ReactNode {
  const { counts, comparison, daily } = week;
  if (counts.sessions === 0) return null;
  const figures = stabilityFigures(counts);
  // A morning with a handful of sessions is no peak.
  const rates = (daily.days[0] ?? [])
    .filter((day) => day.sessions >= Math.min(enoughSessions, counts.sessions / 20))
    .map((day) => (1_000 * badSessions(day).hits) / day.sessions);
  return (
    <p className={styles.week}>
      <a href={`${here}/crash-free?last=7d`} className={styles.figure}>
        {figures.few ? 'too few' : wordFree(figures.crashFreeSessions.value)}
      </a>{' '}
      <span>
        of <a href={`${here}/sessions?last=7d`}>{wordCount(counts.sessions, 'session', 'sessions')}</a> of the last seven days had no crash,
        and {wordFree(figures.crashFreePersons.value)} of {wordCount(counts.persons, 'person', 'people')} met none.{' '}
        {comparison.older.count > 0 && (
          <>
            <b data-verdict={comparison.verdict}>{capitalised(wordVerdict(comparison.verdict, 'the seven days before'))}</b>
            {wordDifference(comparison)}
            {week.isSample && ', by a sample of people'}.
          </>
        )}
      </span>
      <Trend trend={rates} width={120} height={26} />
    </p>
  );
}

/** Where in the app people crash most, for how much they are there. */
function WorstScreens({ news: { worstScreens }, here }: { news: Now; here: string }): ReactNode {
  if (worstScreens.length === 0) return null;
  return (
    <section className={styles.cases}>
      <h2>Screens that crash most, last seven days</h2>
      <ol>
        {worstScreens.map((one) => {
          const rate = rateOfScreen(one);
          const [worst] = one.cases;
          return (
            <li key={one.screen}>
              <a href={`${here}/screens?last=7d&screen=${encodeURIComponent(one.screen)}`}>
                <b>{one.screen}</b>
              </a>
              <span>
                {rate && `${wordThousandth(rate.value)} crashes for 1,000 visits (${wordRange(rate)})`}
                {worst && (
                  <>
                    , above all <a href={`${here}/cases/${worst.ref}`}>{worst.ref}</a>
                  </>
                )}
              </span>
              <span className={styles.count}>
                <b>{wordNumber(one.people)}</b> {one.people === 1 ? 'person' : 'people'}
              </span>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function Cases({ title, none, cases, news, here }: { title: string; none: string; cases: readonly CaseItem[]; news: Now; here: string }) {
  if (cases.length === 0) return none === '' ? null : <p className={styles.calm}>{none}</p>;
  return (
    <section className={styles.cases}>
      <h2>
        {title} · {wordNumber(cases.length)}
      </h2>
      <ol>
        {cases.map((one) => (
          <li key={one.ref}>
            <a href={`${here}/cases/${one.ref}`}>
              <b>{one.what}</b> <code>{one.where}</code>
            </a>
            <span>
              {one.ref} · {one.firstVersion === one.lastVersion ? one.firstVersion : `${one.firstVersion} → ${one.lastVersion}`} ·{' '}
              {one.state === 'reopened'
                ? wordStatus(one)
                : one.news === 'worse'
                  ? wordNews(one)
                  : `began ${wordAgo(one.beganAt, news.now)}`}
              {one.assignee !== null && ` · ${one.assignee.split('@', 1)[0]}`}
            </span>
            <span className={styles.count}>
              <b>{wordNumber(one.people)}</b> {one.people === 1 ? 'person' : 'people'}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
