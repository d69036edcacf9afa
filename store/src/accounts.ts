import { type DeskColumn, deskColumnsSchema, usualDeskColumns } from '@rough-ember/core/cases/desk-columns';
import { type Database, inTransaction } from './database.ts';

export const accountRoles = ['owner', 'developer', 'viewer'] as const;
export type AccountRole = (typeof accountRoles)[number];

export interface Account {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly role: AccountRole;
  /** The apps that somebody sees; null for all there are. Owners see all, whatever stands here. */
  readonly appIds: readonly number[] | null;
  /** IANA name of the zone that they want times in; null for that of the browser. */
  readonly zone: string | null;
}

const accountColumns = { id: 'accounts.id', email: 'email', name: 'name', role: 'role', appIds: 'app_ids', zone: 'zone' } as const;
const appIdsColumn = (appIds: readonly number[] | null) => (appIds === null ? null : JSON.stringify(appIds));

/** Creates an account; false when its address is taken. */
export async function createAccount(
  database: Database,
  account: Omit<Account, 'id' | 'zone'> & { passwordHash: string },
): Promise<boolean> {
  const { passwordHash, appIds, ...rest } = account;
  const known = await database('accounts').where({ email: rest.email }).first('id');
  if (known) return false;
  await database('accounts')
    .insert({ ...rest, app_ids: appIdsColumn(appIds), password_hash: passwordHash })
    .onConflict('email')
    .ignore();
  return true;
}

export async function countAccounts(database: Database): Promise<number> {
  const [row] = await database('accounts').count({ count: '*' });
  return Number(row?.count);
}

export async function findAccountByEmail(database: Database, email: string): Promise<(Account & { passwordHash: string }) | null> {
  const row = await database('accounts')
    .where({ email })
    .first({ ...accountColumns, passwordHash: 'password_hash' });
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
    .first(accountColumns);
  return row ?? null;
}

/** What somebody wants to see of each case in a list. */
export async function readDeskColumns(database: Database, accountId: number): Promise<readonly DeskColumn[]> {
  const row = await database('accounts').where({ id: accountId }).first('desk_columns');
  const parsed = deskColumnsSchema.safeParse(row?.desk_columns);
  return parsed.success ? parsed.data : usualDeskColumns;
}

export async function changeDeskColumns(database: Database, accountId: number, columns: readonly DeskColumn[]): Promise<void> {
  await database('accounts')
    .where({ id: accountId })
    .update({ desk_columns: JSON.stringify(columns) });
}

export async function changeZone(database: Database, accountId: number, zone: string | null): Promise<void> {
  await database('accounts').where({ id: accountId }).update({ zone });
}

/** Somebody with how they want to be told by rules. */
export interface AlertAccount extends Account {
  readonly wantsMail: boolean;
  /** Minutes of their day from and up to which they want no message; null for none. */
  readonly quiet: { readonly from: number; readonly to: number } | null;
}

const alertColumns = { ...accountColumns, wantsMail: 'wants_mail', quietFrom: 'quiet_from', quietTo: 'quiet_to' } as const;
type AlertRow = Account & { wantsMail: number; quietFrom: number | null; quietTo: number | null };
const toAlertAccount = ({ wantsMail, quietFrom, quietTo, ...account }: AlertRow): AlertAccount => ({
  ...account,
  wantsMail: wantsMail === 1,
  quiet: quietFrom === null || quietTo === null ? null : { from: quietFrom, to: quietTo },
});

/** Everybody with an account, as rules tell them. */
export async function listAlertAccounts(database: Database): Promise<AlertAccount[]> {
  return (await database('accounts').orderBy('id').select<AlertRow[]>(alertColumns)).map(toAlertAccount);
}

export async function findAlertAccount(database: Database, id: number): Promise<AlertAccount | null> {
  const row: AlertRow | undefined = await database('accounts').where({ id }).first(alertColumns);
  return row ? toAlertAccount(row) : null;
}

export async function changeAlertWishes(
  database: Database,
  id: number,
  { wantsMail, quiet }: Pick<AlertAccount, 'wantsMail' | 'quiet'>,
): Promise<void> {
  await database('accounts')
    .where({ id })
    .update({ wants_mail: wantsMail, quiet_from: quiet?.from ?? null, quiet_to: quiet?.to ?? null });
}

/** Everybody with an account, owners first. */
export async function listAccounts(database: Database): Promise<Account[]> {
  return database('accounts').orderBy(['role', 'name']).select(accountColumns);
}

/** Ends every sign-in of an account but the one that is kept. */
export async function deleteSignInsOf(database: Database, accountId: number, kept: Buffer | null = null): Promise<number> {
  const query = database('sign_ins').where({ account_id: accountId });
  return kept === null ? query.delete() : query.whereNot({ token_hash: kept }).delete();
}

export async function countSignIns(database: Database, accountId: number): Promise<number> {
  const [row] = await database('sign_ins').where({ account_id: accountId }).where('expires_at', '>', new Date()).count({ count: '*' });
  return Number(row?.count);
}

export async function setPasswordHash(database: Database, accountId: number, passwordHash: string): Promise<void> {
  await database('accounts').where({ id: accountId }).update({ password_hash: passwordHash });
}

export type OwnerChange = 'done' | 'unknown' | 'last-owner';

/** Gives an account another role, or with null takes it away. The last owner stays owner, whoever asks at the same time. */
export async function changeRole(database: Database, accountId: number, role: AccountRole | null): Promise<OwnerChange> {
  return inTransaction(database, async (transaction) => {
    await transaction('turns').where({ name: 'owners' }).increment('turn', 1);
    const owners = await transaction('accounts').where({ role: 'owner' }).forUpdate().pluck('id');
    const account = await transaction('accounts').where({ id: accountId }).forUpdate().first(accountColumns);
    if (!account) return 'unknown';
    if (role !== 'owner' && owners.length === 1 && owners[0] === accountId) return 'last-owner';
    if (role === null) await transaction('accounts').where({ id: accountId }).delete();
    else await transaction('accounts').where({ id: accountId }).update({ role });
    await takeBackWhatCameFrom(transaction, account, role);
    // An owner saw every app; what they are from now on may be limited.
    if (role !== 'owner') await takeBackBeyond(transaction, account);
    return 'done';
  });
}

/**
 * Limits an account to some apps; null lifts the limit. Tokens and wall links that it made for apps it sees no more are revoked.
 * False when there is no such account.
 */
export async function changeReach(database: Database, accountId: number, appIds: readonly number[] | null): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const account = await transaction('accounts').where({ id: accountId }).forUpdate().first('email', 'role');
    if (!account) return false;
    await transaction('accounts')
      .where({ id: accountId })
      .update({ app_ids: appIdsColumn(appIds) });
    if (account.role !== 'owner') await takeBackBeyond(transaction, { email: account.email, appIds });
    return true;
  });
}

/** Revokes the tokens and wall links of somebody that reach further than they do. */
async function takeBackBeyond(transaction: Database, { email, appIds }: Pick<Account, 'email' | 'appIds'>): Promise<void> {
  if (appIds === null) return;
  const revoked = { revoked_at: new Date() };
  await transaction('tokens').where({ made_by: email }).whereNull('revoked_at').whereNotIn('app_id', appIds).update(revoked);
  const links: { id: number; appIds: readonly number[] | null }[] = await transaction('wall_links')
    .where({ made_by: email })
    .whereNull('revoked_at')
    .select({ id: 'id', appIds: 'app_ids' });
  const beyond = links.filter((link) => link.appIds === null || link.appIds.some((id) => !appIds.includes(id))).map(({ id }) => id);
  await transaction('wall_links').whereIn('id', beyond).update(revoked);
}

/** What somebody gave to others goes with the right to give it: invitations are an owner's, tokens and wall links a developer's. */
async function takeBackWhatCameFrom(transaction: Database, { email }: Pick<Account, 'email'>, role: AccountRole | null): Promise<void> {
  if (role !== 'owner') await transaction('invitations').where({ invited_by: email }).delete();
  if (role === 'owner' || role === 'developer') return;
  const revoked = { revoked_at: new Date() };
  await transaction('tokens').where({ made_by: email }).whereNull('revoked_at').update(revoked);
  await transaction('wall_links').where({ made_by: email }).whereNull('revoked_at').update(revoked);
}

/** Somebody who was asked to join and has not yet. */
export interface Invitation {
  readonly id: number;
  readonly email: string;
  readonly role: AccountRole;
  readonly invitedBy: string;
  readonly expiresAt: Date;
  readonly appIds: readonly number[] | null;
}

const invitationColumns = {
  id: 'id',
  email: 'email',
  role: 'role',
  invitedBy: 'invited_by',
  expiresAt: 'expires_at',
  appIds: 'app_ids',
} as const;

export async function createInvitation(database: Database, invitation: Omit<Invitation, 'id'> & { tokenHash: Buffer }): Promise<void> {
  await database('invitations').where('expires_at', '<', new Date()).orWhere({ email: invitation.email }).delete();
  const { email, role, invitedBy, expiresAt, tokenHash, appIds } = invitation;
  await database('invitations').insert({
    email,
    role,
    invited_by: invitedBy,
    expires_at: expiresAt,
    token_hash: tokenHash,
    app_ids: appIdsColumn(appIds),
  });
}

export async function findInvitation(database: Database, tokenHash: Buffer): Promise<Invitation | null> {
  const row = await database('invitations').where({ token_hash: tokenHash }).where('expires_at', '>', new Date()).first(invitationColumns);
  return row ?? null;
}

export async function listInvitations(database: Database): Promise<Invitation[]> {
  return database('invitations').where('expires_at', '>', new Date()).orderBy('id').select(invitationColumns);
}

/** Withdraws an invitation; false when there is none. An invitation that was withdrawn first can be accepted by nobody. */
export async function deleteInvitation(database: Database, id: number): Promise<boolean> {
  return (await database('invitations').where({ id }).delete()) > 0;
}

/** Counts a try of a subject before it is made, and gives how many there were in the last minutes, this one among them. */
export async function countTry(database: Database, subject: Buffer, minute: number, window: number): Promise<number> {
  await database('sign_in_attempts')
    .where('minute', '<', minute - 60)
    .delete();
  await database.raw('INSERT INTO sign_in_attempts (subject, minute, tries) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE tries = tries + 1', [
    subject,
    minute,
  ]);
  const [row] = await database('sign_in_attempts')
    .where({ subject })
    .where('minute', '>', minute - window)
    .sum({ tries: 'tries' });
  return Number(row?.tries ?? 0);
}

/** A try that was right counts against nobody. */
export async function takeTryBack(database: Database, subjects: readonly Buffer[], minute: number): Promise<void> {
  await database('sign_in_attempts').whereIn('subject', subjects).where({ minute }).where('tries', '>', 0).decrement('tries', 1);
}
