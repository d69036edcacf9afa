import { Button, Textarea } from '@mantine/core';
import type { CaseEventView } from '@rough-ember/server/desk/case-file';
import { lazy, type SubmitEvent, Suspense, useState } from 'react';
import { problemOf, type RequestProblem, request } from '../client/api';
import { useSeen } from '../client/use-seen';
import { wordAgo, wordTime } from '../words/time';
import { wordEvent } from './status-words';
import styles from './Talk.module.css';

export interface TalkProps {
  readonly appSlug: string;
  readonly refName: string;
  readonly history: readonly CaseEventView[];
  readonly now: string;
  readonly mayAct: boolean;
  /** Mail addresses of those who can be mentioned. */
  readonly colleagues: readonly string[];
}

// Notes are read further down, so what lays them out need not come with the first view.
const Note = lazy(() => import('./Note').then(({ Note }) => ({ default: Note })));

/** What people wrote of a case and did to it, the newest first; the last change can be taken back. */
export function Talk({ appSlug, refName, history, now, mayAct, colleagues }: TalkProps) {
  const [text, setText] = useState('');
  const { ref, seen } = useSeen<HTMLDivElement>();
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const path = { app: appSlug, ref: refName };
  const run = async (ask: () => Promise<unknown>) => {
    setProblem(null);
    try {
      await ask();
      return true;
    } catch (error) {
      setProblem(problemOf(error));
      return false;
    }
  };
  const write = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (text.trim() !== '' && (await run(() => request('POST /apps/{app}/cases/{ref}/notes', path, { body: { text } })))) setText('');
  };
  return (
    <div className={styles.talk} ref={ref}>
      {mayAct && (
        <form onSubmit={write} className={styles.form}>
          <Textarea
            aria-label="Note"
            placeholder="What did you find out? Markdown; @name tells a colleague; addresses of tickets and commits become links"
            autosize
            minRows={1}
            maxRows={12}
            value={text}
            onChange={(event) => setText(event.currentTarget.value)}
          />
          <Button type="submit" size="compact-sm" variant="default" disabled={text.trim() === ''}>
            Keep the note
          </Button>
        </form>
      )}
      {problem && (
        <p role="alert">
          <b className={styles.problem}>{problem.message}</b> {problem.remedy}
        </p>
      )}
      {history.length === 0 && <p className={styles.faint}>Nobody has done anything to this case yet.</p>}
      <ol className={styles.events}>
        {history.map((event) => (
          <li key={event.id} data-undone={event.undone}>
            <span>
              {event.actor !== '' && <b>{event.actor}</b>} {wordEvent(event)}
              {event.undone && ', which was taken back'}
              <time dateTime={event.at} title={wordTime(event.at)} className={styles.faint}>
                {' '}
                · {wordAgo(event.at, now)}
              </time>
              {mayAct && event.mayUndo && (
                <>
                  {' '}
                  <Button
                    size="compact-xs"
                    variant="subtle"
                    onClick={() => void run(() => request('POST /apps/{app}/cases/{ref}/undo', path, { body: { event: event.id } }))}
                  >
                    Undo
                  </Button>
                </>
              )}
            </span>
            {event.kind === 'note' && (
              <Suspense fallback={<p className={styles.note}>{String(event.detail.text)}</p>}>
                {seen ? (
                  <Note text={String(event.detail.text)} people={colleagues} />
                ) : (
                  <p className={styles.note}>{String(event.detail.text)}</p>
                )}
              </Suspense>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}
