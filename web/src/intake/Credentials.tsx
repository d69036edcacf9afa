import { Button, NativeSelect, TextInput } from '@mantine/core';
import type { KeyRules } from '@rough-ember/core/report/key-rules';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { wordDate } from '@rough-ember/core/words/time';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import styles from './Credentials.module.css';
import { KeyDrawer } from './KeyDrawer';

const tokenWords = { upload: 'upload files', read: 'read', write: 'read and change' } as const;

/** The rules of a key in a line: what differs from taking everything. */
export function wordRules(rules: KeyRules): string {
  const parts = [
    rules.kinds.length < reportKinds.length && `takes ${rules.kinds.join(', ') || 'no reports'}`,
    !rules.sessions && 'no sessions',
    rules.excludedBuildTypes.length > 0 && `excludes ${rules.excludedBuildTypes.join(', ')} builds`,
    rules.refusedBuildTypes.length > 0 && `refuses ${rules.refusedBuildTypes.join(', ')}`,
    ...Object.entries(rules.samplePercent).map(([kind, percent]) => percent < 100 && `${percent} % of ${kind}`),
    rules.itemsPerMinute !== null && `${rules.itemsPerMinute} a minute`,
  ];
  return parts.filter((part) => part !== false).join(' · ') || 'takes everything';
}

interface CredentialProps {
  readonly shell: PageShell;
  readonly overview: IntakeOverview;
  readonly onChange: () => void;
}

/** The keys that ship inside the app, each with what it takes. */
export function Keys({ shell, overview, onChange }: CredentialProps) {
  const [opened, setOpened] = useState<number | null>(null);
  const changing = overview.keys.find((key) => key.id === opened);
  return (
    <section>
      <h2>Intake keys · ship inside the app</h2>
      <ul className={styles.credentials}>
        {overview.keys.map((key) => (
          <li key={key.id}>
            <b>{key.name}</b>
            <span className={styles.faint}>
              {key.revokedAt
                ? `revoked ${wordDate(key.revokedAt)}`
                : key.lastUsedAt
                  ? `last used ${wordDate(key.lastUsedAt)}`
                  : 'never used'}
            </span>
            <code className={styles.secret}>{key.keyText}</code>
            <span className={styles.faint}>{wordRules(key.rules)}</span>
            {key.revokedAt === null && shell.account.role !== 'viewer' && (
              <span className={styles.revoke}>
                <Button size="compact-xs" variant="default" onClick={() => setOpened(key.id)} aria-label={`Rules of ${key.name}`}>
                  Rules
                </Button>{' '}
                <RevokeButton shell={shell} what="intake-keys" id={key.id} name={key.name} onDone={onChange} />
              </span>
            )}
          </li>
        ))}
      </ul>
      <NewCredential shell={shell} what="intake-keys" label="Name of a new key" placeholder="wardens' tablets" onDone={onChange} />
      {changing && <KeyDrawer appSlug={shell.app.slug} intakeKey={changing} onClose={() => setOpened(null)} onChange={onChange} />}
    </section>
  );
}

/** Secrets for build servers and scripts. */
export function Tokens({ shell, overview, onChange }: CredentialProps) {
  return (
    <section>
      <h2>Tokens · keep secret</h2>
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
            <code className={styles.secret}>
              {token.shownPrefix}… <span className={styles.faint}>may {tokenWords[token.scope]}</span>
            </code>
            {token.revokedAt === null && <RevokeButton shell={shell} what="tokens" id={token.id} name={token.name} onDone={onChange} />}
          </li>
        ))}
      </ul>
      <NewCredential shell={shell} what="tokens" label="Name of a new token" placeholder="build server" scopes onDone={onChange} />
    </section>
  );
}

type Credential = 'intake-keys' | 'tokens';

/** Revoking cannot be taken back, so it takes two presses. */
function RevokeButton({
  shell,
  what,
  id,
  name,
  onDone,
}: {
  shell: PageShell;
  what: Credential;
  id: number;
  name: string;
  onDone: () => void;
}) {
  const [sure, setSure] = useState(false);
  const { problem, attempt } = useAttempt();
  if (shell.account.role === 'viewer') return null;
  const revoke = async () => {
    if (!sure) return setSure(true);
    if (await attempt(() => request(`DELETE /apps/{app}/${what}/{id}`, { app: shell.app.slug, id: String(id) }))) onDone();
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

function NewCredential(props: {
  shell: PageShell;
  what: Credential;
  label: string;
  placeholder: string;
  scopes?: boolean;
  onDone: () => void;
}) {
  const { shell, what, label, placeholder, onDone } = props;
  const [made, setMade] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  if (shell.account.role === 'viewer') return null;
  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const name = String(given.get('name'));
    const scope = given.get('scope') as IntakeOverview['tokens'][number]['scope'];
    const path = { app: shell.app.slug };
    const isMade = await attempt(async () => {
      if (what === 'intake-keys') await request('POST /apps/{app}/intake-keys', path, { body: { name } });
      else setMade((await request('POST /apps/{app}/tokens', path, { body: { name, scope } })).token);
    });
    if (!isMade) return;
    form.reset();
    onDone();
  };
  return (
    <form onSubmit={submit}>
      <div className={styles.new}>
        <TextInput name="name" aria-label={label} placeholder={placeholder} size="xs" required maxLength={100} />
        {props.scopes && (
          <NativeSelect
            name="scope"
            aria-label="What it may do"
            size="xs"
            data={Object.entries(tokenWords).map(([value, label]) => ({ value, label }))}
          />
        )}
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
