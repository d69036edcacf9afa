import { printScope } from '@rough-ember/core/scope/scope';
import { wordDifference, wordFree, wordRange, wordThousandth, wordVerdict } from '@rough-ember/core/stability/comparison-words';
import { badSessions, kindsOfEnds, stabilityFigures } from '@rough-ember/core/stability/figures';
import type { CrashFreeOverview } from '@rough-ember/server/stability/crash-free';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { hasValue, withCondition } from '../scope/scope-context';
import { wordDuration } from '../sessions/session-words';
import { wordCount, wordNumber } from '../words/numbers';
import { capitalised } from '../words/sentence';
import { BudgetLine } from './BudgetLine';
import styles from './CrashFree.module.css';

/** What went wrong with a session, in the words of its figures. */
export const endWords = ({ hangs, kills }: CrashFreeOverview['badEnds']): string =>
  hangs && kills ? 'bad end' : hangs ? 'crash or hang' : kills ? 'crash or kill' : 'crash';

/** The same in the plural. */
export const endWordsPlural = ({ hangs, kills }: CrashFreeOverview['badEnds']): string =>
  hangs && kills ? 'bad ends' : hangs ? 'crashes and hangs' : kills ? 'crashes and kills' : 'crashes';

/** The two figures everybody asks for, each with how sure it is, and a sentence that compares them with before. */
export function Headline({ overview, appSlug }: { overview: CrashFreeOverview; appSlug: string }) {
  const { total, before, badEnds, error, scope } = overview;
  const figures = stabilityFigures(total, badEnds);
  const what = endWords(badEnds);
  return (
    <div className={styles.headline}>
      <section aria-label={`Sessions without a ${what}`}>
        <h2>Sessions without a {what}</h2>
        <p className={styles.figure}>{figures.few ? 'too few' : wordFree(figures.crashFreeSessions.value)}</p>
        <p>
          <b>{wordThousandth(figures.crashes.value)}</b> for 1,000 · {wordRange(figures.crashes)}
        </p>
        <p className={styles.faint}>
          {wordNumber(badSessions(total, badEnds).hits)} of {wordCount(total.sessions, 'session', 'sessions')}
        </p>
      </section>
      <section aria-label="People without a crash">
        <h2>People without a crash</h2>
        <p className={styles.figure}>{figures.few ? 'too few' : wordFree(figures.crashFreePersons.value)}</p>
        <p>
          <b>{wordNumber(total.personsCrashed)}</b> met one · {wordRange(figures.crashFreePersons, wordFree)}
        </p>
        <p className={styles.faint}>
          of {wordCount(total.persons, 'person', 'people')}: {wordNumber(total.newPersons)} new,{' '}
          {wordNumber(total.persons - total.newPersons)} seen before
          {overview.dailyPersons !== null && `; ${wordNumber(Math.round(overview.dailyPersons))} on an average day`}
        </p>
      </section>
      <div className={styles.said}>
        {before && scope.days !== null && (
          <p>
            <b data-verdict={before.comparison.verdict}>
              {capitalised(wordVerdict(before.comparison.verdict, `the ${wordCount(scope.days, 'day', 'days')} before`))}
            </b>
            {wordDifference(before.comparison)}
            {before.isSample && ', by a sample of people'}.
          </p>
        )}
        {overview.budget && <BudgetLine budget={overview.budget} />}
        <p>
          Beside it, for 1,000 sessions: {wordThousandth(figures.hangs.value)} hung, {wordThousandth(figures.kills.value)} were killed by
          the system, {wordThousandth(figures.crashesAtStart.value)} crashed in their first five seconds,{' '}
          {wordThousandth(figures.errors.value)} met a handled error.
          <HowSoon appSlug={appSlug} overview={overview} />
        </p>
        <Outside overview={overview} here={`/apps/${appSlug}`} />
        {error > 0 && (
          <p className={styles.faint}>
            Sessions and people are counted in a sample, ± {(100 * error).toFixed(2)} %; the exact figures come by themselves.
          </p>
        )}
        {overview.unasked.length > 0 && (
          <p className={styles.faint}>Sessions do not tell {overview.unasked.join(', ')}; that part of the filter narrows reports alone.</p>
        )}
      </div>
    </div>
  );
}

/** What went wrong and is in no figure, since no session was told for it. */
function Outside({ overview: { outside, badEnds, scope }, here }: { overview: CrashFreeOverview; here: string }) {
  const { noSession, inferred } = outside;
  if (noSession + inferred === 0) return null;
  const asked = printScope({ ...withCondition(scope, hasValue('session', '', 'none')), kinds: kindsOfEnds(badEnds), cases: 'any' });
  return (
    <p className={styles.faint}>
      In none of these figures:{' '}
      {noSession > 0 && (
        <>
          <a href={`${here}/cases?${asked}`}>{wordCount(noSession, 'report', 'reports')}</a> that {noSession === 1 ? 'names' : 'name'} no
          session
        </>
      )}
      {noSession > 0 && inferred > 0 && ', and '}
      {inferred > 0 && `${wordCount(inferred, 'session', 'sessions')} that only reports tell of`}.
    </p>
  );
}

/** How far into a session the crashes come. */
function HowSoon({ appSlug, overview }: { appSlug: string; overview: CrashFreeOverview }) {
  const { answer, stale, problem } = useAnswer(
    overview.total.crashed > 0 ? addressOf('GET /apps/{app}/crash-free/time-to-crash', { app: appSlug }, overview.address) : null,
    { waitMs: 300, turn: overview.total.crashed },
  );
  if (overview.total.crashed === 0 || problem || (answer && !stale && !answer.afterMs)) return null;
  // Before it is known the sentence takes the room that it will need, so that nothing below it moves.
  const [lower, median, upper] = (['lower', 'median', 'upper'] as const).map((name) =>
    answer?.afterMs ? wordDuration(answer.afterMs[name]) : '… min … s',
  );
  return (
    <>
      {' '}
      Half of the crashes come within {median} (the middle half after {lower} to {upper}
      {answer?.cut && `; the newest ${wordNumber(answer.sessions)} were looked at`}).
    </>
  );
}
