import type { CaseAction } from '@rough-ember/core/cases/case-status';
import { dayMs } from '@rough-ember/core/durations';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import styles from './CaseActions.module.css';
import { Confirmation } from './Confirmation';

/** What the links of messages ask for. Nothing is done before somebody says so: programs follow links, too. */
export const askedActions = ['mute-a-day', 'assign-to-me'] as const;
export type AskedActionName = (typeof askedActions)[number];

interface AskedProps {
  readonly appSlug: string;
  readonly caseRef: string;
  readonly asked: AskedActionName;
  /** Mail address of whoever looks. */
  readonly me: string;
  readonly onDone: () => void;
}

/** Asks whether what a message offered is to be done. */
export function AskedAction({ appSlug, caseRef, asked, me, onDone }: AskedProps) {
  const [isLeft, setLeft] = useState(false);
  const { problem, attempt } = useAttempt();
  const leave = () => {
    setLeft(true);
    const here = new URL(window.location.href);
    here.searchParams.delete('do');
    window.history.replaceState(null, '', here);
  };
  const run = async () => {
    const action: CaseAction =
      asked === 'assign-to-me'
        ? { action: 'assign', assignee: me }
        : { action: 'mute', mute: { until: 'date', date: new Date(Date.now() + dayMs).toISOString() } };
    const isDone = await attempt(() => request('POST /apps/{app}/cases/actions', { app: appSlug }, { body: { cases: [caseRef], action } }));
    if (!isDone) return;
    leave();
    onDone();
  };
  if (isLeft) return null;
  const words = asked === 'assign-to-me' ? `Look after ${caseRef} yourself?` : `Mute ${caseRef} for a day?`;
  return (
    <div className={styles.asked}>
      <Confirmation words={words} onDo={() => void run()} onLeave={leave} />
      <ProblemNotice problem={problem} />
    </div>
  );
}
