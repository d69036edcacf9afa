import { Button, PasswordInput, TextInput } from '@mantine/core';
import { CardPage } from '../shell/CardPage';
import styles from './SignIn.module.css';

interface JoinProps {
  readonly action: string;
  readonly invitation: { readonly email: string; readonly role: string; readonly invitedBy: string } | null;
  readonly name: string;
  readonly problem: string | null;
}

/** The page behind an invitation's link; a plain form, like the one to sign in. */
export function Join({ action, invitation, name, problem }: JoinProps) {
  return (
    <CardPage title="Rough Ember">
      {invitation && (
        <form className={styles.form} action={action} method="post">
          <p className={styles.what}>
            {invitation.invitedBy} asks you to join as {invitation.role}. You will sign in as <b>{invitation.email}</b>.
          </p>
          <TextInput name="name" label="Your name" autoComplete="name" defaultValue={name} required maxLength={100} autoFocus />
          <PasswordInput
            name="password"
            label="Password"
            description="At least 12 characters."
            autoComplete="new-password"
            required
            minLength={12}
          />
          {problem && (
            <div className={styles.problem} role="alert">
              {problem}
            </div>
          )}
          <Button type="submit">Join</Button>
        </form>
      )}
      {!invitation && (
        <div className={styles.problem} role="alert">
          {problem}
        </div>
      )}
    </CardPage>
  );
}
