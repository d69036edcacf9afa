import { Button, PasswordInput } from '@mantine/core';
import { type SubmitEvent, useState } from 'react';
import { type RequestProblem, request } from '../client/api';
import { CardPage } from '../shell/CardPage';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { wordCount } from '../words/numbers';
import styles from './SignIn.module.css';

/** One's own account: the password, and where one is signed in. */
export function AccountPage(props: {
  account: PageShell['account'];
  signIns: number;
  server: { readonly version: string; readonly schema: number };
}) {
  const { account, signIns, server } = props;
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [done, setDone] = useState<string | null>(null);
  const attempt = (work: () => Promise<string | null>) => async () => {
    try {
      setProblem(null);
      setDone(await work());
    } catch (error) {
      setDone(null);
      setProblem(error as RequestProblem);
    }
  };
  const change = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const body = { password: String(given.get('password')), newPassword: String(given.get('newPassword')) };
    void attempt(async () => {
      await request('POST /account/password', {}, { body });
      form.reset();
      return 'Your password is changed; every other device is signed out.';
    })();
  };
  const signOutEverywhere = attempt(async () => {
    await request('DELETE /account/sign-ins', {});
    window.location.assign('/sign-in');
    return null;
  });
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
      <div className={styles.form}>
        <p className={styles.what}>You are signed in on {wordCount(signIns, 'device', 'devices')}.</p>
        <Button variant="default" onClick={signOutEverywhere}>
          Sign out everywhere
        </Button>
        <div role="status">{done}</div>
        <ProblemNotice problem={problem} />
      </div>
      <p className={styles.what}>
        This is Rough Ember {server.version}, schema {server.schema}.
      </p>
    </CardPage>
  );
}
