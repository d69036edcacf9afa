import type { AccountRole } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { type ForwardState, findForward, keepForward, removeForward } from '@rough-ember/store/forwards';
import { z } from 'zod';
import { webAddress } from '../alerts/channels/webhook.ts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

/** Where to forward, as it is given. */
export const givenForwardSchema = z.strictObject({
  address: webAddress.describe('Of an OTLP/HTTP receiver of logs, such as "https://collector.example/v1/logs".'),
  headerName: z
    .string()
    .regex(/^[A-Za-z0-9-]{1,100}$/, { error: 'must be the name of a header' })
    .refine((name) => !/^(?:host|connection|content-.*|transfer-encoding|te|trailer|upgrade|expect)$/i.test(name), {
      error: 'must be a header that says who sends, such as authorization; this one belongs to the request itself',
    })
    .nullable()
    .default(null)
    .describe('The header that the receiver knows this server by, such as "authorization".'),
  headerValue: z
    .string()
    .max(3_000)
    .regex(/^[\t\x20-\x7e]*$/, { error: 'must be one line of printable ASCII' })
    .nullable()
    .optional()
    .describe('Kept encrypted and shown to nobody. Left out: the one there is stays while address and header do.'),
  mayReachPrivate: z.boolean().default(false).describe('It may lie in the network of the server.'),
});
type GivenForward = z.infer<typeof givenForwardSchema>;

/** Where an app forwards to and how that goes, without secrets. */
export interface ForwardView extends Omit<ForwardState, 'nextTryAt' | 'sentAt'> {
  readonly address: string;
  readonly headerName: string | null;
  readonly hasSecret: boolean;
  readonly mayReachPrivate: boolean;
  readonly changedBy: string;
  readonly nextTryAt: string;
  readonly sentAt: string | null;
}

/** Null where nothing is forwarded. A path or parameters may hold a secret: whoever only looks is told the host. */
export async function loadForward(
  { database }: Pick<Services, 'database'>,
  app: App,
  role: AccountRole,
): Promise<{ readonly forward: ForwardView | null }> {
  const found = await findForward(database, app.id);
  if (!found) return { forward: null };
  const { headerValue, nextTryAt, sentAt, ...rest } = found;
  return {
    forward: {
      ...rest,
      address: role === 'viewer' ? new URL(rest.address).origin : rest.address,
      hasSecret: headerValue !== null,
      nextTryAt: nextTryAt.toISOString(),
      sentAt: sentAt?.toISOString() ?? null,
    },
  };
}

/** Forwards what comes from now on, and what still waits, to an address. */
export async function changeForward(
  { database, serverKey, changes }: Pick<Services, 'database' | 'serverKey' | 'changes'>,
  app: App,
  { address, headerName, headerValue, mayReachPrivate }: GivenForward,
  { by, role }: { readonly by: string; readonly role: AccountRole },
): Promise<void> {
  const before = await findForward(database, app.id);
  // Whoever could change where such an address leads could reach anything there.
  if ((mayReachPrivate || before?.mayReachPrivate === true) && role !== 'owner')
    throw new ApiError('not-allowed', 'Only an owner forwards to the network of the server, or changes where that leads.');
  const stays = before?.address === address && before.headerName === headerName;
  const secret = headerValue === undefined ? (stays ? before.headerValue : null) : headerValue ? serverKey.encrypt(headerValue) : null;
  await keepForward(database, app.id, { address, headerName, headerValue: secret, mayReachPrivate, changedBy: by }, new Date());
  changes.note(app.id);
}

export async function dropForward({ database, changes }: Pick<Services, 'database' | 'changes'>, app: App): Promise<void> {
  if (!(await removeForward(database, app.id))) throw new ApiError('not-found', `${app.name} forwards nothing.`);
  changes.note(app.id);
}
