import { Button, TextInput } from '@mantine/core';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { type SubmitEvent, useState } from 'react';
import { type RequestProblem, request } from '../client/api';
import { useLive } from '../client/use-live';
import { CommandBlock } from '../shell/CommandBlock';
import { CopyButton } from '../shell/CopyButton';
import type { Frame } from '../shell/frame';
import { ProblemNotice } from '../shell/Notice';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { wordCount } from '../words/numbers';
import { wordDate, wordTime } from '../words/time';
import styles from './IntakePage.module.css';

export interface IntakePageProps {
  readonly frame: Frame;
  readonly overview: IntakeOverview;
  readonly now: string;
}

export function IntakePage(props: IntakePageProps) {
  return (
    <Shell frame={props.frame} place="intake">
      <Intake {...props} />
    </Shell>
  );
}

/** What came in and what became of it, with the reason of every refusal; keys and tokens beside it. */
function Intake({ frame, overview: initial, now }: IntakePageProps) {
  const { data: overview, problem, refresh } = useLive(frame.app.slug, `/api/v1/apps/${frame.app.slug}/intake`, initial);
  const refused = overview.log.filter((entry) => entry.refused > 0).length;
  const accepted = overview.log.reduce((sum, entry) => sum + entry.accepted, 0);
  const sentence =
    overview.log.length === 0
      ? 'Nothing has come in yet.'
      : `The latest ${wordCount(overview.log.length, 'request', 'requests')}: ${wordCount(accepted, 'item', 'items')} accepted, ${refused === 0 ? 'none refused' : wordCount(refused, 'request refused', 'requests refused')}. Times are UTC.`;
  const side = (
    <>
      <Keys frame={frame} overview={overview} onChange={refresh} />
      <Tokens frame={frame} overview={overview} onChange={refresh} />
      {overview.log.length > 0 && <FirstReport frame={frame} overview={overview} />}
    </>
  );
  return (
    <SidePage sentence={sentence} problem={problem} side={side} sideLabel="Keys and tokens">
      {overview.log.length === 0 ? (
        <div className={styles.alone}>
          <FirstReport frame={frame} overview={overview} />
        </div>
      ) : (
        <Log log={overview.log} now={now} />
      )}
    </SidePage>
  );
}

function Log({ log, now }: { log: IntakeOverview['log']; now: string }) {
  return (
    <ol className={styles.log}>
      {log.map((entry) => (
        <li key={entry.id} className={styles.entry} data-refused={entry.refused > 0}>
          <time dateTime={entry.at} title={wordTime(entry.at)}>
            {entry.at.slice(0, 10) === now.slice(0, 10) ? entry.at.slice(11, 19) : wordDate(entry.at)}
          </time>
          <code className={styles.key}>{entry.keyName ?? 'no key'}</code>
          <span>
            {entry.what}
            <span className={styles.client}> {entry.client ?? 'unknown client'}</span>
            {entry.reason && <div className={styles.reason}>{entry.reason}</div>}
          </span>
          <b className={styles.outcome}>{wordOutcome(entry)}</b>
        </li>
      ))}
    </ol>
  );
}

function wordOutcome({ accepted, duplicates, refused }: IntakeOverview['log'][number]): string {
  const single = accepted + duplicates + refused === 1;
  const parts = [
    [accepted, 'accepted'],
    [duplicates, duplicates === 1 ? 'duplicate' : 'duplicates'],
    [refused, 'refused'],
  ] as const;
  return parts.flatMap(([count, word]) => (count === 0 ? [] : [single ? word : `${count} ${word}`])).join(', ');
}

/** A command that puts a first stack trace on the desk. */
function FirstReport({ frame, overview }: { frame: Frame; overview: IntakeOverview }) {
  const key = overview.keys.find((one) => one.revokedAt === null)?.keyText ?? '<intake key>';
  const command = `curl --data-binary @crash.txt \\
  -H 'authorization: Bearer ${key}' \\
  '${frame.serverAddress}/intake/v1/file?version=4.3.0&build=430'`;
  return (
    <section className={styles.first}>
      <h2>Send a report by hand</h2>
      <p>
        Put a stack trace, or the log of an Android device, into <code>crash.txt</code>:
      </p>
      <CommandBlock command={command} />
      <p>
        Apps send batches to <code>/intake/v1/batch</code>; their form is at <a href="/intake/v1/schema.json">/intake/v1/schema.json</a>.
      </p>
    </section>
  );
}

interface CredentialProps {
  readonly frame: Frame;
  readonly overview: IntakeOverview;
  readonly onChange: () => void;
}

function Keys({ frame, overview, onChange }: CredentialProps) {
  return (
    <section>
      <h2>Intake keys · ship inside the app</h2>
      <ul className={styles.credentials}>
        {overview.keys.map((key) => (
          <li key={key.id}>
            <b>{key.name}</b>
            <span className={styles.faint}>
              {key.revokedAt ? `revoked ${wordDate(key.revokedAt)}` : `since ${wordDate(key.createdAt)}`}
            </span>
            <code className={styles.secret}>{key.keyText}</code>
            {key.revokedAt === null && <RevokeButton frame={frame} path={`intake-keys/${key.id}`} name={key.name} onDone={onChange} />}
          </li>
        ))}
      </ul>
      <NewCredential frame={frame} path="intake-keys" label="Name of a new key" placeholder="wardens' tablets" onDone={onChange} />
    </section>
  );
}

function Tokens({ frame, overview, onChange }: CredentialProps) {
  return (
    <section>
      <h2>Upload tokens · keep secret</h2>
      <ul className={styles.credentials}>
        {overview.tokens.map((token) => (
          <li key={token.id}>
            <b>{token.name}</b>
            <span className={styles.faint}>
              {token.revokedAt
                ? `revoked ${wordDate(token.revokedAt)}`
                : token.lastUsedAt
                  ? `last used ${wordDate(token.lastUsedAt)}`
                  : 'never used'}
            </span>
            <code className={styles.secret}>{token.shownPrefix}…</code>
            {token.revokedAt === null && <RevokeButton frame={frame} path={`tokens/${token.id}`} name={token.name} onDone={onChange} />}
          </li>
        ))}
      </ul>
      <NewCredential frame={frame} path="tokens" label="Name of a new token" placeholder="build server" onDone={onChange} />
    </section>
  );
}

/** Revoking cannot be taken back, so it takes two presses. */
function RevokeButton({ frame, path, name, onDone }: { frame: Frame; path: string; name: string; onDone: () => void }) {
  const [sure, setSure] = useState(false);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  if (frame.account.role === 'viewer') return null;
  const revoke = async () => {
    if (!sure) return setSure(true);
    try {
      await request('DELETE', `/api/v1/apps/${frame.app.slug}/${path}`);
      onDone();
    } catch (error) {
      setProblem(error as RequestProblem);
    }
    setSure(false);
  };
  return (
    <span className={styles.revoke}>
      <Button size="compact-xs" variant="default" onClick={revoke} onBlur={() => setSure(false)} aria-label={`Revoke ${name}`}>
        {sure ? 'Revoke for good' : 'Revoke'}
      </Button>
      <ProblemNotice problem={problem} />
    </span>
  );
}

function NewCredential(props: { frame: Frame; path: string; label: string; placeholder: string; onDone: () => void }) {
  const { frame, path, label, placeholder, onDone } = props;
  const [made, setMade] = useState<string | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  if (frame.account.role === 'viewer') return null;
  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    try {
      const answer = await request<{ key?: string; token?: string }>('POST', `/api/v1/apps/${frame.app.slug}/${path}`, {
        name: new FormData(form).get('name'),
      });
      setMade(answer.token ?? null);
      setProblem(null);
      form.reset();
      onDone();
    } catch (error) {
      setProblem(error as RequestProblem);
    }
  };
  return (
    <form onSubmit={submit}>
      <div className={styles.new}>
        <TextInput name="name" aria-label={label} placeholder={placeholder} size="xs" required maxLength={100} />
        <Button type="submit" size="xs" variant="default">
          Make
        </Button>
      </div>
      <div role="status">
        {made && (
          <div className={styles.made}>
            Shown this once: <code>{made}</code> <CopyButton text={made}>Copy</CopyButton>
          </div>
        )}
      </div>
      <ProblemNotice problem={problem} />
    </form>
  );
}
