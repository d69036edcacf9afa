import { MantineProvider } from '@mantine/core';
import { dayMs } from '@rough-ember/core/durations';
import { wordRolloutStatus } from '@rough-ember/core/rollouts/rollouts';
import { wordFree, wordRange, wordThousandth, wordVerdict } from '@rough-ember/core/stability/comparison-words';
import { badSessions, stabilityFigures } from '@rough-ember/core/stability/figures';
import { wordDay, wordSeconds } from '@rough-ember/core/words/time';
import type { Wall, WallApp } from '@rough-ember/server/wall/load-wall';
import { useEffect } from 'react';
import { emberLevelOfAll } from '../desk/ember-level';
import { cssVariables, theme } from '../theme/theme';
import { useWall } from '../wall/use-wall';
import styles from '../wall/Wall.module.css';
import { wordCount, wordNumber, wordShare } from '../words/numbers';

/** The figures of the apps on a big screen: read from across a room, by whoever has the link. */
export function WallPage({ wall, secret }: { wall: Wall; secret: string }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <WallScreen wall={wall} secret={secret} />
    </MantineProvider>
  );
}

function WallScreen({ wall: initial, secret }: { wall: Wall; secret: string }) {
  const { wall, problem, paused, turn, pause } = useWall(secret, initial);
  const { shown, apps } = wall;
  const clock = wordSeconds(wall.now, shown?.zone);
  // A server that is away comes back; a link that was revoked does not, and shows nothing any more.
  const isOver = problem !== null && !problem.mayPass;
  useEffect(() => {
    const onKey = ({ key }: KeyboardEvent) => {
      if (key === 'ArrowRight') turn(1);
      else if (key === 'ArrowLeft') turn(-1);
      else if (key === 'p') pause(!paused);
      else if (key === 'f') void toggleFullScreen();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  return (
    <main className={styles.wall}>
      {isOver ? (
        <p className={styles.sentence}>{problem.message} Whoever works with these apps makes a new one on Now.</p>
      ) : shown ? (
        <App app={shown} />
      ) : (
        <p className={styles.sentence}>There is no app to show.</p>
      )}
      <footer className={styles.foot}>
        <ol aria-label="Apps that take turns">
          {(isOver ? [] : apps).map((one) => (
            <li key={one.slug} aria-current={one.slug === shown?.slug}>
              {one.name}
            </li>
          ))}
        </ol>
        <span role="status" data-problem={problem !== null}>
          {isOver ? '' : problem ? `${problem.message} Figures of ${clock}.` : `${wall.name} · ${clock}`}
        </span>
        <span className={styles.controls}>
          <button type="button" onClick={() => turn(-1)} aria-label="The app before" title="←">
            ‹
          </button>
          <button type="button" onClick={() => pause(!paused)} title="p">
            {paused ? 'Take turns' : 'Stay here'}
          </button>
          <button type="button" onClick={() => turn(1)} aria-label="The next app" title="→">
            ›
          </button>
          <button type="button" onClick={() => void toggleFullScreen()} title="f">
            Full screen
          </button>
        </span>
      </footer>
    </main>
  );
}

const toggleFullScreen = (): Promise<void> =>
  document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen();

function App({ app }: { app: WallApp }) {
  return (
    <>
      <header className={styles.head}>
        <h1>{app.name}</h1>
        <Newest app={app} />
      </header>
      <Figures app={app} />
      <Days daily={app.week.daily} />
      <CaseLines app={app} />
    </>
  );
}

function Figures({ app: { week, today, targetPercent } }: { app: WallApp }) {
  const figures = stabilityFigures(week.counts);
  const soFar = stabilityFigures(today.counts);
  const missed = targetPercent !== null && !figures.few && 100 * figures.crashFreeSessions.high < targetPercent;
  return (
    <div className={styles.figures}>
      <section>
        <h2>Sessions without a crash, seven days</h2>
        <p className={styles.figure}>{figures.few ? 'too few' : wordFree(figures.crashFreeSessions.value)}</p>
        <p>
          <b>{wordThousandth(figures.crashes.value)}</b> for 1,000 ({wordRange(figures.crashes)})
          {targetPercent !== null && !figures.few && (
            <span data-missed={missed}>
              {' '}
              · {missed ? 'below' : 100 * figures.crashFreeSessions.low >= targetPercent ? 'reaches' : 'about at'} the target of{' '}
              {targetPercent} %
            </span>
          )}
        </p>
      </section>
      <section>
        <h2>People without a crash</h2>
        <p className={styles.figure}>{figures.few ? 'too few' : wordFree(figures.crashFreePersons.value)}</p>
        <p>
          {wordNumber(week.counts.personsCrashed)} of {wordCount(week.counts.persons, 'person', 'people')} met one
        </p>
      </section>
      <section>
        <h2>Today so far</h2>
        <p className={styles.figure}>
          {soFar.few ? 'too few' : wordThousandth(soFar.crashes.value)}
          {!soFar.few && <small> for 1,000</small>}
        </p>
        <p>
          {wordCount(today.counts.sessions, 'session', 'sessions')}
          {today.comparison && (
            <span data-missed={today.comparison.verdict === 'worse'}>, {wordVerdict(today.comparison.verdict, 'the week before')}</span>
          )}
        </p>
      </section>
    </div>
  );
}

function CaseLines({ app: { cases, unreadable } }: { app: WallApp }) {
  return (
    <ol className={styles.cases} aria-label="Cases that want a look">
      {cases.map(({ ref, what, where, people, why }) => (
        <li key={ref}>
          <b>{what}</b> <code>{where}</code>
          <span>
            {ref} {why}
          </span>
          <span className={styles.count}>{wordCount(people, 'person', 'people')}</span>
        </li>
      ))}
      {cases.length === 0 && <li className={styles.calm}>No case began, came back or is getting worse.</li>}
      {unreadable > 0 && (
        <li className={styles.calm}>{wordCount(unreadable, 'report waits', 'reports wait')} for symbol files that are missing.</li>
      )}
    </ol>
  );
}

function Newest({ app: { newest } }: { app: WallApp }) {
  if (!newest) return <p className={styles.sentence}>No session has arrived yet.</p>;
  const { version, rollout, comparison, shareOfSessions } = newest;
  return (
    <p className={styles.sentence}>
      <b>{version}</b> {wordRolloutStatus(rollout)}, {wordShare(shareOfSessions)} of the sessions
      {comparison && (
        <>
          , <b data-missed={comparison.sessions.verdict === 'worse'}>{wordVerdict(comparison.sessions.verdict, comparison.than)}</b>
        </>
      )}
    </p>
  );
}

/** A day with fewer sessions, such as one that has just begun, says nothing. */
const fewestSessions = 60;

/** The last days, each as high as its crashes for 1,000 sessions. */
function Days({ daily: { first, days } }: { daily: WallApp['week']['daily'] }) {
  const rates = (days[0] ?? []).map((counts, day) => {
    const { hits, count } = badSessions(counts);
    return {
      at: new Date((first + day) * dayMs).toISOString(),
      sessions: count,
      rate: count < fewestSessions ? null : (1_000 * hits) / count,
    };
  });
  const most = Math.max(1, ...rates.map((one) => one.rate ?? 0));
  if (rates.length === 0) return null;
  return (
    <ol className={styles.days} aria-label="Crashes for 1,000 sessions by day">
      {rates.map(({ at, rate, sessions }) => (
        <li key={at} title={`${wordDay(at)}: ${wordCount(sessions, 'session', 'sessions')}`}>
          <b>{rate === null ? '–' : wordThousandth(rate)}</b>
          <i
            data-level={rate === null ? 'none' : emberLevelOfAll(rate)}
            style={{ height: `${rate === null ? 2 : Math.max(4, (100 * rate) / most)}%` }}
          />
          <span>{wordDay(at)}</span>
        </li>
      ))}
    </ol>
  );
}
