import { hash, verify } from '@node-rs/argon2';
import { dayMs } from '@rough-ember/core/durations';
import {
  type Account,
  type AccountRole,
  accountRoles,
  changeReach,
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
import { listApps } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { WorkerPool } from '../jobs/worker-pool.ts';
import { appsSchema, idsOfApps, slugsOfApps } from './reach.ts';
import { hashSecret, makePassword, makeSecret } from './secrets.ts';
import { startSignIn } from './sign-in.ts';
import { tryOnce } from './tries.ts';

const newPassword = z.string().min(12, { error: 'takes at least 12 characters' }).max(500);

export const invitationSchema = z.object({
  email: z.email({ error: 'is no mail address' }).max(254).toLowerCase(),
  role: z.enum(accountRoles),
  apps: appsSchema.default(null),
});
export const acceptanceSchema = z.object({
  token: z.string().min(1).max(200),
  name: z.string().trim().min(1).max(100),
  password: newPassword,
});
export const passwordChangeSchema = z.object({ password: z.string().min(1).max(500), newPassword });
/** What is left out stays as it is. */
export const accountChangeSchema = z.object({ role: z.enum(accountRoles).optional(), apps: appsSchema.optional() });

const invitationDays = 7;

/** The short names of the apps that somebody sees; null for all. */
interface Limited {
  readonly apps: readonly string[] | null;
}

export interface PeopleView {
  readonly accounts: readonly (Omit<Account, 'appIds'> & Limited)[];
  readonly invitations: readonly (Omit<Invitation, 'expiresAt' | 'appIds'> & Limited & { readonly expiresAt: string })[];
  /** All apps that there are. */
  readonly apps: readonly { readonly slug: string; readonly name: string }[];
}

export async function loadPeople(database: Database): Promise<PeopleView> {
  const [accounts, invitations, apps] = await Promise.all([listAccounts(database), listInvitations(database), listApps(database)]);
  return {
    accounts: accounts.map(({ appIds, ...one }) => ({ ...one, apps: slugsOfApps(appIds, apps) })),
    invitations: invitations.map(({ appIds, expiresAt, ...one }) => ({
      ...one,
      expiresAt: expiresAt.toISOString(),
      apps: slugsOfApps(appIds, apps),
    })),
    apps: apps.map(({ slug, name }) => ({ slug, name })),
  };
}

/** Invites somebody; the link is shown once to whoever invites, who hands it on. */
export async function invite(
  database: Database,
  { email, role, apps, invitedBy, publicUrl }: z.infer<typeof invitationSchema> & { invitedBy: string; publicUrl: string },
): Promise<string> {
  if (await findAccountByEmail(database, email)) throw new ApiError('account-exists', `${email} has an account here already.`);
  const token = makeSecret('join', 24);
  const expiresAt = new Date(Date.now() + invitationDays * dayMs);
  const appIds = idsOfApps(apps, await listApps(database));
  await createInvitation(database, { email, role, appIds, invitedBy, expiresAt, tokenHash: hashSecret(token) });
  return `${publicUrl}/join?token=${token}`;
}

/** The invitation a link stands for, or null when it was used, withdrawn or has expired. */
export const invitationOf = (database: Database, token: string): Promise<Invitation | null> => findInvitation(database, hashSecret(token));

/** Why a password would be guessed, or null; `words` are those that whoever knows the person would try. */
export type PasswordJudge = (password: string, words: readonly string[]) => Promise<string | null>;

/** Judges passwords on a worker thread. */
export const judgedBy =
  (workers: WorkerPool): PasswordJudge =>
  (password, words) =>
    workers.run('passwordProblem', password, words);

async function requireGoodPassword(judge: PasswordJudge, password: string, words: readonly string[]): Promise<void> {
  const problem = await judge(password, words);
  if (problem !== null) throw new ApiError('weak-password', `This password would be guessed: ${problem}.`);
}

/** Makes the account of an invited person and signs it in; gives the token for the cookie. */
export async function acceptInvitation(
  database: Database,
  judge: PasswordJudge,
  { token, name, password }: z.infer<typeof acceptanceSchema>,
): Promise<string> {
  const invitation = await invitationOf(database, token);
  if (invitation) await requireGoodPassword(judge, password, [name, invitation.email]);
  // Whoever deletes the invitation is the one who uses it.
  if (!invitation || !(await deleteInvitation(database, invitation.id)))
    throw new ApiError('invitation-gone', 'This invitation was used, withdrawn, or is older than a week.');
  const { email, role, appIds } = invitation;
  if (!(await createAccount(database, { email, role, appIds, name, passwordHash: await hash(password) })))
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

/** Gives an account a new password that nobody chose, and ends all its sign-ins; gives the password. */
export async function renewPassword(database: Database, email: string): Promise<string> {
  const account = await findAccountByEmail(database, email);
  if (!account) throw new ApiError('not-found', `There is no account ${email}.`);
  const password = makePassword();
  await setPasswordHash(database, account.id, await hash(password));
  await deleteSignInsOf(database, account.id);
  return password;
}

/** Limits an account to some apps by their short names; null lifts the limit. */
export async function setReach(database: Database, accountId: number, apps: readonly string[] | null): Promise<void> {
  if (!(await changeReach(database, accountId, idsOfApps(apps, await listApps(database)))))
    throw new ApiError('not-found', 'There is no such account.');
}

/** Changes a password and ends every other sign-in of the account. */
export async function changePassword(
  database: Database,
  judge: PasswordJudge,
  account: Account,
  { password, newPassword: wanted, signInToken, from }: z.infer<typeof passwordChangeSchema> & { signInToken: string; from: string },
): Promise<void> {
  const known = await findAccountByEmail(database, account.email);
  const isRight =
    known !== null &&
    (await tryOnce(database, { who: `number ${account.id}`, from }, async () => (await verify(known.passwordHash, password)) || null));
  if (!isRight) throw new ApiError('wrong-password', 'This is not your present password.');
  await requireGoodPassword(judge, wanted, [account.name, account.email]);
  await setPasswordHash(database, account.id, await hash(wanted));
  await deleteSignInsOf(database, account.id, hashSecret(signInToken));
}

/** Ends every sign-in of an account, also the one that asks; gives how many there were. */
export const signOutEverywhere = (database: Database, account: Account): Promise<number> => deleteSignInsOf(database, account.id);

export const signInsOf = (database: Database, account: Account): Promise<number> => countSignIns(database, account.id);
