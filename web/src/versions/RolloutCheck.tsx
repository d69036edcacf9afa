import { UnstyledButton } from '@mantine/core';
import { printDay } from '@rough-ember/core/session-index/person-day';
import { outcomeWords, verdictSentences, wordCondition } from '@rough-ember/core/stability/check-words';
import { wordFree, wordVerdict } from '@rough-ember/core/stability/comparison-words';
import type { CheckedCondition } from '@rough-ember/core/stability/rollout-check';
import type { Estimate } from '@rough-ember/core/stability/share';
import { wordDay } from '@rough-ember/core/words/time';
import type { CheckedRollout } from '@rough-ember/server/versions/load-versions';
import type { ReactNode } from 'react';
import styles from './Versions.module.css';
import { VersionVerdictLines } from './VersionVerdict';

/** Whether a version may go to more people, with each reason in a line. */
export function RolloutCheckView({
  check,
  here,
  onConditions,
  comparing,
}: {
  check: CheckedRollout;
  here: string;
  onConditions?: () => void;
  /** How it is chosen with what the version is compared. */
  comparing: ReactNode;
}) {
  return (
    <section aria-label="Rollout check" className={styles.check}>
      <h2>May {check.version} go further?</h2>
      <p className={styles.verdict} data-outcome={check.verdict}>
        {verdictSentences[check.verdict]}
      </p>
      <dl>
        {check.conditions.map((one) => (
          <div key={one.condition}>
            <dt data-outcome={one.outcome}>{outcomeWords[one.outcome]}</dt>
            <dd>
              {wordShortly(one)} <Why condition={one} version={check.version} here={here} />
            </dd>
          </div>
        ))}
      </dl>
      {check.comparison && (
        <>
          <h3>Compared with {check.comparison.than}</h3>
          <VersionVerdictLines comparison={check.comparison} />
        </>
      )}
      <FirstUsesTable check={check} />
      {comparing}
      <p className={styles.faint}>
        Sessions of released builds from {wordDay(printDay(check.span.first))} to today.{' '}
        <code>ember check-rollout --app … --version {check.version}</code> says the same, with exit code 0, 1 or 3.
        {onConditions && (
          <>
            {' '}
            <UnstyledButton className={styles.link} onClick={onConditions}>
              Change what is asked
            </UnstyledButton>
          </>
        )}
      </p>
    </section>
  );
}

/** How people do in as much use: who opens a version once can hardly meet a crash in it. */
function FirstUsesTable({ check: { firstSessions, firstDays, version, comparison } }: { check: CheckedRollout }) {
  const rows = [
    ...firstSessions.map((one) => ({ ...one, what: 'session' })),
    ...firstDays.map((one) => ({ ...one, what: 'day of use' })),
  ].filter((one) => one.own !== null);
  if (rows.length === 0) return null;
  return (
    <>
      <h3>People who met no crash, in as much use</h3>
      <table className={styles.firstUses}>
        <thead>
          <tr>
            <td>in their</td>
            <th scope="col">{version}</th>
            {comparison && <th scope="col">{comparison.than}</th>}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ what, uses, own, baseline }) => (
            <tr key={`${what} ${uses}`}>
              <th scope="row">first {uses === 1 ? what : `${uses} ${what.replace(/^\w+/, '$&s')}`}</th>
              <FreeShare share={own} />
              {comparison && <FreeShare share={baseline} />}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function FreeShare({ share }: { share: Estimate | null }) {
  if (share === null) return <td className={styles.faint}>too few got so far</td>;
  return (
    <td>
      <b>{wordFree(share.value)}</b>{' '}
      <span className={styles.faint}>{`${wordFree(share.low).replace(' %', '')} to ${wordFree(share.high)}`}</span>
    </td>
  );
}

/** The comparison stands below with all that goes into it. */
const wordShortly = (one: CheckedCondition): string =>
  one.condition === 'not-worse' && one.comparison
    ? `not worse than the version that it is compared with: ${wordVerdict(one.comparison.sessions.verdict, one.comparison.than)}`
    : wordCondition(one);

/** Where the reason of a condition can be looked at. */
function Why({ condition, version, here }: { condition: CheckedCondition; version: string; here: string }) {
  if (condition.outcome === 'met') return null;
  const scope = `version=${encodeURIComponent(version)}`;
  const links: Readonly<Record<CheckedCondition['condition'], string>> = {
    sessions: `${here}/crash-free?${scope}`,
    'crash-free': `${here}/crash-free`,
    'start-crashes': `${here}/sessions?${scope}&end=crashed-at-start`,
    'new-cases': `${here}/cases?${scope}&order=news`,
    symbols: `${here}/symbols`,
    'not-worse': `${here}/crash-free`,
  };
  return <a href={links[condition.condition]}>why</a>;
}
