import { hash, verify } from '@node-rs/argon2';
import { dayMs } from '@rough-ember/core/durations';
import {
  type Account,
  countAccounts,
  createAccount,
  createSignIn,
  deleteSignIn,
  findAccountByEmail,
  findSignedIn,
} from '@rough-ember/store/accounts';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { hashSecret, makePassword, makeSecret } from './secrets.ts';
import { tryOnce } from './tries.ts';

export const signInCookie = 'ember_sign_in';
export const signInDays = 30;

export const signInSchema = z.object({ email: z.string().min(1).max(254), password: z.string().min(1).max(500) });

/** Makes the owner's account when there is none yet, and gives its password; null when there was one. */
export async function createOwner(database: Database, owner: { email: string; name: string }): Promise<string | null> {
  if ((await countAccounts(database)) > 0) return null;
  const password = makePassword();
  await createAccount(database, { ...owner, role: 'owner', appIds: null, passwordHash: await hash(password) });
  return password;
}

/** A hash that no password has: an unknown address takes as long to refuse as a known one. */
let nobodysHash: Promise<string> | undefined;

/** Signs a person in and gives the token for the cookie. `from` is the network address the request came from. */
export async function signIn(
  database: Database,
  { email, password }: { email: string; password: string },
  from = 'unknown',
): Promise<string> {
  const address = email
    .normalize('NFKC')
    .replace(/\p{Cf}/gu, '')
    .trim()
    .toLowerCase();
  const account = await findAccountByEmail(database, address);
  nobodysHash ??= hash(makeSecret('nobody'));
  const passwordHash = account?.passwordHash ?? (await nobodysHash);
  // One account is one, however its address is spelt: the database holds some spellings for the same.
  const who = account ? `number ${account.id}` : address;
  const found = await tryOnce(database, { who, from }, async () => ((await verify(passwordHash, password)) ? account : null));
  if (!found) throw new ApiError('wrong-sign-in', 'This address and password do not belong together.');
  return startSignIn(database, found.id);
}

/** Makes a sign-in of an account that proved who it is. */
export async function startSignIn(database: Database, accountId: number): Promise<string> {
  const token = makeSecret('sign-in', 32);
  await createSignIn(database, { tokenHash: hashSecret(token), accountId, expiresAt: new Date(Date.now() + signInDays * dayMs) });
  return token;
}

export async function signOut(database: Database, token: string): Promise<void> {
  await deleteSignIn(database, hashSecret(token));
}

/** The account a cookie's token belongs to, or null. */
export async function signedInAccount(database: Database, token: string | undefined): Promise<Account | null> {
  return token ? findSignedIn(database, hashSecret(token)) : null;
}

const rank = { viewer: 0, developer: 1, owner: 2 } as const;

/** Refuses an account without the right. */
export function requireRole(account: Pick<Account, 'role'>, role: keyof typeof rank): void {
  if (rank[account.role] < rank[role]) throw new ApiError('not-allowed', `This takes the role ${role}; you are ${account.role}.`);
}
