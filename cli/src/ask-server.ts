import { type Command, Option } from 'commander';
import { CommandProblem, UsageProblem } from './command-problem.ts';

/** Tokens by what they are for: the variable that holds one, and where one comes from. */
const tokens = {
  upload: { words: 'upload token', variable: 'EMBER_UPLOAD_TOKEN', from: 'the Intake page of the app makes one' },
  read: {
    words: 'API token that may read',
    variable: 'EMBER_API_TOKEN',
    from: 'the Intake page of the app makes one, with the right to read',
  },
  change: {
    words: 'API token that may change',
    variable: 'EMBER_API_TOKEN',
    from: 'the Intake page of the app makes one, with the right to change',
  },
} as const;
export type TokenKind = keyof typeof tokens;

/** How a command reaches a server. */
export interface ServerOptions {
  readonly server: string;
  readonly token?: string;
  readonly app: string;
}

/** Gives a command the options by which it reaches a server. */
export const onServer = (command: Command, kind: TokenKind): Command =>
  command
    .addOption(new Option('--server <address>', 'address of the server').env('EMBER_SERVER').default('http://127.0.0.1:4310'))
    .addOption(new Option('--token <token>', tokens[kind].words).env(tokens[kind].variable))
    .requiredOption('--app <name>', 'name of the app in addresses, such as larkfield-guide');

/** The address of the app on its server, and the token; a problem says where a token comes from. */
export function reach({ server, token, app }: ServerOptions, kind: TokenKind): { readonly app: string; readonly token: string } {
  const { words, variable, from } = tokens[kind];
  if (token === undefined || token === '') throw new UsageProblem(`there is no ${words}: give --token or set ${variable}; ${from}`);
  if (!URL.canParse(server) || !/^https?:/.test(server))
    throw new UsageProblem(`"${server}" is no address of a server; give --server or set EMBER_SERVER, as https://ember.example.org`);
  return { app: `${server.replace(/\/+$/, '')}/api/v1/apps/${encodeURIComponent(app)}`, token };
}

/** A failure that may pass: the server is away or overloaded. */
export class Passing extends CommandProblem {}

/** Asks the server; a refusal becomes a problem in the server's own words. */
export async function ask<Answer>(address: string, token: string, request: RequestInit & { duplex?: 'half' } = {}): Promise<Answer> {
  let answer: Response;
  let body: string;
  try {
    answer = await fetch(address, { ...request, headers: { authorization: `Bearer ${token}`, ...request.headers } });
    body = await answer.text();
  } catch (error) {
    const cause = (error as Error).cause as { code?: string; message?: string } | undefined;
    throw new Passing(`${new URL(address).origin} cannot be reached: ${cause?.code ?? cause?.message ?? (error as Error).message}`);
  }
  const told = parsed(body);
  if (answer.ok && told) return told as Answer;
  throw refusal(address, answer.status, body);
}

/** What an answer that is none of those wanted says: the server's reason, or that it is another server. */
export function refusal(address: string, status: number, body: string): CommandProblem {
  const { error } = (parsed(body) ?? {}) as { error?: { message?: string; remedy?: string } };
  const mayPass = status >= 500 || status === 429;
  if (error?.message) return new (mayPass ? Passing : CommandProblem)(`the server refused: ${error.message} ${error.remedy ?? ''}`.trim());
  if (mayPass) return new Passing(`the server refused: it answered with status ${status}`);
  return new CommandProblem(
    `${new URL(address).origin} is no Rough Ember server: it answered with status ${status} and not in its words; check --server or EMBER_SERVER`,
  );
}

function parsed(body: string): object | null {
  try {
    const value: unknown = JSON.parse(body);
    return typeof value === 'object' ? value : null;
  } catch {
    return null;
  }
}
