import { Button } from '@mantine/core';
import type { AlertRule } from '@rough-ember/core/alerts/alert-rule';
import { wordAgo } from '@rough-ember/core/words/time';
import type { RuleList, RuleView } from '@rough-ember/server/alerts/rule-views';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { useTimes } from '../shell/use-times';
import styles from './Alerts.module.css';
import { RuleEditor } from './RuleEditor';

interface ItemProps {
  readonly appSlug: string;
  readonly view: RuleView;
  readonly list: RuleList;
  readonly versions: readonly string[];
  readonly mayAct: boolean;
  readonly onChanged: () => void;
}

/** A rule as its sentence, when it last told, and what can be done with it. */
export function RuleItem({ appSlug, view, list, versions, mayAct, onChanged }: ItemProps) {
  const { wordTime } = useTimes();
  const [isEdited, setEdited] = useState(false);
  const { problem, attempt } = useAttempt();
  const { id, rule, sentence, lastAlertAt, problem: silent } = view;
  const path = { app: appSlug, id: String(id) };
  const keep = async (next: AlertRule) => {
    await request('PUT /apps/{app}/alert-rules/{id}', path, { body: next });
    setEdited(false);
    onChanged();
  };
  const drop = () =>
    attempt(async () => {
      await request('DELETE /apps/{app}/alert-rules/{id}', path, {});
      onChanged();
    });
  if (isEdited)
    return (
      <li>
        <RuleEditor appSlug={appSlug} initial={rule} list={list} versions={versions} onKeep={keep} onLeave={() => setEdited(false)} />
      </li>
    );
  return (
    <li className={styles.rule} data-paused={rule.paused}>
      <div>
        <p>
          {rule.paused && <b>Paused. </b>}
          {sentence}
        </p>
        <p className={styles.faint}>
          {lastAlertAt === null ? (
            'It has told nothing yet.'
          ) : (
            <>
              Last told{' '}
              <time dateTime={lastAlertAt} title={wordTime(lastAlertAt)}>
                {wordAgo(lastAlertAt, list.now)}
              </time>
              .
            </>
          )}
          {silent !== null && <span className={styles.failing}> {silent}</span>}
        </p>
        <ProblemNotice problem={problem} />
      </div>
      {mayAct && (
        <div className={styles.actions}>
          <Button size="compact-xs" variant="default" aria-label={`Change: ${sentence}`} onClick={() => setEdited(true)}>
            Change
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            aria-label={`${rule.paused ? 'Resume' : 'Pause'}: ${sentence}`}
            onClick={() => void attempt(() => keep({ ...rule, paused: !rule.paused }))}
          >
            {rule.paused ? 'Resume' : 'Pause'}
          </Button>
          <Button size="compact-xs" variant="subtle" aria-label={`Drop: ${sentence}`} onClick={() => void drop()}>
            Drop
          </Button>
        </div>
      )}
    </li>
  );
}
