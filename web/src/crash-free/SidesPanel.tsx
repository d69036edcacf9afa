import { wordComparison, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { type BadEnds, badRate, enoughSessions } from '@rough-ember/core/stability/figures';
import type { SidesComparison } from '@rough-ember/server/stability/crash-free';
import { VersionVerdictLines } from '../versions/VersionVerdict';
import { wordCount, wordNumber } from '../words/numbers';
import { capitalised } from '../words/sentence';
import styles from './CrashFree.module.css';

/** Two sides compared: how each is, what the difference comes to, and which cases make it. */
export function SidesPanel({
  title,
  other,
  sides,
  badEnds,
  casesAddress,
  sessionsAddress,
  caseAddress,
}: {
  title: string;
  /** What it is compared with. */
  other: string;
  sides: SidesComparison;
  badEnds: BadEnds;
  casesAddress: string;
  sessionsAddress: string;
  caseAddress: (ref: string) => string;
}) {
  const widest = Math.max(...sides.cases.map((one) => Math.abs(one.right - one.left)), 0.001);
  return (
    <section className={styles.sides} aria-label={title}>
      <h2 className={styles.title}>{title}</h2>
      {sides.versions ? <VersionVerdictLines comparison={sides.versions} /> : <Rates sides={sides} other={other} badEnds={badEnds} />}
      <h3>Cases that make the difference</h3>
      {sides.cases.length === 0 && <p className={styles.faint}>No report on either side.</p>}
      <ol className={styles.contributions}>
        {sides.cases.slice(0, 8).map(({ ref, what, where, left, right }) => (
          <li key={ref}>
            <a href={caseAddress(ref)}>{ref}</a>{' '}
            <span className={styles.caseName} title={`${what} in ${where}`}>
              {what} <code>{where}</code>
            </span>
            <b>
              {right >= left ? '+' : '−'}
              {wordThousandth(Math.abs(right - left))}
            </b>
            <i data-more={right >= left} style={{ width: `${(100 * Math.abs(right - left)) / widest}%` }} />
          </li>
        ))}
      </ol>
      <p className={styles.links}>
        <a href={casesAddress}>Its cases</a>
        <a href={sessionsAddress}>Its sessions</a>
      </p>
    </section>
  );
}

/** How each side is, and what the difference comes to. */
function Rates({ sides, other, badEnds }: { sides: SidesComparison; other: string; badEnds: BadEnds }) {
  const here = badRate(sides.right, badEnds);
  const there = badRate(sides.left, badEnds);
  return (
    <>
      <p>
        <b>{wordThousandth(here.value)}</b> for 1,000 ({wordRange(here)}), {wordCount(sides.right.sessions, 'session', 'sessions')},{' '}
        {wordCount(sides.right.persons, 'person', 'people')}
        {sides.right.sessions < enoughSessions && ': few'}.
      </p>
      <p>
        {other}: {wordThousandth(there.value)} ({wordRange(there)}), {wordNumber(sides.left.sessions)} sessions.{' '}
        <b data-verdict={sides.comparison.verdict}>{capitalised(wordComparison(sides.comparison, { than: other }))}</b>.
      </p>
    </>
  );
}
