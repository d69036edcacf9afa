import { keyRulesSchema } from '@rough-ember/core/report/key-rules';
import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { describe, expect, it } from 'vitest';
import { type FileParameters, fileParametersSchema, readFileTask } from './read-crash-file.ts';

const receivedAt = '2026-11-23T00:00:00.000Z';
const ids = ['0192d3a4-0000-4000-8000-000000000001', '0192d3a4-0000-4000-8000-000000000002', '0192d3a4-0000-4000-8000-000000000003'];
const task = (
  text: string | Uint8Array,
  parameters: Partial<FileParameters> = {},
  policy: { rules?: object; scrub?: object; byHand?: boolean } = {},
) =>
  readFileTask({
    bytes: typeof text === 'string' ? new TextEncoder().encode(text) : text,
    parameters: fileParametersSchema.parse(parameters),
    remarks: [],
    policy: { rules: keyRulesSchema.parse(policy.rules ?? {}), scrub: scrubRulesSchema.parse(policy.scrub ?? {}) },
    receivedAt,
    byHand: policy.byHand ?? false,
    freshIds: ids,
  });
const read = (...given: Parameters<typeof task>) => {
  const result = task(...given);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const reportsOf = (...given: Parameters<typeof task>) =>
  read(...given).lines.map((line) => (line.taken === 'report' ? JSON.parse(line.report.body) : line));

const java = (message = 'no route') =>
  `Exception in thread "main" java.lang.IllegalStateException: ${message}\n\tat com.larkfield.A.b(A.java:1)\n`;
const ofBuild = { version: '4.3.0', build: '430' };
const ips = (incident: string | null) =>
  `{"bug_type":"309","app_version":"4.2.0","build_version":"420","timestamp":"2026-11-20 10:11:12.00 +0100"}\n${JSON.stringify({
    ...(incident === null ? {} : { incident }),
    osVersion: { train: 'iPhone OS 17.5.1' },
    modelCode: 'Phone15,2',
    procName: 'Guide',
    threads: [],
  })}`;

describe('a crash file', () => {
  it('becomes a report, with the file beside it', () => {
    const { lines, format, original } = read(java(), ofBuild);
    expect(lines).toMatchObject([{ line: 1, id: ids[0], what: 'crash, 4.3.0', taken: 'report' }]);
    expect(format).toBe('JVM stack trace');
    expect(original).toMatchObject({ kind: 'original', name: 'jvm-stack.txt', mediaType: 'text/plain' });
    expect(new TextDecoder().decode(original?.content)).toBe(java());
    expect(reportsOf(java(), ofBuild)[0]).toMatchObject({ occurredAt: receivedAt, version: '4.3.0', build: '430', device: null, os: null });
  });

  it('tells for itself what it knows', () => {
    expect(reportsOf(ips('0a1b2c3d-0000-4000-8000-aabbccddeeff'))[0]).toMatchObject({
      id: '0a1b2c3d-0000-4000-8000-aabbccddeeff',
      occurredAt: '2026-11-20T09:11:12.000Z',
      version: '4.2.0',
      build: '420',
      os: { name: 'iOS', version: '17.5.1' },
      device: { manufacturer: 'Apple', model: 'Phone15,2' },
      attributes: { 'process.name': 'Guide' },
    });
  });

  it('is corrected by what its sender knows better', () => {
    const known: Partial<FileParameters> = {
      ...{
        id: ids[2],
        kind: 'hang',
        occurredAt: '2026-11-21T00:00:00Z',
        version: '5.0',
        build: '500',
        buildType: 'debug',
        osName: 'iPadOS',
        osVersion: '18',
      },
      ...{
        deviceManufacturer: 'Tarn',
        deviceModel: 'Slate',
        installationId: ids[0],
        personId: 'wren',
        sessionId: ids[1],
        name: 'mail.ips',
      },
    };
    expect(reportsOf(ips('0a1b2c3d-0000-4000-8000-aabbccddeeff'), known)[0]).toMatchObject({
      ...{ id: ids[2], kind: 'hang', version: '5.0', build: '500', buildType: 'debug', os: { name: 'iPadOS', version: '18' } },
      ...{ device: { manufacturer: 'Tarn', model: 'Slate' }, installationId: ids[0], personId: 'wren', sessionId: ids[1] },
    });
    expect(read(ips(null), known).original?.name).toBe('mail.ips');
  });

  it('of several reports gives each an id of its own, and takes none that is for one', () => {
    const exits = ['3 (LOW_MEMORY)', '10 (USER REQUESTED)', '4 (CRASH)']
      .map((reason) => `ApplicationExitInfo(timestamp=2026-11-20 10:11:12 reason=${reason})`)
      .join('\n');
    const { lines, format } = read(exits, ofBuild);
    expect(lines.map(({ line, id, what }) => [line, id, what])).toEqual([
      [1, ids[0], 'kill, 4.3.0'],
      [2, ids[1], 'crash, 4.3.0'],
    ]);
    expect(format).toBe('Android exit information with 2 reports');
    expect(reportsOf(exits, ofBuild)[0]?.remarks).toEqual(["1 further end is nobody's fault and became no report"]);
    expect(task(exits, { ...ofBuild, id: ids[0] })).toMatchObject({
      ok: false,
      problem: { code: 'bad-request', message: expect.stringContaining('holds 2 reports') },
    });
  });

  it.each([
    [{}, '"version" and "build"'],
    [{ version: '4.3.0' }, '"build"'],
    [{ build: '430' }, '"version"'],
  ])('that does not tell its build is refused where the sender does not either: %j', (parameters, unsaid) => {
    expect(task(java(), parameters)).toEqual({
      ok: false,
      problem: {
        code: 'bad-request',
        message: `the file is JVM stack trace, which does not tell ${unsaid}; give it as an address parameter`,
      },
    });
  });

  it.each([
    ['nothing', '', 'unreadable-file'],
    ['a letter to nobody', 'Dear birds,', 'unreadable-file'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0, 0]), 'unreadable-file'],
    ['more than a file may be', new Uint8Array(8 * 1024 * 1024 + 1), 'too-large'],
  ])('that is %s is refused', (_, bytes, code) => {
    expect(task(bytes, ofBuild)).toMatchObject({ ok: false, problem: { code } });
  });

  it('is scrubbed, its reports and itself', () => {
    const { lines, original } = read(java('mail to wren@larkfield.example failed'), ofBuild);
    expect(JSON.stringify(lines)).not.toContain('wren@');
    expect(new TextDecoder().decode(original?.content)).toContain('mail to [removed: mail address] failed');
    expect(
      JSON.stringify(reportsOf(java('ring RN-104233'), ofBuild, { scrub: { patterns: [{ name: 'ring', pattern: 'RN-\\d{6}' }] } })),
    ).toContain('[removed: ring]');
  });

  it('in binary form is not kept itself, since it cannot be scrubbed', () => {
    const tombstone = Uint8Array.from([0x08, 1, 0x12, 1, 0x61, 0x52, 2, 0x08, 11]);
    const { lines, original } = read(tombstone, ofBuild);
    expect(lines).toMatchObject([{ taken: 'report' }]);
    expect(original).toBeNull();
  });
});

describe('what is said of a file', () => {
  it.each([
    [{ version: '' }],
    [{ id: 'one' }],
    [{ kind: 'whim' }],
    [{ occurredAt: 'yesterday' }],
    [{ personId: 'x'.repeat(201) }],
    [{ build: '4\n3' }],
  ])('is checked: %j', (parameters) => expect(fileParametersSchema.safeParse(parameters).success).toBe(false));
});
