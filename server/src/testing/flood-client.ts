import { gzipSync } from 'node:zlib';
import type { AttackName } from './attack-names.ts';

/** What one sender with a public key may think of. Each attack is a list of requests that are sent at once. */
interface Sent {
  readonly path: string;
  readonly body: Uint8Array;
  readonly headers?: Readonly<Record<string, string>>;
}

const gzip = { 'content-encoding': 'gzip' };
const json = { 'content-type': 'application/json' };
const protobuf = { 'content-type': 'application/x-protobuf' };
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const uuid = (number: number): string => `0192d3a4-5b6c-4d7e-8f90-${number.toString(16).padStart(12, '0')}`;
const frame = (line: number) => ({ runtime: 'jvm', class: 'com.larkfield.guide.Nest', method: `grow${line % 50}`, file: 'Nest.kt', line });
const report = (number: number, more: object): string =>
  JSON.stringify({
    type: 'report',
    id: uuid(number),
    kind: 'crash',
    occurredAt: '2026-11-30T00:00:00Z',
    version: '4.3.0',
    build: '430',
    ...more,
  });

const endless = gzipSync(Buffer.alloc(300_000_000));

const attacks: Readonly<Record<AttackName, () => readonly Sent[]>> = {
  'ten million lines in a small file': () => [{ path: '/intake/v1/batch', body: gzipSync('x\n'.repeat(10_000_000)), headers: gzip }],
  'ten million empty lines': () => [{ path: '/intake/v1/batch', body: gzipSync('\n'.repeat(10_000_000)), headers: gzip }],
  'deep JSON': () => [
    {
      path: '/intake/v1/batch',
      body: bytesOf(`{"type":"report","kind":"crash","attributes":${'['.repeat(9_000_000)}${']'.repeat(9_000_000)}}`),
    },
    {
      path: '/intake/v1/batch',
      body: bytesOf(`{"type":"report","kind":"crash","x":${'{"a":'.repeat(1_000_000)}1${'}'.repeat(1_000_000)}}`),
    },
  ],
  'wide JSON': () => [
    {
      path: '/intake/v1/batch',
      body: gzipSync(
        `{"type":"report","kind":"crash","attributes":{${Array.from({ length: 900_000 }, (_, at) => `"a${at}":{}`).join(',')}}}`,
      ),
      headers: gzip,
    },
    { path: '/intake/v1/batch', body: gzipSync(`{"type":"report","kind":"crash","trail":[${'1,'.repeat(1_900_000)}1]}`), headers: gzip },
    { path: '/intake/v1/batch', body: gzipSync(`{"type":"report","kind":"crash","trail":[${'[],'.repeat(6_000_000)}1]}`), headers: gzip },
  ],
  'a million empty log records': () => [
    {
      path: '/v1/logs',
      body: gzipSync(`{"resourceLogs":[{"scopeLogs":[{"logRecords":[${'{},'.repeat(999_999)}{}]}]}]}`),
      headers: { ...gzip, ...json },
    },
    { path: '/v1/logs', body: gzipSync(emptyRecords(1_000_000)), headers: { ...gzip, ...protobuf } },
    { path: '/v1/logs', body: gzipSync(emptyRecords(9_000_000)), headers: { ...gzip, ...protobuf } },
  ],
  'legal reports of twenty thousand frames by eight senders': () =>
    Array.from({ length: 8 }, (_, at) => ({
      path: '/intake/v1/batch',
      body: gzipSync(
        report(at, {
          threads: Array.from({ length: 10 }, (_, thread) => ({
            name: `t${thread}`,
            crashed: thread === 0,
            frames: Array.from({ length: 2_000 }, (_, line) => frame(line)),
          })),
        }),
      ),
      headers: gzip,
    })),
  'five thousand reports in each of four batches': () =>
    Array.from({ length: 4 }, (_, at) => ({
      path: '/intake/v1/batch',
      body: gzipSync(
        Array.from({ length: 5_000 }, (_, one) =>
          report(1_000 + at * 5_000 + one, {
            exceptions: [
              { type: 'java.lang.Error', message: 'm'.repeat(500), frames: Array.from({ length: 20 }, (_, line) => frame(line)) },
            ],
          }),
        ).join('\n'),
      ),
      headers: gzip,
    })),
  'large crash files of nothing': () =>
    Array.from({ length: 4 }, () => ({
      path: '/intake/v1/file?version=1&build=1',
      body: gzipSync('at a.b.c(D.java:1)\n'.repeat(900_000)),
      headers: gzip,
    })),
  'twenty bodies that unpack without end': () =>
    Array.from({ length: 20 }, () => ({ path: '/intake/v1/batch', body: endless, headers: gzip })),
};

/** Log records that hold nothing, as many as asked for, in one group (opentelemetry-proto, ExportLogsServiceRequest). */
function emptyRecords(count: number): Uint8Array {
  const records = new Uint8Array(2 * count);
  for (let at = 0; at < count; at++) records[2 * at] = 0x12; // field 2, length 0
  const within = (field: number, bytes: Uint8Array) => Buffer.concat([Uint8Array.of((field << 3) | 2, ...varint(bytes.length)), bytes]);
  return within(1, within(2, records));
}

function varint(number: number): number[] {
  const bytes: number[] = [];
  for (let left = number; ; left = Math.floor(left / 128)) {
    if (left < 128) return [...bytes, left];
    bytes.push((left % 128) | 128);
  }
}

const [address, key] = process.argv.slice(2) as [string, string];

/** Attacks by the name that comes, and tells first that everything is ready to be sent, then what was answered. */
process.on('message', async (name: string) => {
  const sent = attacks[name as AttackName]?.() ?? [];
  process.send?.({ begun: name });
  const answers = await Promise.all(
    sent.map(async ({ path, body, headers }) => {
      try {
        const answer = await fetch(address + path, {
          method: 'POST',
          body: body as BodyInit,
          headers: { authorization: `Bearer ${key}`, ...headers },
        });
        return { status: answer.status, bytes: (await answer.text()).length };
      } catch (error) {
        return { status: 0, bytes: 0, problem: String(error) };
      }
    }),
  );
  process.send?.({ answers });
});
