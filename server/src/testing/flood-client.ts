import { deflateRawSync, deflateSync, gzipSync } from 'node:zlib';
import type { AttackName } from './attack-names.ts';

/** What one sender with a public key, or with an upload token, may think of. Each attack is a list of requests that are sent at once. */
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

/** What is taken in full keeps the workers busy for minutes: `npm run test:hostile` sends all of it, `npm test` a part. */
const isThorough = process.env.EMBER_HOSTILE_RUNS !== undefined;
const reportsInBatch = isThorough ? 5_000 : 1_000;
const symbolParts = isThorough ? 1 : 4;

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
  'thousands of reports in each of four batches': () =>
    Array.from({ length: 4 }, (_, at) => ({
      path: '/intake/v1/batch',
      body: gzipSync(
        Array.from({ length: reportsInBatch }, (_, one) =>
          report(1_000 + at * reportsInBatch + one, {
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
  'symbol files that say what they do not hold': () =>
    [bombArchive(), bombSection(), headerOnly([0xca, 0xfe, 0xba, 0xbe, 0x7f, 0xff, 0xff, 0xff]), headerOnly([0x42, 0x53, 0x4a, 0x42])].map(
      upload,
    ),
  'symbol files of millions of entries': () =>
    [
      bytesOf(
        Array.from({ length: 1_500_000 / symbolParts }, (_, at) => `com.larkfield.C${at} -> a${at}:\n    1:9:void m() -> m`).join('\n'),
      ),
      bytesOf(`{"version":3,"sources":["a"],"names":[],"mappings":"${'AAAA,'.repeat(6_000_000 / symbolParts)}AAAA"}`),
      bytesOf(
        `{"version":3,"sources":[${'"a",'.repeat(3_000_000 / symbolParts)}"a"],"names":[],"mappings":"${';'.repeat(20_000_000 / symbolParts)}"}`,
      ),
      bytesOf(`com.larkfield.A -> a:\n${'    1:1:void x():1:1 -> b\n'.repeat(2_000_000 / symbolParts)}`),
    ].map(upload),
};

const upload = (body: Uint8Array, at: number): Sent => ({
  path: `/api/v1/apps/guide/symbol-files?version=${at}&build=${at}&name=file-${at}`,
  body,
  headers: { authorization: `Bearer ${uploadToken}` },
});

const headerOnly = (bytes: readonly number[]): Uint8Array => Uint8Array.from([...bytes, ...new Array<number>(4_000).fill(0xff)]);

/** An archive with one file that unpacks to a gigabyte (PKWARE APPNOTE 4.3). */
function bombArchive(): Uint8Array {
  const packed = deflateRawSync(Buffer.alloc(1_000_000_000), { level: 1 });
  const name = Buffer.from('Guide.dSYM/Contents/Resources/DWARF/Guide');
  const local = Buffer.alloc(30);
  local.writeUInt32LE(0x04034b50, 0);
  const central = Buffer.alloc(46);
  central.writeUInt32LE(0x02014b50, 0);
  for (const [header, shift] of [
    [local, 0],
    [central, 2],
  ] as const) {
    header.writeUInt16LE(8, 8 + shift);
    header.writeUInt32LE(packed.length, 18 + shift);
    header.writeUInt32LE(1_000, 22 + shift);
    header.writeUInt16LE(name.length, 26 + shift);
  }
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(46 + name.length, 12);
  end.writeUInt32LE(30 + name.length + packed.length, 16);
  return Buffer.concat([local, name, packed, central, name, end]);
}

/** Machine code whose debug information is compressed: 64 bytes of it are told to be 2 GB, and unpack to 300 MB (ELF gABI, Elf64_Chdr). */
function bombSection(): Uint8Array {
  const packed = deflateSync(Buffer.alloc(300_000_000));
  const compressed = Buffer.alloc(24);
  compressed.writeUInt32LE(1, 0);
  compressed.writeBigUInt64LE(2_000_000_000n, 8);
  compressed.writeBigUInt64LE(1n, 16);
  const names = Buffer.from('\0.debug_info\0.shstrtab\0');
  const header = Buffer.alloc(64);
  header.write('\x7fELF\x02\x01\x01', 'latin1');
  header.writeUInt16LE(3, 16);
  header.writeUInt16LE(183, 18);
  const content = Buffer.concat([compressed, packed, names]);
  header.writeBigUInt64LE(BigInt(64 + content.length), 40);
  header.writeUInt16LE(64, 52);
  header.writeUInt16LE(64, 58);
  header.writeUInt16LE(3, 60);
  header.writeUInt16LE(2, 62);
  const section = (name: number, type: number, flags: bigint, offset: number, size: number): Buffer => {
    const bytes = Buffer.alloc(64);
    bytes.writeUInt32LE(name, 0);
    bytes.writeUInt32LE(type, 4);
    bytes.writeBigUInt64LE(flags, 8);
    bytes.writeBigUInt64LE(BigInt(offset), 24);
    bytes.writeBigUInt64LE(BigInt(size), 32);
    return bytes;
  };
  return Buffer.concat([
    header,
    content,
    Buffer.alloc(64),
    section(1, 1, 0x800n, 64, compressed.length + packed.length),
    section(13, 3, 0n, 64 + compressed.length + packed.length, names.length),
  ]);
}

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

const [address, key, uploadToken] = process.argv.slice(2) as [string, string, string];

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
