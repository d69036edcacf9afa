import type { AnswerOf, OperationKey, Sent } from '@rough-ember/server/api/registry';
import type { PathOf } from '@rough-ember/server/operation/operation';

/** A refusal of the server in words: what is wrong, and what to do. */
export class RequestProblem extends Error {
  constructor(
    message: string,
    readonly remedy: string,
    /** It is the server's trouble and may pass: the same question may be answered a little later. */
    readonly mayPass = false,
  ) {
    super(message);
  }
}

/** Where something is asked for, with the type of what is answered there. */
export type Address<Answer> = string & { readonly answer?: Answer };

type Readable = Extract<OperationKey, `GET ${string}`>;

/** The address of an operation that reads. */
export const addressOf = <K extends Readable>(key: K, path: PathOf<K>, parameters?: Sent<K>['parameters']): Address<AnswerOf<K>> =>
  address(key, path, parameters);

/** The address of any operation. */
export function address(key: string, path: Readonly<Record<string, string>>, parameters: unknown = ''): string {
  const place = key.slice(key.indexOf(' ') + 1).replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(path[name] as string));
  const given =
    typeof parameters === 'string' || parameters instanceof URLSearchParams
      ? String(parameters).replace(/^\?/, '')
      : new URLSearchParams(Object.entries(parameters as object).filter(([, value]) => value !== undefined)).toString();
  return `/api/v1${place}${given === '' ? '' : `?${given}`}`;
}

/** What went wrong as a problem that can be shown. */
export const problemOf = (error: unknown, remedy = 'Try again.'): RequestProblem =>
  error instanceof RequestProblem ? error : new RequestProblem(String(error), remedy);

interface HowSent {
  readonly signal?: AbortSignal;
  /** It is sent even if the page is left meanwhile. */
  readonly keepalive?: boolean;
}

/** Asks for an operation of the server's API; a refusal, or a server that is away, is a `RequestProblem`. */
export const request = <K extends OperationKey>(
  key: K,
  path: PathOf<K>,
  { parameters, ...sent }: Sent<K> & HowSent = {},
): Promise<AnswerOf<K>> => send(key.slice(0, key.indexOf(' ')), address(key, path, parameters), sent);

/** Asks what is answered at an address. */
export const read = <Answer>(from: Address<Answer>, signal: AbortSignal): Promise<Answer> => send('GET', from, { signal });

async function send<Answer>(
  method: string,
  to: string,
  { body, signal, keepalive = false }: HowSent & { readonly body?: unknown },
): Promise<Answer> {
  let answer: Response;
  try {
    answer = await fetch(to, {
      method,
      signal: signal ?? null,
      keepalive,
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new RequestProblem('The server does not answer.', 'What you see is from before; this page tries again by itself.', true);
  }
  if (answer.ok) return answer.json();
  throw await readProblem(answer);
}

/** The problem an answer tells of, whoever made the answer. */
export async function readProblem(answer: Response): Promise<RequestProblem> {
  const told = await answer.json().catch(() => null);
  const error = told?.error as { message?: string; remedy?: string } | undefined;
  return new RequestProblem(
    error?.message ?? `The server answered with status ${answer.status}.`,
    error?.remedy ?? 'Load the page again.',
    answer.status >= 500,
  );
}
