import { Button, Checkbox, Group, PasswordInput, TextInput } from '@mantine/core';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { type Attempt, useAttempt } from '../client/use-attempt';
import { CardPage } from '../shell/CardPage';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { ZoneSelect } from '../shell/ZoneSelect';
import { wordCount } from '../words/numbers';
import styles from './SignIn.module.css';

/** One's own account: the password, and where one is signed in. */
export function AccountPage(props: {
  account: PageShell['account'];
  signIns: number;
  server: { readonly version: string; readonly schema: number };
  wishes: Wishes;
}) {
  const { account, signIns, server, wishes } = props;
  const { problem, attempt } = useAttempt();
  const [isChanged, setChanged] = useState(false);
  const change = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const body = { password: String(given.get('password')), newPassword: String(given.get('newPassword')) };
    const isDone = await attempt(() => request('POST /account/password', {}, { body }));
    setChanged(isDone);
    if (isDone) form.reset();
  };
  const signOutEverywhere = async () => {
    if (await attempt(() => request('DELETE /account/sign-ins', {}))) window.location.assign('/sign-in');
  };
  return (
    <CardPage title="Your account">
      <p className={styles.what}>
        {account.name}, {account.email}, {account.role}. <a href="/">Back to the desk</a>
      </p>
      <form className={styles.form} onSubmit={change} method="post">
        <PasswordInput name="password" label="Present password" autoComplete="current-password" required />
        <PasswordInput
          name="newPassword"
          label="New password"
          description="At least 12 characters."
          autoComplete="new-password"
          required
          minLength={12}
        />
        <Button type="submit">Change the password</Button>
      </form>
      <ZoneChoice zone={account.zone} attempt={attempt} />
      <AlertWishes initial={wishes} attempt={attempt} />
      <div className={styles.form}>
        <p className={styles.what}>You are signed in on {wordCount(signIns, 'device', 'devices')}.</p>
        <Button variant="default" onClick={signOutEverywhere}>
          Sign out everywhere
        </Button>
        <div role="status">{isChanged && 'Your password is changed; every other device is signed out.'}</div>
        <ProblemNotice problem={problem} />
      </div>
      <p className={styles.what}>
        This is Rough Ember {server.version}, schema {server.schema}.
      </p>
    </CardPage>
  );
}

/** How somebody wants to be told by alert rules. */
interface Wishes {
  readonly wantsMail: boolean;
  readonly quiet: { readonly from: number; readonly to: number } | null;
  /** Whether the server sends mail at all. */
  readonly sendsMail: boolean;
}

const clock = (minute: number): string => `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
const minuteOf = (text: string): number | null => {
  const [, hours, minutes] = /^(\d\d):(\d\d)/.exec(text) ?? [];
  return hours === undefined ? null : 60 * Number(hours) + Number(minutes);
};
const usualQuiet = { from: 22 * 60, to: 7 * 60 };

/** Mail of alert rules, and the hours in which none comes; kept as soon as it is chosen. */
function AlertWishes({ initial, attempt }: { initial: Wishes; attempt: Attempt }) {
  const [{ wantsMail, quiet }, setWishes] = useState<Pick<Wishes, 'wantsMail' | 'quiet'>>(initial);
  const choose = async (next: Pick<Wishes, 'wantsMail' | 'quiet'>) => {
    if (await attempt(() => request('PUT /account/alerts', {}, { body: next }))) setWishes(next);
  };
  const hours = (part: 'from' | 'to', text: string) => {
    const minute = minuteOf(text);
    if (minute !== null && quiet !== null) void choose({ wantsMail, quiet: { ...quiet, [part]: minute } });
  };
  return (
    <div className={styles.form} id="alerts">
      <Checkbox
        label="Alert rules tell me by mail, too"
        description={
          initial.sendsMail ? 'They always stand on “For you”.' : 'This server sends no mail at present; they stand on “For you”.'
        }
        checked={wantsMail}
        onChange={(event) => void choose({ wantsMail: event.currentTarget.checked, quiet })}
      />
      <Checkbox
        label="No mail in quiet hours"
        description="What happens meanwhile comes at their end, by the clock of your time zone."
        checked={quiet !== null}
        onChange={(event) => void choose({ wantsMail, quiet: event.currentTarget.checked ? usualQuiet : null })}
      />
      {quiet !== null && (
        <Group grow>
          <TextInput
            type="time"
            label="From"
            defaultValue={clock(quiet.from)}
            onBlur={(event) => hours('from', event.currentTarget.value)}
          />
          <TextInput type="time" label="To" defaultValue={clock(quiet.to)} onBlur={(event) => hours('to', event.currentTarget.value)} />
        </Group>
      )}
    </div>
  );
}

/** The zone that times are shown in, kept as soon as it is chosen. */
function ZoneChoice({ zone, attempt }: { zone: string | null; attempt: Attempt }) {
  const [chosen, setChosen] = useState(zone);
  const choose = async (zone: string | null) => {
    if (await attempt(() => request('PUT /account/zone', {}, { body: { zone } }))) setChosen(zone);
  };
  return (
    <div className={styles.form}>
      <ZoneSelect
        label="Times are shown in"
        description="Days of figures and charts begin and end by UTC, for everybody alike."
        wordNone="the zone of the browser"
        zone={chosen}
        onChange={(zone) => void choose(zone)}
      />
    </div>
  );
}
