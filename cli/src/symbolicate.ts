import { readCrashFile } from '@rough-ember/core/report/crash-file';
import type { FoundReport } from '@rough-ember/core/report/found-report';
import type { ReadableFrame, ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { stackText } from '@rough-ember/core/symbolicate/stack-text';
import { type SymbolSource, symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { Command } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { findMappings, openMapping } from './mappings.ts';
import { readNamedFile } from './read-file.ts';

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
  const source = await openSource(findMappings(symbols));
  const readable = read.value.map((crash: FoundReport) => symbolicate(crash, source, { ours }));
  for (const mapId of new Set(readable.flatMap((one) => one.needs.filter((need) => !need.found).map((need) => need.mapId))))
    console.error(
      mapId === null
        ? 'ember: the names are obfuscated and no mapping was given; pass it with --symbols mapping.txt'
        : `ember: the frames ask for the mapping with id ${mapId}, which is not among the files given`,
    );
  if (json) {
    const [first, ...further] = readable.map(toJson);
    console.log(JSON.stringify(further.length > 0 ? { ...first, further } : first, null, 2));
  } else console.log(readable.map(stackText).join('\n\n'));
}

/** Mappings by their ids; frames that print no id take the only mapping there is, never one of several. */
async function openSource(paths: readonly string[]): Promise<SymbolSource> {
  const opened = await Promise.all(paths.map(async (path) => ({ path, ...(await openMapping(path)) })));
  const byId = new Map(opened.map(({ mapping }) => [mapping.summary.mapId, mapping]));
  return {
    mapping: (mapId) => {
      if (mapId !== null) return byId.get(mapId) ?? null;
      if (opened.length > 1)
        throw new CommandProblem(
          `the crash text does not say which build it is of, and ${opened.length} mappings were given (${paths.join(', ')}); give the one of its build`,
        );
      return opened[0]?.mapping ?? null;
    },
  };
}

/** The documented form: frames innermost first, inline frames expanded, causes in order. */
function toJson({ exceptions, threads }: ReadableReport): object {
  // Runtime and raw frame are both to be seen in `raw`.
  const frame = ({ rawIndex: _rawIndex, runtime: _runtime, ...shown }: ReadableFrame) => shown;
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
