import type { Database } from './database.ts';

export const accountRoles = ['owner', 'developer', 'viewer'] as const;
export type AccountRole = (typeof accountRoles)[number];

export interface Account {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly role: AccountRole;
}

/** Creates an account unless its address is taken. */
export async function createAccount(database: Database, account: Omit<Account, 'id'> & { passwordHash: string }): Promise<void> {
  const { passwordHash, ...rest } = account;
  await database('accounts')
    .insert({ ...rest, password_hash: passwordHash })
    .onConflict('email')
    .ignore();
}

export async function countAccounts(database: Database): Promise<number> {
  const [row] = await database('accounts').count({ count: '*' });
  return Number(row?.count);
}

export async function findAccountByEmail(database: Database, email: string): Promise<(Account & { passwordHash: string }) | null> {
  const row = await database('accounts').where({ email }).first('id', 'email', 'name', 'role', { passwordHash: 'password_hash' });
  return row ?? null;
}

/** Keeps a sign-in by the hash of its token; the token itself stays with the browser. */
export async function createSignIn(database: Database, signIn: { tokenHash: Buffer; accountId: number; expiresAt: Date }): Promise<void> {
  await database('sign_ins').where('expires_at', '<', new Date()).delete();
  await database('sign_ins').insert({ token_hash: signIn.tokenHash, account_id: signIn.accountId, expires_at: signIn.expiresAt });
}

export async function deleteSignIn(database: Database, tokenHash: Buffer): Promise<void> {
  await database('sign_ins').where({ token_hash: tokenHash }).delete();
}

export async function findSignedIn(database: Database, tokenHash: Buffer): Promise<Account | null> {
  const row = await database('sign_ins')
    .join('accounts', 'accounts.id', 'sign_ins.account_id')
    .where({ token_hash: tokenHash })
    .where('expires_at', '>', new Date())
    .first('accounts.id', 'email', 'name', 'role');
  return row ?? null;
}
