import { execFile } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { snippets } from '../src/intake/snippets';
import { server } from './testing/server.ts';

const page = readFileSync(fileURLToPath(new URL('../../docs/protocol.md', import.meta.url)), 'utf8');
const examples = [...page.matchAll(/^```sh\n([\s\S]*?)^```$/gm)].map((match) => match[1] as string);

/** Runs an example of the documentation as a person would paste it; gives status and body. */
const run = (example: string) =>
  new Promise<{ status: number; body: string }>((resolve, reject) => {
    const { address, intakeKey, uploadToken } = server;
    const script = example.replace('curl ', "curl -s -w '\\n%{http_code}' ");
    execFile('/bin/sh', ['-c', script], { env: { ...process.env, SERVER: address, KEY: intakeKey, TOKEN: uploadToken } }, (error, out) => {
      if (error) return reject(error);
      const lines = out.trimEnd().split('\n');
      resolve({ status: Number(lines.at(-1)), body: lines.slice(0, -1).join('\n') });
    });
  });

it('the page has an example of every way in', () => expect(examples.length).toBeGreaterThanOrEqual(6));

it.each(examples.map((example) => [example.slice(0, 60).replaceAll('\n', ' '), example]))(
  '%s … does what the page says',
  async (_, example) => {
    const { status, body } = await run(example);
    expect([200, 202]).toContain(status);
    expect(body).not.toContain('refused');
  },
);

it('the snippet that the Intake page offers first sends a first report', async () => {
  const { address, intakeKey } = server;
  const [first] = snippets({ serverAddress: address, serverVersion: '' }, intakeKey, 'larkfield-guide');
  const { status } = await run(first?.code ?? '');
  expect(status).toBe(202);
});

it('the served schema takes the documented report and no nonsense', async () => {
  const schema = await (await fetch(`${server.address}/intake/v1/schema.json`)).json();
  expect(schema.oneOf.map((one: { properties: { type: { const: string } } }) => one.properties.type.const)).toEqual([
    'report',
    'session',
    'attachment',
  ]);
});
