import { Button, PasswordInput } from '@mantine/core';
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
}) {
  const { account, signIns, server } = props;
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
