import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import { sourceOfFiles } from '@rough-ember/core/symbolicate/file-set';
import { wordFit } from '@rough-ember/core/symbolicate/judge-fit';
import type { FoundNeed, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { stackText } from '@rough-ember/core/symbolicate/stack-text';
import type { SymbolSource } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { symbolicatedJson } from '@rough-ember/core/symbolicate/symbolicated-json';
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
  for (const words of new Set(reports.flatMap(({ readable }) => readable.needs.filter((need) => !need.found).map(wordMissing))))
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

/** A file of another build gives names that look right and are not. */
function wordUnfitting({ kind, name, found, frames }: FoundNeed): string[] {
  const misfit = found && frames ? wordFit(frames) : null;
  const what = kind === 'sourcemap' ? `source map of ${name ?? 'the script'}` : kind;
  return misfit === null ? [] : [`the ${what} does not fit: ${misfit}`];
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
