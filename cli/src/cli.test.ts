import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { symbolicatedSchema } from '@rough-ember/core/symbolicate/symbolicated-json';
import { TextReader, Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const program = fileURLToPath(new URL('../bin/ember.mjs', import.meta.url));
const builds = fileURLToPath(new URL('../../demo/larkfield-guide/builds/', import.meta.url));
const samples = fileURLToPath(new URL('../../core/samples/', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ember-cli-'));

function ember(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return emberWithInput('', ...args);
}

function emberWithInput(input: string, ...args: string[]): Promise<{ code: number; out: string; err: string }> {
  const environment = Object.fromEntries(Object.entries(process.env).filter(([name]) => !name.startsWith('EMBER_')));
  return new Promise((resolve) => {
    const child = execFile(process.execPath, [program, ...args], { env: environment }, (error, out, err) =>
      resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
    child.stdin?.end(input);
  });
}

describe('ember --version', () => {
  const own = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')).version as string;

  it('says its own version', async () => expect(await ember('--version')).toEqual({ code: 0, out: `${own}\n`, err: '' }));

  it.each([
    ['{"version":"1.2.3","schema":117}', '1.2.3, schema 117'],
    ['<html>', 'cannot be reached, or is no Rough Ember server'],
    ['{"welcome":true}', 'no Rough Ember server, or an older one'],
  ])('and that of a server which answers %s', async (answer, words) => {
    const server = createServer((_request, response) => response.end(answer));
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const child = await new Promise<string>((resolve) =>
      execFile(process.execPath, [program, '--version'], { env: { ...process.env, EMBER_SERVER: address } }, (_error, out) => resolve(out)),
    );
    server.close();
    expect(child).toBe(`${own}\n${address}: ${words}\n`);
  });
});

describe('ember read', () => {
  it.each([
    ['apple-ips/swift-index.ips', 'Apple crash report (.ips), a crash', 'version  4.3.0 (430)'],
    ['apple-crash-text/watchdog.crash', 'Apple crash report (text), a kill', 'the watchdog ended it'],
    ['metrickit/hang.json', 'MetricKit diagnostic payload, a hang', 'not responding for 20 sec'],
    ['tombstone-text/null-pointer.txt', 'Android tombstone (text), a crash', 'SIGSEGV: null pointer dereference'],
    ['tombstone-protobuf/abort.pb', 'Android tombstone (protobuf), a crash', 'SIGABRT: no microphone'],
    ['anr-trace/deadlock.txt', 'Android ANR trace, a hang', 'held by "Export"'],
    ['exit-info/low-memory.txt', 'Android exit information, a kill', 'LOW_MEMORY'],
    ['logcat/native-crash.txt', 'Android logcat, a crash', '5 native frames'],
    ['jvm/coroutine-recovery.txt', 'JVM stack trace, a crash', 'cause    java.io.IOException'],
    ['javascript/bytecode-callback.txt', 'JavaScript stack trace, a crash', '4 javascript frames'],
    ['dart/compiled.txt', 'Dart stack trace, a crash', '4 dart frames'],
    ['dotnet/core-async.txt', '.NET stack trace, a crash', '4 dotnet frames'],
  ])('says what %s is', async (name, kind, fact) => {
    const { code, out } = await ember('read', samples + name);
    expect([code, out.split('\n')[0]]).toEqual([0, `${samples}${name}: ${kind}`]);
    expect(out).toContain(fact);
  });

  it('prints the canonical form as JSON, and refuses what it does not know in one line', async () => {
    const json = JSON.parse((await ember('read', `${samples}metrickit/crash-and-hang.json`, '--json')).out);
    expect(json.reports.map((one: { kind: string }) => one.kind)).toEqual(['crash', 'hang']);
    const nothing = join(folder, 'nothing.txt');
    writeFileSync(nothing, 'a quiet morning');
    const refused = await ember('read', nothing);
    expect([refused.code, refused.err.trim().split('\n').length]).toEqual([1, 1]);
    expect(refused.err).toContain('no crash was found');
  });
});

describe('ember symbolicate', () => {
  it('prints JSON of the documented form', async () => {
    const { code, out } = await ember(
      'symbolicate',
      `${builds}4.1.0/crashes/sighting-form.txt`,
      '--symbols',
      `${builds}4.1.0`,
      '--ours',
      'com.larkfield',
      '--json',
    );
    expect(code).toBe(0);
    const printed = symbolicatedSchema.parse(JSON.parse(out));
    const { exceptions, threads } = printed;
    expect(printed).toEqual(JSON.parse(out));
    expect(threads).toEqual([{ name: 'main', crashed: true, frames: exceptions[0]?.frames }]);
    expect(exceptions.map((one) => [one.type, one.relation])).toEqual([
      ['com.larkfield.guide.sightings.SightingForm$SubmitFailed', 'thrown'],
      ['java.io.UncheckedIOException', 'cause'],
      ['java.io.EOFException', 'cause'],
    ]);
    expect(exceptions[2]?.frames[0]).toEqual({
      function: 'com.larkfield.guide.sightings.SightingStore.write',
      label: 'com.larkfield.guide.sightings.SightingStore.write',
      file: 'SightingStore.java',
      line: 28,
      column: null,
      inlined: true,
      ours: true,
      status: 'resolved',
      raw: '\tat f.a(SourceFile:1028)',
    });
  });

  it('prints null where nothing names a function, a label for people, and what is missing', async () => {
    const { out } = await ember('symbolicate', `${samples}tombstone-text/arm32.txt`, '--json');
    const { formatVersion, exceptions, missing } = symbolicatedSchema.parse(JSON.parse(out));
    expect(formatVersion).toBe(2);
    expect(exceptions[0]?.frames[1]).toMatchObject({
      function: null,
      label: 'libsound.so 0xb311',
      raw: '    #01 pc 0000b311  /data/app/com.larkfield.guide-1/lib/arm/libsound.so',
    });
    expect(missing).toContainEqual(expect.objectContaining({ kind: 'code', name: 'libsound.so' }));
  });

  it('takes a mapping as a file of gzip, among others in a folder too', async () => {
    const packed = join(folder, 'packed');
    mkdirSync(packed, { recursive: true });
    writeFileSync(join(packed, 'mapping.txt.gz'), gzipSync(readFileSync(`${builds}4.1.0/mapping.txt`)));
    writeFileSync(join(packed, 'app.js'), 'go();');
    for (const symbols of [packed, join(packed, 'mapping.txt.gz')]) {
      const { out } = await ember('symbolicate', `${builds}4.1.0/crashes/sighting-form.txt`, '--symbols', symbols);
      expect(out).toContain('com.larkfield.guide.sightings.SightingStore.write');
    }
  });

  it('prints text, and says on standard error what is missing', async () => {
    const { code, out, err } = await ember('symbolicate', `${builds}4.3.0/crashes/night-map.txt`);
    expect([code, out.split('\n')[1]]).toEqual([0, '    at a.a(SourceFile:4009)']);
    expect(err).toContain('no mapping was given');
  });

  it('never guesses which of several mappings it is', async () => {
    const { code, err } = await ember('symbolicate', `${builds}4.3.0/crashes/night-map.txt`, '--symbols', builds);
    expect([code, err.split('\n').length]).toEqual([1, 2]);
    expect(err).toContain('does not say which build');
  });
});

describe('ember symbols', () => {
  it('says what a file is and what it covers', async () => {
    const { out } = await ember('symbols', `${builds}4.3.0/mapping.txt`, '--json');
    expect(JSON.parse(out)).toMatchObject({ kind: 'mapping', symbolId: null, classes: 21, unreadableLines: 0 });
  });
});

describe('ember symbolicate with split debug information', () => {
  it('takes the functions from the package beside the library', async () => {
    const binaries = new URL('../../core/samples/binaries/built/', import.meta.url).pathname;
    const { out: told } = await ember('symbols', `${binaries}clang-split5.so`, '--json');
    const buildId = JSON.parse(told).symbolId as string;
    const crash = join(folder, 'split.txt');
    writeFileSync(
      crash,
      `*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
ABI: 'x86_64'
pid: 1, tid: 1, name: song  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x1818
backtrace:
      #00 pc 0000000000001818  /data/app/lib/x86_64/libsong.so (BuildId: ${buildId})
`,
    );
    const names = async (...symbols: string[]) => {
      const { out } = await ember('symbolicate', crash, '--symbols', ...symbols, '--json');
      return JSON.parse(out).exceptions[0].frames.map((frame: { function: string }) => frame.function);
    };
    const library = `${binaries}clang-split5.so`;
    expect(await names(library, `${library}.dwp`)).toEqual([
      'lark::Window<float>::at(unsigned long) const',
      'float lark::smooth<3, float>(lark::Window<float> const&, unsigned long)',
      'lark::Detector::find(lark::Window<float> const&) const',
    ]);
    expect(await names(library)).toHaveLength(1);
  });
});

describe('ember demangle', () => {
  it('writes names as their source has them, and leaves others as they are', async () => {
    const { code, out } = await emberWithInput('_ZN4lark8Detector5countEl\nmain\n_RNvC4nest5count\n', 'demangle');
    expect([code, out]).toEqual([0, 'lark::Detector::count(long)\nmain\nnest::count\n']);
  });
});

describe('wrong use', () => {
  const noMapping = join(folder, 'no-mapping.txt');
  writeFileSync(noMapping, '%PDF-1.7');

  it.each([
    [1, ['symbolicate', 'nowhere.txt'], 'there is no such file'],
    [1, ['symbolicate', folder], 'it is a folder'],
    [1, ['symbolicate', noMapping], 'no crash was found'],
    [1, ['symbols', noMapping], 'a PDF document'],
    [1, ['upload', '--app', 'a', '--version', '1', '--build', '1', '--token', 't', noMapping], 'a PDF document'],
    [2, ['dance'], 'unknown command'],
    [2, ['symbolicate'], 'missing required argument'],
    [2, ['symbols', '--nonsense', noMapping], 'unknown option'],
    [2, ['upload', `${builds}4.3.0/mapping.txt`, '--app', 'a'], 'give --token or set EMBER_UPLOAD_TOKEN; the Intake page'],
    [
      2,
      ['check-rollout', '--app', 'a', '--version', '1'],
      'set EMBER_API_TOKEN; the Intake page of the app makes one, with the right to read',
    ],
    [2, ['record-rollout', '--app', 'a', '--version', '1', '--halt', '--server', 'ember', '--token', 't'], '"ember" is no address'],
    [4, ['check-rollout', '--app', 'a', '--version', '1', '--server', 'http://127.0.0.1:9', '--token', 't'], 'cannot be reached'],
  ])('ends with %i in one line: ember %j', async (expected, args, words) => {
    const { code, err } = await ember(...args);
    expect(code).toBe(expected);
    expect(err).toContain(words);
    expect(
      err
        .trim()
        .split('\n')
        .filter((line) => !line.startsWith('Run "ember')),
    ).toHaveLength(1);
  });
});

it('ember --version says which it is', async () => {
  const { code, out } = await ember('--version');
  expect([code, out]).toEqual([0, expect.stringMatching(/^\d+\.\d+\.\d+\n$/)]);
});

describe('ember upload', () => {
  const asked: string[] = [];
  let answers: { status: number; body: object }[] = [];
  let server: Server;
  let address: string;
  beforeAll(async () => {
    server = createServer((request, response) => {
      request.resume().on('end', () => {
        asked.push(`${request.method} ${request.url} ${request.headers.authorization}`);
        const { status, body } = answers.shift() ?? { status: 404, body: {} };
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());
  const upload = (...more: string[]) =>
    ember(
      'upload',
      `${builds}4.3.0/mapping.txt`,
      '--server',
      address,
      '--app',
      'guide',
      '--version',
      '4.3.0',
      '--build',
      '430',
      '--token',
      't',
      ...more,
    );

  it('sends the file, tries again when the server is overloaded, and waits for the index', async () => {
    asked.length = 0;
    answers = [
      { status: 200, body: { file: null } },
      { status: 503, body: { error: { message: 'busy', remedy: 'wait' } } },
      { status: 202, body: { id: 7, state: 'indexing', isNew: true } },
      { status: 200, body: { id: 7, state: 'indexing' } },
      { status: 200, body: { id: 7, state: 'ready' } },
    ];
    const { code, out } = await upload();
    expect([code, out]).toEqual([0, expect.stringContaining('mapping.txt is a symbol file of guide 4.3.0 (430)')]);
    expect(asked.shift()).toMatch(
      /^GET \/api\/v1\/apps\/guide\/symbol-files\/known\?sha256=[0-9a-f]{64}&version=4\.3\.0&build=430 Bearer t$/,
    );
    expect(asked).toEqual([
      ...Array(2).fill('POST /api/v1/apps/guide/symbol-files?version=4.3.0&build=430&name=mapping.txt Bearer t'),
      ...Array(2).fill('GET /api/v1/apps/guide/symbol-files/7 Bearer t'),
    ]);
  });

  it('sends nothing that the server has already', async () => {
    asked.length = 0;
    answers = [
      { status: 200, body: { file: { id: 7, state: 'ready' } } },
      { status: 200, body: { id: 7, state: 'ready' } },
    ];
    const { code, out } = await upload();
    expect([code, out]).toEqual([0, expect.stringContaining('and was there already')]);
    expect(asked.filter((one) => one.startsWith('POST'))).toEqual([]);
  });

  it("prints the server's reason and ends with 1", async () => {
    answers = [{ status: 401, body: { error: { message: 'No such token.', remedy: 'Make one.' } } }];
    expect(await upload()).toMatchObject({ code: 1, err: 'ember: the server refused: No such token. Make one.\n' });
    answers = [
      { status: 200, body: { file: null } },
      { status: 202, body: { id: 8, state: 'indexing', isNew: true } },
      { status: 200, body: { id: 8, state: 'refused', problem: 'line 7 is nonsense' } },
    ];
    expect(await upload()).toMatchObject({ code: 1, err: expect.stringContaining('line 7 is nonsense') });
  });

  it('of a dry run says what would be sent and which ids are in it, and sends nothing', async () => {
    asked.length = 0;
    const binaries = new URL('../../core/samples/binaries/built/', import.meta.url).pathname;
    const { code, out } = await ember(
      'upload',
      `${binaries}apple-universal.dwarf`,
      '--app',
      'guide',
      '--token',
      't',
      '--server',
      address,
      '--dry-run',
    );
    expect([code, out]).toEqual([
      0,
      expect.stringMatching(/would be sent, code of apple-universal, id [0-9a-f]{32}; code of apple-universal, id [0-9a-f]{32}/),
    ]);
    expect(asked).toEqual([]);
  });

  it('finds what is in a zip by itself, junk passed over', async () => {
    const writer = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false });
    const dwarf = readFileSync(new URL('../../core/samples/binaries/built/apple-arm64.dwarf', import.meta.url));
    await writer.add('Lark Song.app.dSYM/Contents/Resources/DWARF/Lark Song', new Uint8ArrayReader(new Uint8Array(dwarf)));
    await writer.add('Lark Song.app.dSYM/Contents/Info.plist', new TextReader('<plist/>'));
    await writer.add('__MACOSX/._Lark Song', new TextReader('x'));
    const zip = join(folder, 'symbols of the store.zip');
    writeFileSync(zip, await writer.close());
    const { code, out } = await ember('upload', zip, '--app', 'guide', '--token', 't', '--server', address, '--dry-run');
    expect([code, out]).toEqual([
      0,
      expect.stringMatching(
        /^.*symbols of the store\.zip: Lark Song\.app\.dSYM\S*\/Lark Song: would be sent, code of Lark Song, id [0-9a-f]{32}\n$/,
      ),
    ]);
  });

  it('of several files sends each, and says which were refused and why', async () => {
    const binaries = new URL('../../core/samples/binaries/built/', import.meta.url).pathname;
    answers = [
      { status: 200, body: { file: null } },
      { status: 200, body: { file: null } },
      { status: 422, body: { error: { message: 'Not this one.', remedy: 'Send another.' } } },
      { status: 202, body: { id: 9, state: 'ready', isNew: true } },
      { status: 200, body: { id: 9, state: 'ready' } },
    ];
    const { code, out, err } = await ember(
      'upload',
      `${binaries}clang-arm64-O2.so`,
      `${binaries}clang-arm64-O3.so`,
      '--app',
      'guide',
      '--token',
      't',
      '--server',
      address,
    );
    expect([code, err]).toEqual([1, 'ember: the server refused: Not this one. Send another.\nember: 1 of 2 files were not taken\n']);
    expect(out).toMatch(/clang-arm64-O\d\.so is a symbol file of guide\n/);
  });
});

describe('commands that ask a server', () => {
  const asked: { line: string; body: string }[] = [];
  let answer: { status: number; body: object } = { status: 200, body: {} };
  let server: Server;
  let address: string;
  beforeAll(async () => {
    server = createServer((request, response) => {
      let body = '';
      request.on('data', (chunk) => {
        body += chunk;
      });
      request.on('end', () => {
        asked.push({ line: `${request.method} ${request.url} ${request.headers.authorization}`, body });
        response.writeHead(answer.status, { 'content-type': 'application/json' }).end(JSON.stringify(answer.body));
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());
  const run = (command: string, ...more: string[]) => ember(command, '--server', address, '--token', 't', '--app', 'guide', ...more);

  it.each([
    ['go', 0, 'It may go to more people.'],
    ['stop', 1, 'It must not go to more people.'],
    ['wait', 3, 'It is too early to say.'],
  ])('of a version that is to %s ends with %d', async (verdict, code, words) => {
    const conditions = [{ condition: 'sessions', outcome: 'met', wanted: 1_000, sessions: 5_128 }];
    answer = { status: 200, body: { verdict, version: '4.3.1', span: { first: 20_780, last: 20_785 }, conditions } };
    const ran = await run('check-rollout', '--version', '4.3.1');
    expect([ran.code, ran.out]).toEqual([code, expect.stringContaining(words)]);
    expect(ran.out).toContain('  met        at least 1,000 sessions: there are 5,128');
    expect(asked.at(-1)?.line).toBe('GET /api/v1/apps/guide/versions/4.3.1/check Bearer t');
    expect(JSON.parse((await run('check-rollout', '--version', '4.3.1', '--json')).out)).toMatchObject({ verdict });
  });

  const item = {
    ...{ ref: 'LG-7', kind: 'crash', state: 'open', closedIn: null, mute: null, what: 'IllegalStateException', where: 'Map.draw\u001b[2J' },
    ...{ message: 'no tile', reports: 3, people: 1, perThousand: null, firstVersion: '4.2.0', lastVersion: '4.3.0' },
    ...{ beganAt: '2026-05-01T10:00:00Z', lastAt: '2026-05-02T10:00:00Z' },
  };

  it('lists cases of a scope, and lets no text of an app reach the terminal as it came', async () => {
    answer = { status: 200, body: { total: 140, cases: [item] } };
    const ran = await run('cases', '--last', 'all', '--filter', 'flags.night-map = on', '--cases', 'all');
    expect(ran).toMatchObject({ code: 0, err: '' });
    expect(ran.out).toBe(
      'LG-7      IllegalStateException in Map.draw␛[2J  (3 reports, 1 person, 4.2.0 to 4.3.0, open)\nand 139 cases more\n',
    );
    expect(asked.at(-1)?.line).toBe('GET /api/v1/apps/guide/cases?last=all&cases=all&filter=flags.night-map+%3D+on Bearer t');
    expect(JSON.parse((await run('cases', '--json')).out)).toMatchObject({ total: 140 });
  });

  it('answers a question as lines, and refuses one that nobody understands before it asks', async () => {
    const figure = (value: number) => ({ value, low: null, high: null, count: value, per: null });
    answer = {
      status: 200,
      body: {
        ...{
          question: 'reports by version',
          steps: null,
          total: figure(5),
          before: null,
          histogram: null,
          from: '2026-11-02',
          to: '2026-12-01',
        },
        ...{ error: 0, unasked: [], undivided: [], notFilterable: [] },
        splits: [{ field: 'version', key: '', called: 'version', values: ['', '4.2.0\u001b[2J', '4.3.0'], gathered: 0 }],
        groups: [2, 1].map((place) => ({ places: [place], sum: figure(place + 1), course: null, before: null })),
      },
    };
    const ran = await run('ask', 'reports by version', '--last', '30d');
    expect(ran).toMatchObject({ code: 0, err: '' });
    expect(ran.out).toBe(
      '5 reports in all; most with 4.3.0: 3\n2026-11-02 to 2026-12-01, days of UTC, the last one so far\n4.3.0     3\n4.2.0␛[2J  2\n'.replace(
        '4.3.0     3',
        '4.3.0      3',
      ),
    );
    expect(asked.at(-1)?.line).toBe('GET /api/v1/apps/guide/ask?last=30d&question=reports+by+version Bearer t');
    const before = asked.length;
    expect(await run('ask', 'birds')).toMatchObject({ code: 2, err: expect.stringContaining('"birds" is not something to count') });
    expect(asked.length).toBe(before);
  });

  it('prints a case as text, as Markdown and as JSON', async () => {
    const report = {
      ...{ id: 'abc', occurredAt: '2026-05-02T10:00:00Z', version: '4.3.0', build: '430', os: null, device: null },
      ...{ flags: { 'night-map': 'on' }, attributes: {}, trail: [], readable: { exceptions: [], threads: [], needs: [] } },
    };
    answer = { status: 200, body: { item, report, now: '2026-05-02T12:00:00Z', found: null } };
    const text = await run('case', 'LG-7');
    expect(text).toMatchObject({ code: 0, err: '' });
    expect(text.out).toContain('Flag night-map: on');
    expect(text.out).toContain(`${address}/apps/guide/cases/LG-7?last=all`);
    expect((await run('case', 'LG-7', '--markdown')).out).toContain('- **Flag night-map:** on');
    expect(JSON.parse((await run('case', 'LG-7', '--json')).out)).toMatchObject({ item: { ref: 'LG-7' } });
    expect(asked.at(-1)?.line).toContain('/api/v1/apps/guide/cases/LG-7?last=all');
    const wrong = await run('case', '../tokens');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('no reference of a case')]);
  });

  it('closes cases, and says how many were so already', async () => {
    answer = { status: 200, body: { cases: 2, changed: 1 } };
    const ran = await run('close', 'LG-7', 'LG-8', '--version', '4.3.1');
    expect(ran).toMatchObject({ code: 0, out: '1 case closed in 4.3.1, 1 was already\n' });
    expect(JSON.parse(asked.at(-1)?.body ?? '')).toEqual({ cases: ['LG-7', 'LG-8'], action: { action: 'close', version: '4.3.1' } });
    expect((await run('close', 'LG-7')).code).toBe(2);
  });

  it('says with what a version is compared, which can be chosen', async () => {
    const span = { first: 20_783, last: 20_788 };
    const side = { hits: 9, count: 735, persons: 528, personsHit: 8 };
    const sessions = {
      newer: side,
      older: side,
      difference: { value: -0.005, low: -0.009, high: -0.001 },
      standardised: { value: 0.001, low: -0.004, high: 0.006 },
      verdict: 'too-early',
      detectable: 0.0252,
    };
    const comparison = {
      version: '4.3.1',
      than: '4.3.0',
      reason: 'chosen',
      alignment: 'release',
      spans: { newer: span, older: span },
      sessions,
      halfBy: 20_806,
    };
    const condition = { condition: 'not-worse', outcome: 'too-early', comparison };
    answer = { status: 200, body: { verdict: 'wait', version: '4.3.1', span, comparison, conditions: [condition] } };
    const { out } = await run('check-rollout', '--version', '4.3.1', '--against', '4.3.0', '--align', 'release');
    expect(asked.at(-1)?.line).toBe('GET /api/v1/apps/guide/versions/4.3.1/check?against=4.3.0&align=release Bearer t');
    expect(out).toContain(
      'too early to compare with 4.3.0: by now a difference of 25.2 for 1,000 sessions would show, one of 12.6 from about 19 Dec',
    );
    expect(out).toContain('compared with 4.3.0, chosen, each over its first 6 days');
    expect(out).toContain('The plain rates differ by −5');
    expect((await run('check-rollout', '--version', '4.3.1', '--align', 'moon')).code).toBe(2);
  });

  it("prints the server's reason when it cannot say, and that is no answer", async () => {
    answer = { status: 404, body: { error: { message: 'Nothing is known of Guide 9.9.', remedy: 'Check the address.' } } };
    const { code, err } = await run('check-rollout', '--version', '9.9');
    expect([code, err.trim()]).toEqual([4, 'ember: the server refused: Nothing is known of Guide 9.9. Check the address.']);
    answer = { status: 404, body: {} };
    const elsewhere = await run('check-rollout', '--version', '9.9');
    answer = { status: 200, body: { status: 'ok' } };
    const other = await run('check-rollout', '--version', '9.9');
    expect([other.code, other.err]).toEqual([4, expect.stringContaining('it gave no verdict')]);
    expect([elsewhere.code, elsewhere.err]).toEqual([4, expect.stringContaining('is no Rough Ember server: it answered with status 404')]);
  });

  it('sends a step, a halt and a change of a flag', async () => {
    answer = { status: 201, body: { id: 1 } };
    expect((await run('record-rollout', '--version', '4.3.1', '--percent', '12.5', '--commit', '7f3c2a1')).code).toBe(0);
    expect(JSON.parse(asked.at(-1)?.body ?? '')).toMatchObject({ version: '4.3.1', action: 'step', percent: 12.5, commit: '7f3c2a1' });
    expect((await run('record-rollout', '--version', '4.3.1', '--halt')).code).toBe(0);
    expect(JSON.parse(asked.at(-1)?.body ?? '')).toMatchObject({ action: 'halt', percent: null });
    expect((await run('record-flag', '--flag', 'night-map', '--percent', '35')).code).toBe(0);
    expect(asked.at(-1)?.line).toBe('POST /api/v1/apps/guide/flag-changes Bearer t');
  });

  it('refuses what says too little before it is sent', async () => {
    const before = asked.length;
    expect((await run('record-rollout', '--version', '4.3.1')).err).toContain('a step says to which percent of people');
    expect((await run('record-rollout', '--version', '4.3.1', '--percent', '120')).code).toBe(2);
    expect(asked.length).toBe(before);
  });
});
