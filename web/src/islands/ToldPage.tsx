import { Button, Checkbox } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { ToldItem, ToldList } from '@rough-ember/server/told/load-told';
import { useEffect, useState } from 'react';
import { addressOf, read, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { useTimes } from '../shell/use-times';
import { areNoticesWished, wishNotices } from '../told/browser-notices';
import styles from '../told/Told.module.css';
import { noteOf, wordReason, wordTold } from '../told/told-words';
import { wordCount } from '../words/numbers';

/** What was told to whoever looks, the newest first. */
export function ToldPage({ shell, told }: { shell: PageShell; told: ToldList }) {
  const [unread, setUnread] = useState(told.unread);
  return (
    <Shell shell={{ ...shell, unread }} place="for-you">
      <Told shell={shell} told={told} onUnread={setUnread} />
    </Shell>
  );
}

function Told({ shell, told: initial, onUnread }: { shell: PageShell; told: ToldList; onUnread: (unread: number) => void }) {
  const { data, problem, refresh } = useLive(shell.app.slug, addressOf('GET /account/told', {}), initial);
  const [older, setOlder] = useState<readonly ToldItem[]>([]);
  const [more, setMore] = useState<boolean | null>(null);
  const { problem: refused, attempt } = useAttempt();
  useEffect(() => onUnread(data.unread), [data.unread, onUnread]);
  const items = [...data.items, ...older.filter(({ id }) => id < (data.items.at(-1)?.id ?? 0))];
  const mark = (body: { ids: number[] } | { upTo: number }) =>
    attempt(async () => {
      await request('POST /account/told/read', {}, { body, keepalive: true });
      refresh();
    });
  const loadOlder = () =>
    attempt(async () => {
      const next = await read(addressOf('GET /account/told', {}, { before: items.at(-1)?.id ?? 1 }), new AbortController().signal);
      setOlder((known) => [...known, ...next.items]);
      setMore(next.more);
    });
  const newest = data.items[0];
  return (
    <main className={styles.page}>
      <div className={styles.head}>
        <h1>For you</h1>
        <span className={styles.faint} role="status">
          {data.unread === 0 ? 'nothing unread' : `${data.unread} unread`}
        </span>
        {newest && data.unread > 0 && (
          <Button size="compact-sm" variant="default" onClick={() => void mark({ upTo: newest.id })}>
            Mark all as read
          </Button>
        )}
      </div>
      <ProblemNotice problem={refused ?? problem} />
      <NoticesWish />
      {items.length === 0 ? (
        <p className={styles.faint}>
          Nothing yet. What comes here: notes that mention you as <code>@{shell.account.email.split('@', 1)[0]}</code>, cases that you are
          asked to look after, what others, or new reports, do to the cases that you take part in, and what{' '}
          <a href={`/apps/${shell.app.slug}/alerts`}>alert rules</a> tell you.
        </p>
      ) : (
        <ol className={styles.items} aria-label={wordCount(items.length, 'message', 'messages')}>
          {items.map((item) => (
            <Item key={item.id} item={item} self={shell.account.email} now={data.now} onRead={() => void mark({ ids: [item.id] })} />
          ))}
        </ol>
      )}
      {(more ?? data.more) && (
        <Button size="compact-sm" variant="default" onClick={() => void loadOlder()}>
          Older ones
        </Button>
      )}
    </main>
  );
}

/** Whether this browser shows what comes as notices of its own, while a page is open. */
function NoticesWish() {
  const [wished, setWished] = useState(false);
  const [isRefused, setRefused] = useState(false);
  // Only the browser knows.
  useEffect(() => setWished(areNoticesWished()), []);
  const wish = async (next: boolean) => {
    const isOn = await wishNotices(next);
    setWished(isOn);
    setRefused(next && !isOn);
  };
  return (
    <Checkbox
      size="xs"
      label="This browser tells me, too, while one of these pages is open"
      description={isRefused ? 'The browser does not allow it; its settings for this address can.' : undefined}
      checked={wished}
      onChange={(event) => void wish(event.currentTarget.checked)}
    />
  );
}

interface ItemProps {
  readonly item: ToldItem;
  readonly self: string;
  readonly now: string;
  readonly onRead: () => void;
}

function Item({ item, self, now, onRead }: ItemProps) {
  const { wordTime } = useTimes();
  const note = noteOf(item);
  const reason = wordReason(item);
  return (
    <li className={styles.item} data-read={item.isRead}>
      <span className={styles.mark} aria-hidden="true" />
      <div>
        <p className={styles.told}>
          {wordTold(item, self)}
          {!item.isRead && <span hidden>, unread</span>}
        </p>
        <p>
          {item.case && (
            <>
              <a href={`/apps/${item.app.slug}/cases/${item.case.ref}?last=all`} onClick={item.isRead ? undefined : onRead}>
                {item.case.ref} {item.case.what}
              </a>{' '}
              <code>{item.case.where}</code>
            </>
          )}
          {item.told && (
            <a href={item.told.path} onClick={item.isRead ? undefined : onRead}>
              {item.told.headline}
            </a>
          )}
        </p>
        {note && <blockquote>{note}</blockquote>}
        <p className={styles.faint}>
          {item.app.name}
          {reason && ` · ${reason}`} ·{' '}
          <time dateTime={item.at} title={wordTime(item.at)}>
            {wordAgo(item.at, now)}
          </time>
        </p>
      </div>
      {!item.isRead && (
        <Button size="compact-xs" variant="subtle" aria-label={`Mark as read: ${wordTold(item, self)}`} onClick={onRead}>
          Read
        </Button>
      )}
    </li>
  );
}
