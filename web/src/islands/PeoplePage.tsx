import { Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import { wordDate } from '@rough-ember/core/words/time';
import type { PeopleView } from '@rough-ember/server/accounts/people';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { type Attempt, useAttempt } from '../client/use-attempt';
import { CardPage } from '../shell/CardPage';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import styles from './PeoplePage.module.css';

const roles = [
  { value: 'viewer', label: 'viewer: reads' },
  { value: 'developer', label: 'developer: reads and changes' },
  { value: 'owner', label: 'owner: also apps and people' },
];

type Account = PeopleView['accounts'][number];

/** Who may do what on this server. */
export function PeoplePage({ people: initial, myself, back }: { people: PeopleView; myself: number; back: string }) {
  const [people, setPeople] = useState(initial);
  const { problem, attempt: attemptOnce } = useAttempt();
  const [link, setLink] = useState<string | null>(null);
  const attempt: Attempt = async (work: () => Promise<unknown>) => {
    const isDone = await attemptOnce(work);
    setPeople(await request('GET /people', {}).catch(() => people));
    return isDone;
  };
  return (
    <CardPage title="People" wide>
      <p>
        Everybody who may sign in here. <a href={back}>Back to the desk</a>
      </p>
      <ul className={styles.people}>
        {people.accounts.map((one) => (
          <AccountRow key={one.id} account={one} isMyself={one.id === myself} all={people.apps} attempt={attempt} />
        ))}
        {people.invitations.map((one) => (
          <InvitationRow key={`invitation ${one.id}`} invitation={one} all={people.apps} attempt={attempt} />
        ))}
      </ul>
      <InviteForm all={people.apps} attempt={attempt} onLink={setLink} />
      <div role="status">
        {link && (
          <div className={styles.link}>
            Hand this link on; it is shown this once and works for a week, for one account: <code>{link}</code>{' '}
            <CopyButton text={link}>Copy</CopyButton>
          </div>
        )}
      </div>
      <ProblemNotice problem={problem} />
    </CardPage>
  );
}

interface RowProps {
  readonly all: PeopleView['apps'];
  readonly attempt: Attempt;
}

function AccountRow({ account, isMyself, all, attempt }: RowProps & { account: Account; isMyself: boolean }) {
  const id = String(account.id);
  return (
    <li>
      <span>
        <b>{account.name}</b> {isMyself && '(you)'}
        <br />
        <span className={styles.faint}>{account.email}</span>
      </span>
      <NativeSelect
        size="xs"
        aria-label={`Role of ${account.name}`}
        data={roles}
        value={account.role}
        onChange={(event) => {
          const role = event.currentTarget.value as Account['role'];
          void attempt(() => request('PUT /people/{id}', { id }, { body: { role } }));
        }}
      />
      <SeenApps
        label={`Apps that ${account.name} sees`}
        isOwner={account.role === 'owner'}
        apps={account.apps}
        all={all}
        onChange={(apps) => attempt(() => request('PUT /people/{id}', { id }, { body: { apps } }))}
      />
      <RemoveButton label={`Remove ${account.name}`} onRemove={() => attempt(() => request('DELETE /people/{id}', { id }))} />
    </li>
  );
}

function InvitationRow({ invitation, all, attempt }: RowProps & { invitation: PeopleView['invitations'][number] }) {
  return (
    <li>
      <span>
        <b>{invitation.email}</b>
        <br />
        <span className={styles.faint}>
          invited by {invitation.invitedBy}, until {wordDate(invitation.expiresAt)}
        </span>
      </span>
      <span>{invitation.role}</span>
      <span>{wordApps(invitation.apps, all)}</span>
      <RemoveButton
        label={`Withdraw the invitation of ${invitation.email}`}
        text="Withdraw"
        onRemove={() => attempt(() => request('DELETE /invitations/{id}', { id: String(invitation.id) }))}
      />
    </li>
  );
}

function InviteForm({ all, attempt, onLink }: RowProps & { onLink: (link: string) => void }) {
  const [apps, setApps] = useState<readonly string[] | null>(null);
  const invite = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const body = { email: String(given.get('email')), role: given.get('role') as Account['role'], apps };
    void attempt(async () => {
      const made = await request('POST /people', {}, { body });
      onLink(made.link);
      setApps(null);
      form.reset();
    });
  };
  return (
    <form className={styles.invite} onSubmit={invite} method="post">
      <TextInput name="email" type="email" label="Invite by mail address" placeholder="wren@larkfield.example" required />
      <NativeSelect name="role" label="As" data={roles} defaultValue="developer" />
      <SeenApps isLabelled label="Apps that they see" isOwner={false} apps={apps} all={all} onChange={setApps} />
      <Button type="submit">Make the link</Button>
    </form>
  );
}

/** All apps, or those that are chosen. */
function SeenApps(props: {
  label: string;
  /** The label is to be read, too. */
  isLabelled?: boolean;
  isOwner: boolean;
  apps: readonly string[] | null;
  all: PeopleView['apps'];
  onChange: (apps: readonly string[] | null) => void;
}) {
  const { label, isLabelled = false, isOwner, apps, all, onChange } = props;
  if (isOwner) return <span className={styles.faint}>all apps</span>;
  return (
    <div className={styles.seen}>
      <NativeSelect
        size={isLabelled ? 'sm' : 'xs'}
        {...(isLabelled ? { label } : { 'aria-label': label })}
        data={[
          { value: 'all', label: 'all apps, later ones too' },
          { value: 'some', label: 'only these apps' },
        ]}
        value={apps === null ? 'all' : 'some'}
        onChange={(event) => onChange(event.currentTarget.value === 'all' ? null : [])}
      />
      {apps !== null && (
        <MultiSelect
          size="xs"
          aria-label={`${label}, by name`}
          placeholder={apps.length === 0 ? 'none yet' : ''}
          data={all.map(({ slug, name }) => ({ value: slug, label: name }))}
          value={[...apps]}
          onChange={onChange}
          searchable
        />
      )}
    </div>
  );
}

function wordApps(apps: readonly string[] | null, all: PeopleView['apps']): string {
  if (apps === null) return 'all apps';
  return all.flatMap(({ slug, name }) => (apps.includes(slug) ? [name] : [])).join(', ') || 'no app';
}

/** Removing cannot be taken back, so it takes two presses. */
function RemoveButton({ label, text = 'Remove', onRemove }: { label: string; text?: string; onRemove: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <Button
      size="compact-xs"
      variant="default"
      aria-label={label}
      onBlur={() => setSure(false)}
      onClick={() => {
        if (sure) onRemove();
        setSure(!sure);
      }}
    >
      {sure ? 'Really?' : text}
    </Button>
  );
}
