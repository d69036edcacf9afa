import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { groupingContext, groupReport } from '../../grouping/group-report.ts';
import { noSymbols } from '../../symbolicate/symbol-source.ts';
import { symbolicate } from '../../symbolicate/symbolicate.ts';
import { reportSchema } from '../report.ts';
import { readCrashFile } from './crash-file.ts';
import { crashFormats } from './formats.ts';
import type { FoundReport } from './found-report.ts';

const folder = new URL('../../../samples/', import.meta.url);
const names = readdirSync(folder, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\/.*\.(txt|ips|crash|json|pb)$/.test(name))
  .sort();

const read = (name: string): FoundReport[] => {
  const result = readCrashFile(new Uint8Array(readFileSync(new URL(name, folder))), { receivedAt: '2026-11-23T00:00:00Z' });
  if (!result.ok) throw new Error(`${name}: ${result.problem.message}`);
  return result.value;
};
const only = (name: string): FoundReport => {
  const [report, ...further] = read(name);
  if (!report || further.length > 0) throw new Error(`${name} holds ${further.length + 1} reports`);
  return report;
};

/** What a reader found, short enough to be checked by eye against the sample. */
function summarise(report: FoundReport): string[] {
  const readable = symbolicate(report, noSymbols, { ours: [] });
  const grouping = groupReport(groupingContext(report), readable);
  return [
    `${report.format}: ${report.kind}, ${[report.process, report.version, report.os && `${report.os.name} ${report.os.version}`, report.device?.model, report.occurredAt].filter(Boolean).join(', ')}`,
    ...readable.exceptions.map(
      (one) => `  ${one.relation} ${one.type}: ${one.message} (${one.frames.length} frames, first ${one.frames[0]?.raw ?? 'none'})`,
    ),
    ...report.threads.map((thread) => `  thread ${thread.name}${thread.crashed ? ', crashed' : ''}, ${thread.frames.length} frames`),
    ...report.sections.map((section) => `  kept: ${section.name}`),
    ...report.notes.map((note) => `  note: ${note}`),
    `  case: ${grouping.what} in ${grouping.where}`,
  ];
}

describe('crash files as the systems write them', () => {
  it('are each read as the recorded summary says, which was checked by eye', async () => {
    const text = names.map((name) => [name, ...read(name).flatMap(summarise)].join('\n')).join('\n\n');
    await expect(`${text}\n`).toMatchFileSnapshot('../../../samples/expected.txt');
  });

  it.each(names)('%s gives reports that the protocol takes', (name) => {
    for (const { format: _format, process: _process, notes: _notes, ...found } of read(name)) {
      const filled = {
        ...found,
        id: found.id ?? '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
        occurredAt: found.occurredAt ?? '2026-11-23T00:00:00Z',
        version: found.version ?? '1',
        build: found.build ?? '1',
      };
      expect(reportSchema.safeParse(filled).error?.issues ?? []).toEqual([]);
    }
  });

  it('cover every format with at least six samples of its own', () => {
    const formats = names.map((name) => read(name)[0]?.format);
    const fromDemo: Partial<Record<string, number>> = { 'jvm-stack': 21 };
    for (const { name: format } of crashFormats)
      expect(formats.filter((one) => one === format).length + (fromDemo[format] ?? 0), format).toBeGreaterThanOrEqual(6);
  });
});

describe('addresses', () => {
  const native = (report: FoundReport) =>
    report.exceptions[0]?.frames.flatMap((frame) => (frame.runtime === 'native' ? [frame] : [])) ?? [];

  it('of an Apple report are return addresses, but for the first frame', () => {
    expect(native(only('apple-ips/swift-index.ips')).map((frame) => frame.pointsAt)).toEqual([
      'instruction',
      'after-call',
      'after-call',
      'after-call',
    ]);
  });

  it('of inlined calls are those of the frame they were inlined into', () => {
    const [inlined, around, caller] = native(only('apple-ips/null-pointer-inline.ips'));
    expect(inlined).toMatchObject({ inlined: true, file: 'Spectrum.cpp', line: 88, pointsAt: 'instruction' });
    expect(around).toMatchObject({ inlined: false, pointsAt: 'instruction' });
    expect(caller?.pointsAt).toBe('after-call');
  });

  it('of a language exception are all return addresses', () => {
    const [thrown, ...others] = only('apple-ips/objective-c-exception.ips').exceptions;
    expect(others).toEqual([]);
    expect(thrown).toMatchObject({ type: 'NSRangeException', relation: 'thrown', parent: null });
    expect(thrown?.frames.every((frame) => frame.runtime === 'native' && frame.pointsAt === 'after-call')).toBe(true);
  });

  it('of Android were moved to the instruction by its unwinder, and count as the symbol table does', () => {
    const [top] = native(only('tombstone-text/null-pointer.txt'));
    expect(top).toMatchObject({ imageAddress: '0x1a2b4', imageOffset: null, fileOffset: '0x1c000', pointsAt: 'instruction' });
    expect(top?.image).toMatch(/base\.apk!libsound\.so$/);
  });

  it('are the same in both forms of a tombstone', () => {
    const strip = (report: FoundReport) =>
      native(report).map(({ imageAddress, symbolId, function: name, functionOffset, image }) => ({
        imageAddress,
        symbolId,
        name,
        functionOffset,
        image,
      }));
    const text = strip(only('tombstone-text/null-pointer.txt'));
    expect(strip(only('tombstone-protobuf/null-pointer.pb'))).toEqual([text[0], text[1], text[4]]);
  });

  it('of 64 bits lose no digit', () => {
    expect(only('tombstone-protobuf/null-pointer.pb').threads[0]?.registers).toMatchObject({ sp: '0xfeff000000000001' });
  });

  it('of a MetricKit tree come innermost first, whichever end the tree begins with', () => {
    const [crash] = native(only('metrickit/crash.json'));
    const [hang] = native(only('metrickit/hang.json'));
    expect(crash?.imageOffset).toBe('0x42a4');
    expect(hang?.imageOffset).toBe('0x7d00');
  });
});

describe('chains over several runtimes', () => {
  it.each([
    ['logcat/javascript-inside-java.txt', ['jvm', 'javascript']],
    ['logcat/dotnet-inside-java.txt', ['jvm', 'dotnet']],
    ['apple-ips/javascript-fatal.ips', ['native', 'javascript']],
  ])('%s', (name, runtimes) => {
    const { exceptions } = only(name);
    expect(exceptions.map((one) => one.frames[0]?.runtime)).toEqual(runtimes);
    expect(exceptions[1]).toMatchObject({ relation: 'cause', parent: 0 });
    expect(exceptions[0]?.message).not.toContain('\n');
  });
});

describe('what a file tells beside its stacks', () => {
  it('a hang says for whom the main thread waits', () => {
    const hang = only('anr-trace/held-lock.txt');
    expect(hang.exceptions[0]?.message).toContain('held by "Export"');
    expect(hang.threads[0]).toMatchObject({
      name: 'main',
      crashed: true,
      state: 'Blocked',
      waitsFor: { what: 'java.lang.Object', threadId: 14 },
    });
    expect(hang.threads.find((thread) => thread.id === 14)?.frames.map((frame) => frame.runtime)).toEqual([
      'native',
      'native',
      'jvm',
      'jvm',
    ]);
  });

  it('an incident id becomes the id of the report, so that handing it over twice is harmless', () => {
    expect(only('apple-ips/swift-index.ips').id).toBe('3f6b1c52-0d53-4b7a-9e0b-0c1d2e3f4a5b');
  });

  it('ends that are nobody’s fault become no report', () => {
    expect(read('exit-info/dump.txt').map((report) => report.attributes['exit.reason'])).toEqual(['LOW_MEMORY', 'CRASH_NATIVE']);
  });

  it('what Node left out of a stack is filled in from the cause', () => {
    const [error, cause] = only('javascript/v8-cause.txt').exceptions;
    expect(error?.frames.slice(-8)).toEqual(cause?.frames.slice(-8));
  });

  it('a first-line-only Apple file is refused with the place', () => {
    const bytes = new TextEncoder().encode('{"bug_type":"309","incident_id":"x"}\n{"threads": [');
    expect(readCrashFile(bytes, { receivedAt: '2026-11-23T00:00:00Z' })).toMatchObject({
      ok: false,
      problem: { code: 'damaged', line: 2 },
    });
  });
});
