import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import { sourceOfFiles } from '@rough-ember/core/symbolicate/file-set';
import { wordFit } from '@rough-ember/core/symbolicate/judge-fit';
import type { FoundNeed } from '@rough-ember/core/symbolicate/readable-report';
import { stackText } from '@rough-ember/core/symbolicate/stack-text';
import type { SymbolSource } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { symbolicatedJson } from '@rough-ember/core/symbolicate/symbolicated-json';
import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';
import { CommandProblem } from './command-problem.ts';
import { readNamedFile } from './read-file.ts';
import { findSymbolFiles, type OpenedFile, openSymbolFiles } from './symbol-files.ts';

interface Options {
  readonly symbols: string[];
  readonly ours: string[];
  readonly json?: boolean;
}

/** `ember symbolicate` */
export async function symbolicateFile(crashFile: string, { symbols, ours, json }: Options): Promise<void> {
  const read = readCrashFile(readNamedFile(crashFile), { receivedAt: new Date().toISOString() });
  if (!read.ok) throw new CommandProblem(`${crashFile}: ${read.problem.message}`);
  const files = await openSymbolFiles(await findSymbolFiles(symbols));
  const source = sourceOfGivenFiles(files);
  const reports = read.value.map((found) => ({ found, readable: symbolicate(found, source, { ours }) }));
  for (const words of new Set(
    reports.flatMap(({ readable }) => readable.needs.filter((need) => !need.found).map((need) => familyOf(need.kind).missing(need))),
  ))
    console.error(`ember: ${words}`);
  for (const words of new Set(reports.flatMap(({ readable }) => readable.needs.flatMap(wordUnfitting)))) console.error(`ember: ${words}`);
  if (json) console.log(JSON.stringify(symbolicatedJson(reports), null, 2));
  else console.log(reports.map(({ readable }) => stackText(readable)).join('\n\n'));
}

/** Frames that print no id take the only mapping there is, never one of several. */
function sourceOfGivenFiles(files: readonly OpenedFile[]): SymbolSource {
  const source = sourceOfFiles(files);
  const mappings = files.filter((file) => file.kind === 'mapping');
  return {
    find: (kind, tie) => {
      if (kind === 'mapping' && tie.symbolId === null && mappings.length > 1)
        throw new CommandProblem(
          `the crash text does not say which build it is of, and ${mappings.length} mappings were given (${mappings.map((file) => file.path).join(', ')}); give the one of its build`,
        );
      return source.find(kind, tie);
    },
  };
}

/** A file of another build gives names that look right and are not. */
function wordUnfitting({ kind, name, found, frames }: FoundNeed): string[] {
  const misfit = found && frames ? wordFit(frames) : null;
  return misfit === null ? [] : [`the ${wordSymbolFile({ kind, name })} does not fit: ${misfit}`];
}
