import { Button, Textarea } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { CaseEventView } from '@rough-ember/server/desk/case-file';
import { lazy, type SubmitEvent, Suspense, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useSeen } from '../client/use-seen';
import { useTimes } from '../shell/use-times';
import { wordEvent } from './status-words';
import styles from './Talk.module.css';
import { useEvidence } from './use-evidence';

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

interface HistoryLineProps {
  readonly event: CaseEventView;
  readonly now: string;
  readonly colleagues: readonly string[];
  /** The note is laid out, and not only its text. */
  readonly showsNote: boolean;
  /** Null where it cannot be taken back. */
  readonly onUndo: (() => void) | null;
}

/** One thing that was done to a case. */
function HistoryLine({ event, now, colleagues, showsNote, onUndo }: HistoryLineProps) {
  const { wordTime } = useTimes();
  const text = String(event.detail.text);
  const plain = <p className={styles.note}>{text}</p>;
  return (
    <li data-undone={event.undone}>
      <span>
        {event.actor !== '' && <b>{event.actor}</b>} {wordEvent(event)}
        {event.undone && ', which was taken back'}
        <time dateTime={event.at} title={wordTime(event.at)} className={styles.faint}>
          {' '}
          · {wordAgo(event.at, now)}
        </time>
        {onUndo && (
          <>
            {' '}
            <Button size="compact-xs" variant="subtle" onClick={onUndo}>
              Undo
            </Button>
          </>
        )}
      </span>
      {event.kind === 'note' && <Suspense fallback={plain}>{showsNote ? <Note text={text} people={colleagues} /> : plain}</Suspense>}
    </li>
  );
}

/** What people wrote of a case and did to it, the newest first; the last change can be taken back. */
export function Talk({ appSlug, refName, history, now, mayAct, colleagues }: TalkProps) {
  const [text, setText] = useState('');
  const { ref, seen } = useSeen<HTMLDivElement>();
  const { problem, attempt } = useAttempt();
  const path = { app: appSlug, ref: refName };
  const { answer: following } = useEvidence(appSlug, refName, 'follow');
  const follow = (follows: boolean) => attempt(() => request('PUT /apps/{app}/cases/{ref}/follow', path, { body: { follows } }));
  const write = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (text.trim() !== '' && (await attempt(() => request('POST /apps/{app}/cases/{ref}/notes', path, { body: { text } })))) setText('');
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
      {following && (
        <p className={styles.faint}>
          {following.follows
            ? 'You follow this case: what happens to it stands under For you.'
            : 'What happens to it is told to whoever takes part.'}{' '}
          <Button size="compact-xs" variant="subtle" onClick={() => void follow(!following.follows)}>
            {following.follows ? 'Follow no more' : 'Follow'}
          </Button>
        </p>
      )}
      {problem && (
        <p role="alert">
          <b className={styles.problem}>{problem.message}</b> {problem.remedy}
        </p>
      )}
      {history.length === 0 && <p className={styles.faint}>Nobody has done anything to this case yet.</p>}
      <ol className={styles.events}>
        {history.map((event) => (
          <HistoryLine
            key={event.id}
            {...{ event, now, colleagues }}
            showsNote={seen}
            onUndo={
              mayAct && event.mayUndo
                ? () => void attempt(() => request('POST /apps/{app}/cases/{ref}/undo', path, { body: { event: event.id } }))
                : null
            }
          />
        ))}
      </ol>
    </div>
  );
}
