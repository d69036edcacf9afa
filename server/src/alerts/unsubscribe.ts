import { changeAlertWishes, findAlertAccount } from '@rough-ember/store/accounts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import type { ServerKey } from './server-key.ts';

const opening = 'no more mail for account ';

/** Path at which a request without a sign-in stops the mail of an account (RFC 8058): nobody else can make one. */
export const unsubscribePath = (serverKey: ServerKey, accountId: number): string =>
  `/unsubscribe/${serverKey.encrypt(`${opening}${accountId}`).toString('base64url')}`;

/** Stops the mail of the account that a path names; throws an ApiError for one that this server did not make. */
export async function unsubscribe({ database, serverKey }: Pick<Services, 'database' | 'serverKey'>, token: string): Promise<void> {
  const text = serverKey.decrypt(Buffer.from(token, 'base64url')) ?? '';
  const account = text.startsWith(opening) ? await findAlertAccount(database, Number(text.slice(opening.length))) : null;
  if (!account) throw new ApiError('not-found', 'This server sent no mail with this address, or the account is gone.');
  await changeAlertWishes(database, account.id, { wantsMail: false, quiet: account.quiet });
}
