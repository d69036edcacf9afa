import { Button } from '@mantine/core';
import { type AlertRule, alertKinds } from '@rough-ember/core/alerts/alert-rule';
import type { RuleList } from '@rough-ember/server/alerts/rule-views';
import type { TriedRule } from '@rough-ember/server/alerts/try-rule';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';
import styles from './Alerts.module.css';
import { RuleSentence } from './RuleSentence';

interface EditorProps {
  readonly appSlug: string;
  readonly initial: AlertRule;
  readonly list: Pick<RuleList, 'channels' | 'people'>;
  readonly versions: readonly string[];
  readonly onKeep: (rule: AlertRule) => Promise<unknown>;
  readonly onLeave: () => void;
}

/** Writes a rule, tries it on what was, and keeps it. */
export function RuleEditor({ appSlug, initial, list, versions, onKeep, onLeave }: EditorProps) {
  const [rule, setRule] = useState(initial);
  const [tried, setTried] = useState<{ readonly of: AlertRule; readonly found: TriedRule } | null>(null);
  const [isTrying, setTrying] = useState(false);
  const { problem, attempt } = useAttempt();
  const tryIt = async () => {
    setTrying(true);
    await attempt(async () => {
      const found = await request('POST /apps/{app}/alert-rules/try', { app: appSlug }, { body: rule });
      setTried({ of: rule, found });
    });
    setTrying(false);
  };
  const mayTry = alertKinds[rule.what.kind].historyDays > 0;
  return (
    <fieldset className={styles.editor} aria-label="Rule">
      <RuleSentence appSlug={appSlug} rule={rule} list={list} versions={versions} onChange={setRule} />
      <div className={styles.actions}>
        <Button size="compact-sm" onClick={() => void attempt(() => onKeep(rule))}>
          Keep the rule
        </Button>
        <Button size="compact-sm" variant="default" disabled={!mayTry} loading={isTrying} onClick={() => void tryIt()}>
          Try it on the last 30 days
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={onLeave}>
          Leave it
        </Button>
        {!mayTry && <span className={styles.faint}>What this rule goes by is not kept, so there is no history to try it on.</span>}
      </div>
      <ProblemNotice problem={problem} />
      {tried && <Tried tried={tried.found} isOld={tried.of !== rule} />}
    </fieldset>
  );
}

/** What a rule would have told. */
function Tried({ tried, isOld }: { tried: TriedRule; isOld: boolean }) {
  const { wordTime } = useTimes();
  const { alerts, messages, newest, days, problem } = tried;
  if (problem !== null) return <p className={styles.faint}>{problem}</p>;
  return (
    <div role="status" data-old={isOld} className={styles.tried}>
      <p>
        {alerts === 0
          ? `In the last ${days} days it would have told nothing.`
          : `In the last ${days} days it would have told ${wordCount(alerts, 'time', 'times')}, in ${wordCount(messages, 'message', 'messages')}${newest.length < alerts ? `; the newest ${newest.length}:` : ':'}`}
        {isOld && ' The rule was changed since.'}
      </p>
      <ul className={styles.triedList}>
        {newest.map(({ at, headline, path }) => (
          <li key={`${at} ${headline}`}>
            <time dateTime={at}>{wordTime(at)}</time> <a href={path}>{headline}</a>
          </li>
        ))}
      </ul>
    </div>
  );
}
