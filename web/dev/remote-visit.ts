import type { Ask } from '@rough-ember/server/api/registry';
import type { PageVisit } from '@rough-ember/server/api/visit';
import { address } from '../src/client/api';

/** A refusal of the server, as a page's own visit would throw it. */
class Refused extends Error {
  constructor(
    readonly code: string,
    readonly status: number,
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

/**
 * The visit of a page in development: pages are made by one process, so that they stay while the server in another one is
 * started anew, and ask it over HTTP what they would ask it directly.
 */
export class RemoteVisit implements PageVisit {
  account: PageVisit['account'] = null;
  readonly publicUrl: string;
  readonly serverVersion = 'latest';
  /** The browser puts it right. */
  readonly zoneOfBrowser = null;
  private readonly cookies: string[] = [];

  constructor(
    private readonly server: string,
    private readonly request: Request,
  ) {
    this.publicUrl = server;
  }

  async admit(): Promise<void> {
    this.account = (await this.ask('GET /account', {}).catch((error: unknown) => {
      if (error instanceof Refused && error.status === 401) return null;
      throw error;
    })) as PageVisit['account'];
  }

  readonly ask: Ask = async (key, path, { parameters, body } = {}) => {
    const [method] = key.split(' ') as [string];
    const answer = await patientFetch(this.server + address(key, path, parameters), {
      method,
      headers: {
        cookie: this.request.headers.get('cookie') ?? '',
        origin: this.server,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    this.cookies.push(...answer.headers.getSetCookie());
    const told = await answer.json();
    if (!answer.ok) throw new Refused(told.error.code, answer.status, told.error.message, told.error.remedy);
    return told;
  };

  refuse(code: string, message: string): never {
    throw new Refused(code, 403, message, '');
  }

  withCookies(response: Response): Response {
    for (const cookie of this.cookies) response.headers.append('set-cookie', cookie);
    return response;
  }

  problemPage(error: unknown): Response {
    // The framework shows what went wrong in the sources, which is what a developer wants to see.
    if (!(error instanceof Refused)) throw error;
    return new Response(`${error.message} ${error.remedy}`, { status: error.status, headers: { 'content-type': 'text/plain' } });
  }
}

/** Asks again while the server is being started anew. */
async function patientFetch(address: string, request: RequestInit): Promise<Response> {
  for (let attempt = 0; ; attempt++)
    try {
      return await fetch(address, request);
    } catch (error) {
      if (attempt >= 100) throw error;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
}
