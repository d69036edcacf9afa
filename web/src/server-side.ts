import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { type CaseOrder, parseCaseOrder } from '@rough-ember/core/cases/case-order';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import type { PasswordJudge } from '@rough-ember/server/accounts/people';
import { reaches } from '@rough-ember/server/accounts/reach';
import { requireRole } from '@rough-ember/server/accounts/sign-in';
import { requireOwnApp, roleOfToken } from '@rough-ember/server/accounts/tokens';
import { ApiError } from '@rough-ember/server/errors';
import { readWhole } from '@rough-ember/server/http/read-body';
import type { Services } from '@rough-ember/server/services';
import { type StabilityQuery, stabilityParametersSchema } from '@rough-ember/server/stability/crash-free';
import type { Account, AccountRole } from '@rough-ember/store/accounts';
import { findApp, type App as ShippedApp } from '@rough-ember/store/apps';
import type { APIContext } from 'astro';
import { z } from 'zod';

type Context = Pick<APIContext, 'locals' | 'params' | 'request' | 'url'>;

/** The person who asks; turns away whoever is not signed in or lacks the role. */
export function requireAccount({ locals }: Context, role: AccountRole = 'viewer'): Account {
  if (!locals.account) {
    if (locals.token) throw new ApiError('not-allowed', 'This takes a person who is signed in; a token is not enough.');
    throw new ApiError('not-signed-in', 'The request is not signed in.');
  }
  requireRole(locals.account, role);
  return locals.account;
}

/** The app of the address, for a person or a token that may do this there. */
export async function requireAppRight(
  context: Context,
  role: AccountRole = 'viewer',
): Promise<{ app: ShippedApp; by: string; role: AccountRole }> {
  const { token, account } = context.locals;
  if (account || !token) {
    const person = requireAccount(context, role);
    return { app: await requireApp(context), by: person.email, role: person.role };
  }
  const app = await requireApp(context);
  const tokenRole = roleOfToken[token.scope];
  if (tokenRole === null) throw new ApiError('not-allowed', `The token "${token.name}" may only upload.`);
  requireRole({ role: tokenRole }, role);
  return { app, by: `token ${token.name}`, role: tokenRole };
}

/** The app, for whoever may read it, and for an upload token of it, which has to know what became of its files. */
export async function requireUploader(context: Context): Promise<ShippedApp> {
  const { token } = context.locals;
  if (token?.scope !== 'upload') return (await requireAppRight(context)).app;
  return requireApp(context);
}

/** The app of the address, for whoever sees it; to the others it does not exist. */
export async function requireApp({ locals, params }: Context): Promise<ShippedApp> {
  const { account, token, services } = locals;
  const slug = params.app ?? '';
  const app = await findApp(services.database, slug);
  if (!account && token) await requireOwnApp(services.database, token, { app, slug });
  if (!app || (account && !reaches(account, app.id))) throw new ApiError('not-found', `There is no app "${slug}".`);
  return app;
}

/** The scope of the address. */
export function requireScope({ url }: Context): Scope {
  const scope = parseScope(url.searchParams);
  if (!scope.ok) throw new ApiError('bad-request', scope.problem.message);
  return scope.value;
}

/** The scope of the address and what is to be counted in it. */
export function requireStability(context: Context, app: ShippedApp): StabilityQuery {
  return { app, scope: requireScope(context), now: new Date(), ...readParameters(context, stabilityParametersSchema) };
}

/** The order of a list, as the address asks for it. */
export function requireCaseOrder({ url }: Context): CaseOrder {
  const order = parseCaseOrder(url.searchParams);
  if (!order.ok) throw new ApiError('bad-request', order.problem.message);
  return order.value;
}

/** The report's place in its case, as the address gives it: 0 is the newest. */
export function reportPosition({ url }: Context): number {
  const text = url.searchParams.get('report') ?? '0';
  if (!/^\d{1,9}$/.test(text)) throw new ApiError('bad-request', `report=${text.slice(0, 40)} is not a whole number from 0.`);
  return Number(text);
}

/** Where in a list the address asks it to begin. */
export function listPosition({ url }: Context): number {
  const text = url.searchParams.get('from') ?? '0';
  if (!/^\d{1,7}$/.test(text)) throw new ApiError('bad-request', `from=${text.slice(0, 40)} is not a whole number from 0.`);
  return Number(text);
}

/** A number of a row in the address. */
export function requireId({ params }: Context): number {
  if (!/^\d{1,9}$/.test(params.id ?? '')) throw new ApiError('not-found', 'There is nothing of this number.');
  return Number(params.id);
}

/** The address parameters, checked. */
export function readParameters<Schema extends z.ZodType>({ url }: Context, schema: Schema): z.output<Schema> {
  const parsed = schema.safeParse(Object.fromEntries(url.searchParams));
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new ApiError('bad-request', `${issue?.path.join('.') || 'address'}: ${issue?.message}`);
}

const mostBodyBytes = 64 * 1024;

/** The JSON body, checked. */
export async function readJson<Schema extends z.ZodType>({ request }: Context, schema: Schema): Promise<z.output<Schema>> {
  const body = request.body ? await readWhole(Readable.fromWeb(request.body as ReadableStream<Uint8Array>), mostBodyBytes) : '';
  let value: unknown;
  try {
    value = JSON.parse(body.toString());
  } catch {
    throw new ApiError('bad-request', 'The body is not JSON.');
  }
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new ApiError('bad-request', `${issue?.path.join('.') || 'body'}: ${issue?.message}`);
}

export const json = (body: unknown, status = 200): Response => Response.json(body, { status, headers: { 'cache-control': 'no-store' } });

/** The name a person gives a key or token. */
export const credentialNameSchema = z.object({ name: z.string().trim().min(1, { error: 'give it a name' }).max(100) });

/** Judges passwords on a worker thread. */
export const judgePassword =
  (workers: Services['workers']): PasswordJudge =>
  (password, words) =>
    workers.run('passwordProblem', password, words);
