import { wordBaseline, wordComparison, wordDifference, wordDisagreement, wordVerdict } from '@rough-ember/core/stability/comparison-words';
import type { SideSums } from '@rough-ember/core/stability/sides';
import type { VersionComparison } from '@rough-ember/core/stability/version-comparison';
import { wordCount, wordNumber } from '../words/numbers';
import { capitalised } from '../words/sentence';
import styles from './Versions.module.css';

/** What a comparison of two versions comes to: in a few words, with the rest on hover. */
export function VersionVerdict({ comparison }: { comparison: VersionComparison }) {
  const { sessions, than } = comparison;
  return (
    <span
      data-verdict={sessions.verdict}
      title={`${capitalised(wordComparison(sessions, comparison))}. Compared with ${wordBaseline(comparison)}.`}
    >
      {wordVerdict(sessions.verdict, than)}
    </span>
  );
}

/** The same with everything that goes into it. */
export function VersionVerdictLines({ comparison }: { comparison: VersionComparison }) {
  const { sessions, version, than, isSample } = comparison;
  const disagreement = wordDisagreement(sessions);
  return (
    <>
      <p>
        <b data-verdict={sessions.verdict}>{capitalised(wordVerdict(sessions.verdict, than))}</b>
        {wordDifference(sessions, comparison.halfBy)}.
      </p>
      {disagreement && <p>{disagreement}</p>}
      <p className={styles.faint}>
        {version}: {wordSide(sessions.newer)}. {than}: {wordSide(sessions.older)}. It is compared with {wordBaseline(comparison)}
        {sessions.standardised && ', among equal systems, devices and countries'}.{isSample && ' One person in sixteen stands for all.'}
      </p>
    </>
  );
}

const wordSide = ({ hits, count, persons, personsHit }: SideSums): string =>
  `${wordNumber(hits)} of ${wordCount(count, 'session', 'sessions')} crashed, of ${wordNumber(personsHit)} of ${wordCount(persons, 'person', 'people')}`;
