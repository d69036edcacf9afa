import { readCrashFile } from '@rough-ember/core/report/crash-file';
import type { FoundReport } from '@rough-ember/core/report/found-report';
import { sourceOfFiles } from '@rough-ember/core/symbolicate/file-set';
import type { ReadableFrame, ReadableReport, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { stackText } from '@rough-ember/core/symbolicate/stack-text';
import type { SymbolSource } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { Command } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { readNamedFile } from './read-file.ts';
import { findSymbolFiles, type OpenedFile, openSymbolFiles } from './symbol-files.ts';

interface Options {
  readonly symbols: string[];
  readonly ours: string[];
  readonly json?: boolean;
}

export function symbolicateCommand(): Command {
  return new Command('symbolicate')
    .description('Print a crash file in the names and lines of its source; needs no server.')
    .argument('<crash file>', 'a crash file as the system wrote it, or a stack trace')
    .option('--symbols <paths...>', 'symbol files, or folders that hold them', [])
    .option('--ours <packages...>', "packages of the app's own code (default: all that are no known library)", [])
    .option('--json', 'print JSON')
    .action(run);
}

async function run(crashFile: string, { symbols, ours, json }: Options): Promise<void> {
  const read = readCrashFile(readNamedFile(crashFile), { receivedAt: new Date().toISOString() });
  if (!read.ok) throw new CommandProblem(`${crashFile}: ${read.problem.message}`);
  const files = await openSymbolFiles(await findSymbolFiles(symbols));
  const source = sourceOfGivenFiles(files);
  const readable = read.value.map((crash: FoundReport) => symbolicate(crash, source, { ours }));
  for (const words of new Set(readable.flatMap((one) => one.needs.filter((need) => !need.found).map(wordMissing))))
    console.error(`ember: ${words}`);
  if (json) {
    const [first, ...further] = readable.map(toJson);
    console.log(JSON.stringify(further.length > 0 ? { ...first, further } : first, null, 2));
  } else console.log(readable.map(stackText).join('\n\n'));
}

/** Frames that print no id take the only mapping there is, never one of several. */
function sourceOfGivenFiles(files: readonly OpenedFile[]): SymbolSource {
  const source = sourceOfFiles(files);
  const mappings = files.filter((file) => file.kind === 'mapping');
  return {
    ...source,
    mapping: (mapId) => {
      if (mapId === null && mappings.length > 1)
        throw new CommandProblem(
          `the crash text does not say which build it is of, and ${mappings.length} mappings were given (${mappings.map((file) => file.path).join(', ')}); give the one of its build`,
        );
      return source.mapping(mapId);
    },
  };
}

function wordMissing({ kind, symbolId, name }: SymbolNeed): string {
  switch (kind) {
    case 'mapping':
      return symbolId === null
        ? 'the names are obfuscated and no mapping was given; pass it with --symbols mapping.txt'
        : `the frames ask for the mapping with id ${symbolId}, which is not among the files given`;
    case 'code':
      return symbolId === null
        ? `the frames in ${name} print no id, and no symbol file of that name was given`
        : `the frames in ${name ?? 'the app'} ask for the symbols with id ${symbolId}, which are not among the files given`;
    case 'sourcemap':
      return `the frames in ${name ?? 'the script'} ask for its source map, which is not among the files given`;
    case 'pdb':
      return `the frames in ${name ?? 'the app'} ask for the PDB${symbolId === null ? '' : ` with id ${symbolId}`}, which is not among the files given`;
    case 'split':
      return 'the package of split debug information is not among the files given';
    case 'obfuscation-map':
      return 'the types are renamed and no obfuscation map was given; pass the file that --save-obfuscation-map wrote';
    case 'assembly':
      return `the frames print a module version id in place of a file; give the assembly (.dll) with id ${symbolId} as well as its PDB`;
  }
}

/** The documented form: frames innermost first, inline frames expanded, causes in order. */
function toJson({ exceptions, threads }: ReadableReport): object {
  // Runtime and raw frame are both to be seen in `raw`; lines of source stand in the source.
  const frame = ({ rawIndex: _rawIndex, runtime: _runtime, context: _context, ...shown }: ReadableFrame) => shown;
  return {
    exceptions: exceptions.map(({ type, message, relation, parent, frames, framesInCommon }) => ({
      type,
      message,
      relation,
      parent,
      frames: frames.map(frame),
      framesInCommon,
    })),
    threads: threads.map(({ name, crashed, frames }) => ({ name, crashed, frames: frames.map(frame) })),
  };
}
