import { Button } from '@mantine/core';
import { type AlertRule, alertRuleSchema } from '@rough-ember/core/alerts/alert-rule';
import { wordAgo } from '@rough-ember/core/words/time';
import type { AlertView, MessageView, RuleList } from '@rough-ember/server/alerts/rule-views';
import { useEffect, useState } from 'react';
import styles from '../alerts/Alerts.module.css';
import { ChannelForm, ChannelItem } from '../alerts/ChannelForm';
import { RuleEditor } from '../alerts/RuleEditor';
import { RuleItem } from '../alerts/RuleItem';
import { addressOf, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';

export interface AlertsPageProps {
  readonly shell: PageShell;
  readonly list: RuleList;
  readonly alerts: { readonly alerts: readonly AlertView[]; readonly more: boolean };
  readonly messages: { readonly messages: readonly MessageView[] };
  /** Oldest first. */
  readonly versions: readonly string[];
  /** The demo shows what was sent. */
  readonly hasStandIns: boolean;
}

export function AlertsPage(props: AlertsPageProps) {
  return (
    <Shell shell={props.shell} place="alerts">
      <Alerts {...props} />
    </Shell>
  );
}

const lookAgainMs = 4_000;

const newRule: AlertRule = alertRuleSchema.parse({ what: { kind: 'case-begins' }, where: 'kind=crash', whom: { people: 'everybody' } });

/** Who is told of what, by which ways, and what was told. */
function Alerts({ shell, versions, hasStandIns, ...initial }: AlertsPageProps) {
  const { app, account } = shell;
  const path = { app: app.slug };
  const { data: list, problem, refresh } = useLive(app.slug, addressOf('GET /apps/{app}/alert-rules', path), initial.list);
  const { data: told, refresh: refreshTold } = useLive(app.slug, addressOf('GET /apps/{app}/alerts', path), initial.alerts);
  const { data: sent, refresh: refreshSent } = useLive(app.slug, addressOf('GET /apps/{app}/messages', path), initial.messages);
  // What is told and sent changes nothing that other screens show, so no change tells of it.
  useEffect(() => {
    const timer = setInterval(() => {
      if (document.visibilityState !== 'visible') return;
      refresh();
      refreshTold();
      refreshSent();
    }, lookAgainMs);
    return () => clearInterval(timer);
  });
  const [isNew, setNew] = useState(false);
  const mayAct = account.role !== 'viewer';
  const { problem: refused, attempt } = useAttempt();
  const changed = () => {
    refresh();
    refreshTold();
  };
  const make = async (rule: AlertRule) => {
    await request('POST /apps/{app}/alert-rules', path, { body: rule });
    setNew(false);
    changed();
  };
  const makeUsual = () =>
    attempt(async () => {
      await request('POST /apps/{app}/alert-rules/usual', path, {});
      changed();
    });
  const side = (
    <>
      <Channels shell={shell} list={list} mayAct={mayAct} onChanged={changed} />
      <Messages shell={shell} messages={sent.messages} now={list.now} mayAct={mayAct} hasStandIns={hasStandIns} />
    </>
  );
  return (
    <SidePage sentence={sentenceOf(list)} problem={refused ?? problem} side={side} sideLabel="Channels and messages">
      <div className={styles.page}>
        <section aria-labelledby="rules">
          <div className={styles.head}>
            <h2 id="rules">Rules</h2>
            {mayAct && !isNew && (
              <Button size="compact-sm" onClick={() => setNew(true)}>
                New rule
              </Button>
            )}
            {mayAct && list.rules.length === 0 && (
              <Button size="compact-sm" variant="default" onClick={() => void makeUsual()}>
                Begin with the usual rules
              </Button>
            )}
          </div>
          {isNew && (
            <RuleEditor appSlug={app.slug} initial={newRule} list={list} versions={versions} onKeep={make} onLeave={() => setNew(false)} />
          )}
          {list.rules.length === 0 && !isNew && (
            <p className={styles.faint}>
              Nobody is told of anything. The usual rules tell everybody of new crashes and of those that come back, and once a day of what
              got surely worse.
            </p>
          )}
          <ol className={styles.rules}>
            {list.rules.map((view) => (
              <RuleItem
                key={`${view.id} ${view.sentence}`}
                appSlug={app.slug}
                view={view}
                list={list}
                versions={versions}
                mayAct={mayAct}
                onChanged={changed}
              />
            ))}
          </ol>
        </section>
        <Told alerts={told.alerts} more={told.more} />
      </div>
    </SidePage>
  );
}

function sentenceOf({ rules, channels, sendsMail }: RuleList): string {
  const inForce = rules.filter(({ rule }) => !rule.paused).length;
  if (inForce === 0) return 'No rule tells anybody of anything.';
  const mail = sendsMail ? 'by mail and on “For you”' : 'on “For you” alone, since this server sends no mail (EMBER_SMTP_URL is not set)';
  const away = channels.filter((one) => one.failingSince !== null).length;
  return `${wordCount(inForce, 'rule tells', 'rules tell')} people ${mail}, and ${wordCount(channels.length, 'channel', 'channels')}${away > 0 ? `, of which ${away} cannot be reached` : ''}.`;
}

function Told({ alerts, more }: { alerts: readonly AlertView[]; more: boolean }) {
  const { wordTime } = useTimes();
  return (
    <section aria-labelledby="told">
      <h2 id="told">What was told</h2>
      {alerts.length === 0 ? (
        <p className={styles.faint}>Nothing yet.</p>
      ) : (
        <ol className={styles.told}>
          {alerts.map(({ id, at, headline, path }) => (
            <li key={id}>
              <time dateTime={at}>{wordTime(at)}</time>
              <a href={path}>{headline}</a>
            </li>
          ))}
        </ol>
      )}
      {more && <p className={styles.faint}>Older ones are told by the API.</p>}
    </section>
  );
}

function Channels({ shell, list, mayAct, onChanged }: { shell: PageShell; list: RuleList; mayAct: boolean; onChanged: () => void }) {
  const [isNew, setNew] = useState(false);
  return (
    <section aria-labelledby="channels">
      <div className={styles.head}>
        <h2 id="channels">Channels</h2>
        {mayAct && !isNew && (
          <Button size="compact-xs" variant="default" onClick={() => setNew(true)}>
            New channel
          </Button>
        )}
      </div>
      {isNew && (
        <ChannelForm
          appSlug={shell.app.slug}
          isOwner={shell.account.role === 'owner'}
          onDone={() => {
            setNew(false);
            onChanged();
          }}
        />
      )}
      {list.channels.length === 0 && !isNew && <p>None yet: a chat room, a webhook, a Matrix room, text messages, or mail to a list.</p>}
      <ul className={styles.channelList}>
        {list.channels.map((channel) => (
          <ChannelItem key={channel.id} appSlug={shell.app.slug} channel={channel} mayAct={mayAct} now={list.now} wordAgo={wordAgo} />
        ))}
      </ul>
    </section>
  );
}

const shownMessages = 8;

const stateWords: Readonly<Record<MessageView['state'], string>> = { waiting: 'waits', sent: 'delivered', failed: 'given up' };

function Messages(props: { shell: PageShell; messages: readonly MessageView[]; now: string; mayAct: boolean; hasStandIns: boolean }) {
  const { shell, messages, now, mayAct, hasStandIns } = props;
  const { problem, attempt } = useAttempt();
  // What needs somebody stands first.
  const order = { failed: 0, waiting: 1, sent: 2 } as const;
  const shown = [...messages].sort((a, b) => order[a.state] - order[b.state]).slice(0, shownMessages);
  return (
    <section aria-labelledby="messages">
      <div className={styles.head}>
        <h2 id="messages">Messages</h2>
        {hasStandIns && <a href={`/apps/${shell.app.slug}/pigeon-loft`}>Read them in the pigeon loft</a>}
      </div>
      <ProblemNotice problem={problem} />
      {shown.length === 0 && <p>None was sent yet.</p>}
      <ul className={styles.channelList}>
        {shown.map(({ id, subject, to, state, attempts, madeAt, answer }) => (
          <li key={id} className={styles.channel}>
            <div>{subject}</div>
            <div className={state === 'failed' ? styles.failing : styles.faint}>
              To {to}, {stateWords[state]}, {wordAgo(madeAt, now)}
              {state !== 'sent' && attempts > 0 && `, after ${wordCount(attempts, 'attempt', 'attempts')}: ${answer ?? ''}`}
              {state === 'failed' && mayAct && (
                <Button
                  size="compact-xs"
                  variant="subtle"
                  onClick={() =>
                    void attempt(() => request('POST /apps/{app}/messages/{id}/again', { app: shell.app.slug, id: String(id) }, {}))
                  }
                >
                  Send it again
                </Button>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
