import { isTimeZone } from '@rough-ember/core/time-zone';
import type { Account, AccountRole } from '@rough-ember/store/accounts';
import { type App, findApp, findAppById } from '@rough-ember/store/apps';
import type { Token } from '@rough-ember/store/credentials';
import { parse, serialize } from 'hono/utils/cookie';
import type { z } from 'zod';
import { requireSameOrigin } from '../accounts/origin.ts';
import { reaches } from '../accounts/reach.ts';
import { requireRole, signedInAccount, signInCookie, signInDays } from '../accounts/sign-in.ts';
import { findToken, requireOwnApp, roleOfToken } from '../accounts/tokens.ts';
import { ApiError } from '../errors.ts';
import type { RequestOrigin } from '../http/http-server.ts';
import { problemPage, problemPageHeaders } from '../http/problem-page.ts';
import { type Asked, type Connection, type Key, type Operation, type Right, rights } from '../operation/operation.ts';
import { serverVersion } from '../server-version.ts';
import type { Services } from '../services.ts';
import { toApiError } from '../to-api-error.ts';
import { type AnswerOf, type Ask, operations } from './registry.ts';

/** Set by the pages. */
const zoneCookie = 'ember_zone';

const byKey: ReadonlyMap<string, Operation> = new Map(operations.map((one) => [one.key, one as unknown as Operation]));

/** One request: who makes it, what they may do, and the cookie they are given. Pages and the API ask through it alike. */
export class Visit {
  account: Account | null = null;
  private token: Token | null = null;
  private readonly cookies: string[] = [];
  private readonly connection: Connection;

  constructor(
    private readonly services: Services,
    private readonly request: Request,
    private readonly origin: RequestOrigin,
  ) {
    this.connection = {
      remoteAddress: origin.remoteAddress,
      signInToken: parse(request.headers.get('cookie') ?? '', signInCookie)[signInCookie],
      authorization: request.headers.get('authorization'),
      changeSignIn: (token) => this.changeSignIn(token),
    };
  }

  /** Address of this server, without a slash at the end. */
  get publicUrl(): string {
    return this.services.publicUrl;
  }

  /** The time zone of the browser, as its cookie tells it; null where it tells none that there is. */
  get zoneOfBrowser(): string | null {
    const told = parse(this.request.headers.get('cookie') ?? '', zoneCookie)[zoneCookie];
    return told !== undefined && told.length <= 60 && isTimeZone(told) ? told : null;
  }

  readonly serverVersion = serverVersion;

  /** Finds out who asks; a write that a page of another server makes is refused. */
  async admit(): Promise<void> {
    const { headers, method } = this.request;
    this.account = await signedInAccount(this.services.database, this.connection.signInToken);
    if (!['GET', 'HEAD'].includes(method) && this.connection.authorization === null)
      requireSameOrigin({ origin: headers.get('origin'), host: headers.get('host'), publicUrl: this.services.publicUrl });
  }

  /** Refuses whoever has neither a sign-in nor a token; what either may do is for the operation to say. */
  async requireSomebody(): Promise<void> {
    if (this.account || this.token) return;
    if (this.connection.authorization === null) throw new ApiError('not-signed-in', 'The request is not signed in.');
    this.token = await findToken(this.services.database, this.connection.authorization);
  }

  /** The name of the app whose token asks; null for a person, who may see several. */
  async appOfToken(): Promise<string | null> {
    await this.requireSomebody();
    return this.token === null ? null : ((await findAppById(this.services.database, this.token.appId))?.slug ?? null);
  }

  /** Runs an operation for whoever asks, and gives its answer as it is; refusals are `ApiError`s. */
  readonly ask: Ask = async (key, path, { parameters = '', body } = {}) => {
    const given = typeof parameters === 'string' ? new URLSearchParams(parameters) : parameters;
    const answer = await this.run(byKey.get(key) as Operation, {
      path,
      parameters: given instanceof URLSearchParams ? firstOfEach(given) : given,
      body: async () => body,
    });
    return answer as AnswerOf<typeof key>;
  };

  /** Checks the right, then what was sent, then runs. `body` is asked for only once the right is certain. */
  async run(
    operation: Operation,
    sent: { path: Readonly<Record<string, string>>; parameters: unknown; body: () => Promise<unknown> },
  ): Promise<unknown> {
    const by = await this.authorise(operation, sent.path);
    const asked = {
      ...by,
      services: this.services,
      connection: this.connection,
      path: sent.path,
      parameters: operation.parameters && checked(operation.parameters, sent.parameters),
      body: operation.body && checked(operation.body, await sent.body()),
      now: new Date(),
    };
    return operation.run(asked as Asked<Key, Right, unknown, unknown>);
  }

  private async authorise(
    { key, right }: Operation,
    path: Readonly<Record<string, string>>,
  ): Promise<{ account: Account | null; role: AccountRole; by: string; app: App | null }> {
    const { account } = this;
    const { role, tokens } = rights[right];
    if (role === null) return { account, role: 'viewer', by: 'anybody', app: null };
    await this.requireSomebody();
    const hasApp = key.includes('{app}');
    if (account) {
      requireRole(account, role);
      return { account, role: account.role, by: account.email, app: hasApp ? await this.requireApp(path.app) : null };
    }
    const { name, scope } = this.token as Token;
    if (tokens === 'none') throw new ApiError('not-allowed', 'This takes a person who is signed in; a token is not enough.');
    const app = hasApp ? await this.requireApp(path.app) : null;
    const roleHere = tokens === 'all' ? 'viewer' : roleOfToken[scope];
    if (roleHere === null) throw new ApiError('not-allowed', `The token "${name}" may only upload.`);
    requireRole({ role: roleHere }, role);
    return { account: null, role: roleHere, by: `token ${name}`, app };
  }

  /** The app, for whoever sees it; to the others it does not exist. */
  private async requireApp(slug = ''): Promise<App> {
    const { account, token, services } = this;
    const app = await findApp(services.database, slug);
    if (!account && token) await requireOwnApp(services.database, token, { app, slug });
    if (!app || (account && !reaches(account, app.id))) throw new ApiError('not-found', `There is no app "${slug}".`);
    return app;
  }

  /** Refuses in a page as an operation does. */
  refuse(...[code, message]: ConstructorParameters<typeof ApiError>): never {
    throw new ApiError(code, message);
  }

  /** What went wrong in words for the caller; what is nobody's fault but ours goes to the log. */
  toApiError(error: unknown): ApiError {
    const known = toApiError(error);
    if (known.code === 'internal')
      this.services.log.error(
        { err: error, requestId: this.origin.requestId, url: new URL(this.request.url).pathname },
        'a request failed',
      );
    return known;
  }

  /** A page that says what went wrong. */
  problemPage(error: unknown): Response {
    const known = this.toApiError(error);
    return new Response(problemPage(known), { status: known.status, headers: problemPageHeaders });
  }

  private changeSignIn(token: string | null): void {
    this.cookies.push(
      serialize(signInCookie, token ?? '', {
        // Out of reach of scripts, and not sent along by other sites' writes.
        httpOnly: true,
        sameSite: 'Lax',
        path: '/',
        secure: this.services.publicUrl.startsWith('https:'),
        maxAge: token === null ? 0 : signInDays * 86_400,
      }),
    );
  }

  /** Gives the answer the cookies that operations asked for. */
  withCookies(response: Response): Response {
    for (const cookie of this.cookies) response.headers.append('set-cookie', cookie);
    return response;
  }
}

/** What a page knows of its visit. */
export type PageVisit = Pick<
  Visit,
  'account' | 'publicUrl' | 'serverVersion' | 'zoneOfBrowser' | 'admit' | 'ask' | 'refuse' | 'withCookies' | 'problemPage'
>;

/** The parameters of an address; of one that is there twice, the first counts. */
export const firstOfEach = (parameters: URLSearchParams): Record<string, string> => Object.fromEntries([...parameters].reverse());

function checked(schema: z.ZodType, value: unknown): unknown {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new ApiError('bad-request', [issue?.path.join('.'), issue?.message].filter(Boolean).join(': '));
}
