import { hash, verify } from '@node-rs/argon2';
import {
  type Account,
  type AccountRole,
  accountRoles,
  changeRole,
  countSignIns,
  createAccount,
  createInvitation,
  deleteInvitation,
  deleteSignInsOf,
  findAccountByEmail,
  findInvitation,
  type Invitation,
  listAccounts,
  listInvitations,
  setPasswordHash,
} from '@rough-ember/store/accounts';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { hashSecret, makeSecret } from './secrets.ts';
import { startSignIn } from './sign-in.ts';
import { tryOnce } from './tries.ts';

const newPassword = z.string().min(12, { error: 'takes at least 12 characters' }).max(500);

export const invitationSchema = z.object({
  email: z.email({ error: 'is no mail address' }).max(254).toLowerCase(),
  role: z.enum(accountRoles),
});
export const acceptanceSchema = z.object({
  token: z.string().min(1).max(200),
  name: z.string().trim().min(1).max(100),
  password: newPassword,
});
export const passwordChangeSchema = z.object({ password: z.string().min(1).max(500), newPassword });
export const roleSchema = z.object({ role: z.enum(accountRoles) });

const invitationDays = 7;

export interface PeopleView {
  readonly accounts: readonly Account[];
  readonly invitations: readonly (Omit<Invitation, 'expiresAt'> & { readonly expiresAt: string })[];
}

export async function loadPeople(database: Database): Promise<PeopleView> {
  const [accounts, invitations] = await Promise.all([listAccounts(database), listInvitations(database)]);
  return { accounts, invitations: invitations.map((one) => ({ ...one, expiresAt: one.expiresAt.toISOString() })) };
}

/** Invites somebody; the link is shown once to whoever invites, who hands it on. */
export async function invite(
  database: Database,
  { email, role, invitedBy, publicUrl }: { email: string; role: AccountRole; invitedBy: string; publicUrl: string },
): Promise<string> {
  if (await findAccountByEmail(database, email)) throw new ApiError('account-exists', `${email} has an account here already.`);
  const token = makeSecret('join', 24);
  const expiresAt = new Date(Date.now() + invitationDays * 86_400_000);
  await createInvitation(database, { email, role, invitedBy, expiresAt, tokenHash: hashSecret(token) });
  return `${publicUrl}/join?token=${token}`;
}

/** The invitation a link stands for, or null when it was used, withdrawn or has expired. */
export const invitationOf = (database: Database, token: string): Promise<Invitation | null> => findInvitation(database, hashSecret(token));

/** Makes the account of an invited person and signs it in; gives the token for the cookie. */
export async function acceptInvitation(database: Database, { token, name, password }: z.infer<typeof acceptanceSchema>): Promise<string> {
  const invitation = await invitationOf(database, token);
  // Whoever deletes the invitation is the one who uses it.
  if (!invitation || !(await deleteInvitation(database, invitation.id)))
    throw new ApiError('invitation-gone', 'This invitation was used, withdrawn, or is older than a week.');
  const { email, role } = invitation;
  if (!(await createAccount(database, { email, role, name, passwordHash: await hash(password) })))
    throw new ApiError('account-exists', `${email} has an account here already.`);
  const account = await findAccountByEmail(database, email);
  return startSignIn(database, (account as Account).id);
}

export async function withdrawInvitation(database: Database, id: number): Promise<void> {
  if (!(await deleteInvitation(database, id))) throw new ApiError('not-found', 'There is no such invitation.');
}

/** Gives an account another role; with null it is removed, its sign-ins with it. */
export async function setRole(database: Database, accountId: number, role: AccountRole | null): Promise<void> {
  const change = await changeRole(database, accountId, role);
  if (change === 'unknown') throw new ApiError('not-found', 'There is no such account.');
  if (change === 'last-owner') throw new ApiError('last-owner', 'This is the last owner; somebody has to stay.');
}

/** Changes a password and ends every other sign-in of the account. */
export async function changePassword(
  database: Database,
  account: Account,
  { password, newPassword: wanted, signInToken, from }: z.infer<typeof passwordChangeSchema> & { signInToken: string; from: string },
): Promise<void> {
  const known = await findAccountByEmail(database, account.email);
  const isRight =
    known !== null &&
    (await tryOnce(database, { who: `number ${account.id}`, from }, async () => (await verify(known.passwordHash, password)) || null));
  if (!isRight) throw new ApiError('wrong-password', 'This is not your present password.');
  await setPasswordHash(database, account.id, await hash(wanted));
  await deleteSignInsOf(database, account.id, hashSecret(signInToken));
}

/** Ends every sign-in of an account, also the one that asks; gives how many there were. */
export const signOutEverywhere = (database: Database, account: Account): Promise<number> => deleteSignInsOf(database, account.id);

export const signInsOf = (database: Database, account: Account): Promise<number> => countSignIns(database, account.id);
