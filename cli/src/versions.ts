import own from '../package.json' with { type: 'json' };

const patienceMs = 2_000;

/** The version of this program and, where EMBER_SERVER names one, of the server with its schema: the first thing one is asked for. */
export async function printVersions(server: string | undefined): Promise<void> {
  console.log(own.version);
  if (server) console.log(`${server}: ${await versionOfServer(server)}`);
}

async function versionOfServer(server: string): Promise<string> {
  try {
    const answer = await fetch(`${server.replace(/\/+$/, '')}/api/v1/server`, { signal: AbortSignal.timeout(patienceMs) });
    const { version, schema } = (await answer.json()) as { version?: unknown; schema?: unknown };
    return typeof version === 'string' ? `${version}, schema ${Number(schema)}` : 'no Rough Ember server, or an older one';
  } catch {
    return 'cannot be reached, or is no Rough Ember server';
  }
}
