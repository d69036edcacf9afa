import type { Account, AccountRole } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import type { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

export const methods = ['GET', 'POST', 'PUT', 'DELETE'] as const;
export type Method = (typeof methods)[number];

/** Method and path of an operation behind `/api/v1`, with the names of its path parameters in braces. */
export type Key = `${Method} /${string}`;

/** Who may run an operation: the least role of a person, which tokens will do, and how that is said. */
export const rights = {
  anybody: { role: null, tokens: 'all', words: 'Takes neither token nor sign-in.' },
  upload: { role: 'viewer', tokens: 'all', words: 'Takes any token of the app, or a sign-in.' },
  read: { role: 'viewer', tokens: 'by-scope', words: 'Takes a token that may read, or a sign-in.' },
  change: { role: 'developer', tokens: 'by-scope', words: 'Takes a token that may change, or the sign-in of a developer.' },
  person: { role: 'viewer', tokens: 'none', words: 'Takes a sign-in.' },
  developer: { role: 'developer', tokens: 'none', words: 'Takes the sign-in of a developer.' },
  owner: { role: 'owner', tokens: 'none', words: 'Takes the sign-in of an owner.' },
} as const satisfies Record<string, { role: AccountRole | null; tokens: 'all' | 'by-scope' | 'none'; words: string }>;
export type Right = keyof typeof rights;

type PathName<Path> = Path extends `${string}{${infer Name}}${infer Rest}` ? Name | PathName<Rest> : never;
/** The path parameters of an operation. */
export type PathOf<K extends Key> = { readonly [Name in PathName<K>]: string };

/** The connection that a request came on, and its sign-in. */
export interface Connection {
  /** The network address it comes from; nothing a sender can make up. */
  readonly remoteAddress: string;
  /** The secret of the browser's cookie. */
  readonly signInToken: string | undefined;
  /** The header of a token. */
  readonly authorization: string | null;
  /** Gives the browser another cookie, or takes the one it has away. */
  changeSignIn(token: string | null): void;
}

/** What an operation works with once everything of the request is checked. */
export interface Asked<K extends Key, R extends Right, Parameters, Body> {
  readonly services: Services;
  readonly connection: Connection;
  readonly app: 'app' extends PathName<K> ? App : null;
  /** Who asks, for histories: a mail address, or the name of a token. */
  readonly by: string;
  readonly role: AccountRole;
  readonly account: R extends 'person' | 'developer' | 'owner' ? Account : Account | null;
  readonly path: PathOf<K>;
  readonly parameters: Parameters;
  readonly body: Body;
  readonly now: Date;
}

/** Something that can be done over HTTP, declared once: the router, the rights, the screens' client and the documentation come from it. */
export interface Operation<
  K extends Key = Key,
  R extends Right = Right,
  Parameters extends z.ZodType = z.ZodType,
  Body extends z.ZodType = z.ZodType,
  Answer = unknown,
> {
  readonly key: K;
  /** What it does, as a sentence. */
  readonly does: string;
  readonly right: R;
  /** Parameters of the address. */
  readonly parameters?: Parameters;
  /** The JSON body. */
  readonly body?: Body;
  /** Of the answer when all is well; 200 unless said. */
  readonly status?: number;
  /** Media type of an answer that is no JSON; `run` then gives the whole response. */
  readonly produces?: string;
  run(asked: Asked<K, R, z.output<Parameters>, z.output<Body>>): Promise<Answer> | Answer;
}

/** Declares an operation under its key. */
export const operation = <
  const K extends Key,
  const R extends Right,
  Answer,
  Parameters extends z.ZodType = z.ZodUndefined,
  Body extends z.ZodType = z.ZodUndefined,
>(
  key: K,
  declared: Omit<Operation<K, R, Parameters, Body, Answer>, 'key'>,
): Operation<K, R, Parameters, Body, Answer> => ({ key, ...declared });

/** The number of a row in a path. */
export function rowNumber(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new ApiError('not-found', 'There is nothing of this number.');
  return Number(text);
}
