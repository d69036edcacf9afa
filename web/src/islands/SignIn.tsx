import { Button, PasswordInput, TextInput } from '@mantine/core';
import { CardPage } from '../shell/CardPage';
import styles from './SignIn.module.css';

/** A plain form that the server takes itself, so that it works before this script has loaded, and without it. */
export function SignIn({ action, email, problem }: { action: string; email: string; problem: string | null }) {
  return (
    <CardPage title="Rough Ember">
      <form className={styles.form} action={action} method="post">
        <p className={styles.what}>What broke, where in your code, for whom, and since when.</p>
        <TextInput name="email" type="email" label="Mail address" autoComplete="username" defaultValue={email} required autoFocus />
        <PasswordInput name="password" label="Password" autoComplete="current-password" required />
        {problem && (
          <div className={styles.problem} role="alert">
            {problem}
          </div>
        )}
        <Button type="submit">Sign in</Button>
        <p className={styles.hint}>The address and password were printed by the command that started this server.</p>
      </form>
    </CardPage>
  );
}
