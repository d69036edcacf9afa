import { Button } from '@mantine/core';
import type { Answer } from '@rough-ember/core/ask/answer';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import styles from './Ask.module.css';

interface AnswerNotesProps {
  readonly appSlug: string;
  readonly answer: Answer;
  readonly mayChange: boolean;
  readonly onExact: () => void;
  /** An attribute was made filterable. */
  readonly onMade: () => void;
}

/** From when to when an answer is, what it estimates, and what of the question could not be asked of everything. */
export function AnswerNotes({ appSlug, answer, mayChange, onExact, onMade }: AnswerNotesProps) {
  const { from, to, error, unasked, undivided, notFilterable } = answer;
  const { problem, attempt } = useAttempt();
  const make = async (name: string) => {
    if (await attempt(() => request('POST /apps/{app}/attributes', { app: appSlug }, { body: { name } }))) onMade();
  };
  return (
    <div className={styles.notes}>
      <p>
        {from === null ? 'From the first report and session' : `From ${from}`} to {to}, days of UTC, the last one so far.
        {error > 0 && ` People and sessions are counted in a sample of the people, ± ${(100 * error).toFixed(2)} % in all.`}{' '}
        {error > 0 && (
          <Button size="compact-xs" variant="subtle" onClick={onExact}>
            count everybody
          </Button>
        )}
      </p>
      {unasked.length > 0 && <p>Sessions do not tell {unasked.join(', ')}; that part of the filter narrows reports alone.</p>}
      {undivided.length > 0 && (
        <p>Sessions do not tell {undivided.join(', ')}; each value is counted against the sessions of all of them together.</p>
      )}
      {notFilterable.map((name) => (
        <p key={name}>
          Reports are not told apart by {name} yet.{' '}
          {mayChange ? (
            <Button size="compact-xs" variant="default" onClick={() => make(name)}>
              Make {name} filterable, for the reports of before too
            </Button>
          ) : (
            'Whoever may change the app can make it filterable, on its desk settings.'
          )}
        </p>
      ))}
      <ProblemNotice problem={problem} />
    </div>
  );
}
