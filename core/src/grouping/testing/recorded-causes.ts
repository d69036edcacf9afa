import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { sourceOf } from '../../bytes/byte-source.ts';
import { readCrashFile } from '../../report/formats/crash-file.ts';
import type { FoundReport } from '../../report/formats/found-report.ts';
import { sourceOfFiles } from '../../symbolicate/file-set.ts';
import type { ReadableReport } from '../../symbolicate/readable-report.ts';
import { symbolicate } from '../../symbolicate/symbolicate.ts';
import { sectionsOf } from '../../symbols/index-file.ts';
import { indexSymbolFile } from '../../symbols/index-symbol-file.ts';
import { openSymbolIndex } from '../../symbols/open-index.ts';

const folder = new URL('../../../samples/causes/', import.meta.url);

/** Programs whose stacks the grouping was made with. */
export const tunedPrograms = ['nest-log', 'ringing-desk', 'echo-scan', 'plot-survey'] as const;
/** Programs kept out of all tuning: nobody looks at how their stacks are grouped but by the figures of the bench. */
export const unseenPrograms = ['trail-notes', 'owl-count', 'tide-table', 'seed-bank'] as const;
export type CausesProgram = (typeof tunedPrograms)[number] | (typeof unseenPrograms)[number];

/** What one build of a program printed of one cause on one engine. */
export interface RecordedCause {
  /** Program and cause. */
  readonly cause: string;
  /** Build and engine. */
  readonly build: string;
  readonly report: FoundReport;
  readonly readable: ReadableReport;
}

/** The stacks of a program, read with the symbol files of its builds. */
export async function recordedCauses(program: CausesProgram): Promise<RecordedCause[]> {
  const built = new URL(`${program}/built/`, folder);
  const files = readdirSync(built);
  const recorded: RecordedCause[] = [];
  for (const file of files.filter((name) => name.endsWith('.stack'))) {
    const build = file.replace(/\.stack$/, '');
    const source = await openSymbols(built, files, build);
    const text = readFileSync(new URL(file, built), 'utf8');
    for (const [, cause = '', printed = ''] of text.matchAll(/^cause (\S+)\n([\s\S]*?)^end$/gm)) {
      const report = readPrinted(printed);
      if (report)
        recorded.push({ cause: `${program} ${cause}`, build, report, readable: symbolicate(report, source, { ours: ['com.larkfield'] }) });
    }
  }
  return recorded;
}

/** Null for a build that does without the fault, as an optimiser may. */
function readPrinted(printed: string): FoundReport | null {
  // Some engines begin a stack with the error, some without: the script has written it before.
  const [header = '', ...rest] = printed.split('\n');
  const text = rest[0] === header ? rest.join('\n') : printed;
  if (text.trim() === '') return null;
  const read = readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok || read.value.length !== 1) throw new Error(`not one crash: ${text.slice(0, 300)}`);
  return read.value[0] as FoundReport;
}

async function openSymbols(built: URL, files: readonly string[], build: string) {
  const [name = '', engine] = build.split('.');
  const endings = engine === 'bytecode' ? ['hbc.map'] : ['js.map', 'mapping', 'debug'];
  const opened = await Promise.all(
    endings
      .map((ending) => `${name}.${ending}`)
      .filter((fileName) => files.includes(`${fileName}.gz`))
      .map(async (fileName) => {
        const indexed = await indexSymbolFile(sourceOf(gunzipSync(readFileSync(new URL(`${fileName}.gz`, built)))), { fileName });
        if (!indexed.ok) throw new Error(`${fileName}: ${indexed.problem.message}`);
        return indexed.value.map(({ kind, symbolId, built: bytes }) => {
          const index = openSymbolIndex(sectionsOf(bytes));
          if (!index.ok) throw new Error(`${fileName}: ${index.problem.message}`);
          return { kind, symbolId, name: null, isOfBuild: true, opened: index.value };
        });
      }),
  );
  return sourceOfFiles(opened.flat());
}
