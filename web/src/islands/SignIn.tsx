import { Button, MantineProvider, PasswordInput, TextInput } from '@mantine/core';
import { type SubmitEvent, useState } from 'react';
import { RequestProblem, request } from '../client/api';
import { cssVariables, theme } from '../theme/theme';
import styles from './SignIn.module.css';

export function SignIn({ next }: { next: string }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <SignInForm next={next} />
    </MantineProvider>
  );
}

function SignInForm({ next }: { next: string }) {
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [busy, setBusy] = useState(false);

  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    try {
      await request('POST', '/api/v1/sign-in', { email: form.get('email'), password: form.get('password') });
      window.location.assign(next);
    } catch (error) {
      setProblem(error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.'));
      setBusy(false);
    }
  };

  return (
    <main className={styles.page}>
      {/* "post" keeps the password out of the address when the form is sent before this script runs. */}
      <form className={styles.card} onSubmit={submit} method="post">
        <div className={styles.brand}>
          <span className={styles.coal} aria-hidden="true" />
          <h1>Rough Ember</h1>
        </div>
        <p className={styles.what}>What broke, where in your code, for whom, and since when.</p>
        <TextInput name="email" type="email" label="Mail address" autoComplete="username" required autoFocus />
        <PasswordInput name="password" label="Password" autoComplete="current-password" required />
        {problem && (
          <div className={styles.problem} role="alert">
            {problem.message} {problem.remedy}
          </div>
        )}
        <Button type="submit" loading={busy}>
          Sign in
        </Button>
        <p className={styles.hint}>The address and password were printed by the command that started this server.</p>
      </form>
    </main>
  );
}
