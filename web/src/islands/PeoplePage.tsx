import { Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core';
import type { PeopleView } from '@rough-ember/server/accounts/people';
import { type SubmitEvent, useState } from 'react';
import { type RequestProblem, request } from '../client/api';
import { CardPage } from '../shell/CardPage';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import { wordDate } from '../words/time';
import styles from './PeoplePage.module.css';

const roles = [
  { value: 'viewer', label: 'viewer: reads' },
  { value: 'developer', label: 'developer: reads and changes' },
  { value: 'owner', label: 'owner: also apps and people' },
];

/** Who may do what on this server. */
export function PeoplePage({ people: initial, myself, back }: { people: PeopleView; myself: number; back: string }) {
  const [people, setPeople] = useState(initial);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [link, setLink] = useState<string | null>(null);
  const [apps, setApps] = useState<readonly string[] | null>(null);
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      setProblem(null);
      await work();
    } catch (error) {
      setProblem(error as RequestProblem);
    }
    setPeople(await request('GET /people', {}).catch(() => people));
  };
  const invite = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const body = { email: String(given.get('email')), role: given.get('role') as PeopleView['accounts'][number]['role'], apps };
    void attempt(async () => {
      const made = await request('POST /people', {}, { body });
      setLink(made.link);
      setApps(null);
      form.reset();
    });
  };
  return (
    <CardPage title="People" wide>
      <p>
        Everybody who may sign in here. <a href={back}>Back to the desk</a>
      </p>
      <ul className={styles.people}>
        {people.accounts.map((one) => (
          <li key={one.id}>
            <span>
              <b>{one.name}</b> {one.id === myself && '(you)'}
              <br />
              <span className={styles.faint}>{one.email}</span>
            </span>
            <NativeSelect
              size="xs"
              aria-label={`Role of ${one.name}`}
              data={roles}
              value={one.role}
              onChange={(event) => {
                const role = event.currentTarget.value as (typeof one)['role'];
                void attempt(() => request('PUT /people/{id}', { id: String(one.id) }, { body: { role } }));
              }}
            />
            <SeenApps
              label={`Apps that ${one.name} sees`}
              isOwner={one.role === 'owner'}
              apps={one.apps}
              all={people.apps}
              onChange={(apps) => attempt(() => request('PUT /people/{id}', { id: String(one.id) }, { body: { apps } }))}
            />
            <RemoveButton
              label={`Remove ${one.name}`}
              onRemove={() => attempt(() => request('DELETE /people/{id}', { id: String(one.id) }))}
            />
          </li>
        ))}
        {people.invitations.map((one) => (
          <li key={`invitation ${one.id}`}>
            <span>
              <b>{one.email}</b>
              <br />
              <span className={styles.faint}>
                invited by {one.invitedBy}, until {wordDate(one.expiresAt)}
              </span>
            </span>
            <span>{one.role}</span>
            <span>{wordApps(one.apps, people.apps)}</span>
            <RemoveButton
              label={`Withdraw the invitation of ${one.email}`}
              text="Withdraw"
              onRemove={() => attempt(() => request('DELETE /invitations/{id}', { id: String(one.id) }))}
            />
          </li>
        ))}
      </ul>
      <form className={styles.invite} onSubmit={invite} method="post">
        <TextInput name="email" type="email" label="Invite by mail address" placeholder="wren@larkfield.example" required />
        <NativeSelect name="role" label="As" data={roles} defaultValue="developer" />
        <SeenApps isLabelled label="Apps that they see" isOwner={false} apps={apps} all={people.apps} onChange={setApps} />
        <Button type="submit">Make the link</Button>
      </form>
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
