import { Button } from '@mantine/core';
import { wordDate } from '@rough-ember/core/words/time';
import type { AnswerOf } from '@rough-ember/server/api/registry';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useShortcuts } from '../desk/use-shortcuts';
import { ProblemNotice } from '../shell/Notice';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';
import styles from './SimilarCases.module.css';
import type { useEvidence } from './use-evidence';

interface ChangesProps {
  readonly changes: ReturnType<typeof useEvidence<'changes'>>;
  readonly appSlug: string;
  readonly refName: string;
  readonly assignee: string | null;
  readonly colleagues: readonly string[];
  readonly mayAct: boolean;
  readonly hasKeys: boolean;
}

type Found = NonNullable<AnswerOf<'GET /apps/{app}/cases/{ref}/changes'>['found']>;

/** The commits that may have brought a case, and who looks after its code. Nothing where the app names no checkout. */
export function LikelyChanges(props: ChangesProps) {
  const { appSlug, refName, assignee, colleagues, mayAct, hasKeys } = props;
  const { answer } = props.changes;
  const { problem, attempt } = useAttempt();
  const found = answer?.found ?? null;
  const give = (email: string) =>
    void attempt(() =>
      request(
        'POST /apps/{app}/cases/actions',
        { app: appSlug },
        { body: { cases: [refName], action: { action: 'assign', assignee: email } } },
      ),
    );
  const mayGive = (email: string) => mayAct && email !== assignee && colleagues.includes(email);
  const likeliest = found?.changes[0]?.authorEmail ?? found?.lastChange?.authorEmail;
  useShortcuts(hasKeys && likeliest !== undefined && mayGive(likeliest) ? { g: () => give(likeliest) } : {});
  if (found === null) return answer?.problem ? <p className={styles.faint}>No likely change is known: {answer.problem}</p> : null;
  return (
    <div className={styles.similar}>
      <h3 className={styles.title}>{titleOf(found)}</h3>
      <ul className={styles.list}>
        {found.changes.map((change, place) => (
          <li key={change.hash}>
            <ChangeLine change={change} />
            <div>
              {change.authorName} {change.reason}.
              {mayGive(change.authorEmail) && (
                <Button size="compact-xs" variant="subtle" onClick={() => give(change.authorEmail)}>
                  Give it to {change.authorName}
                  {place === 0 && hasKeys && <kbd className={styles.key}>g</kbd>}
                </Button>
              )}
            </div>
          </li>
        ))}
        {found.changes.length === 0 && found.lastChange && (
          <li>
            The line was changed last by <ChangeLine change={found.lastChange} />
            <div>
              {found.lastChange.authorName}
              {mayGive(found.lastChange.authorEmail) && (
                <Button size="compact-xs" variant="subtle" onClick={() => give(found.lastChange?.authorEmail ?? '')}>
                  Give it to {found.lastChange.authorName}
                  {hasKeys && <kbd className={styles.key}>g</kbd>}
                </Button>
              )}
            </div>
          </li>
        )}
      </ul>
      {found.owners.length > 0 && (
        <p className={styles.faint}>
          <code>{found.path}</code> is looked after by {found.owners.join(', ')}.
        </p>
      )}
      <ProblemNotice problem={problem} />
    </div>
  );
}

function titleOf({ from, to, commits, changes }: Found): string {
  if (from === null) return `No version was before ${to}`;
  const between = `${wordCount(commits, 'commit', 'commits')} from ${from} to ${to}`;
  return changes.length === 0 ? `None of ${between} touched its frames` : `Likely change, of ${between}`;
}

function ChangeLine({ change }: { change: Omit<Found['changes'][number], 'reason'> }) {
  const { zone } = useTimes();
  return (
    <>
      <b>{change.subject}</b>{' '}
      <span className={styles.faint}>
        <code title={change.hash}>{change.hash.slice(0, 9)}</code>, {wordDate(change.at, zone)}
      </span>
    </>
  );
}
