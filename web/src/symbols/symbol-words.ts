import type { SymbolFileKind, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';

/** What a symbol file of a kind is called, alone and for an image or script. */
export function wordSymbolFile({ kind, name }: Pick<SymbolNeed, 'kind' | 'name'>): string {
  switch (kind) {
    case 'mapping':
      return 'mapping';
    case 'code':
      return name === null ? 'symbols' : `symbols of ${name}`;
    case 'sourcemap':
      return name === null ? 'source map' : `source map of ${name}`;
  }
}

/** The same as it stands at the beginning of a row. */
export const wordSymbolRow = ({ kind, name }: Pick<SymbolNeed, 'kind' | 'name'>): string => name ?? wordSymbolFile({ kind, name });

export const kindWords: Readonly<Record<SymbolFileKind, string>> = {
  mapping: 'obfuscation mapping',
  code: 'machine code',
  sourcemap: 'source map',
};

/** What a stack shows as long as the file is missing. */
export const withoutIt: Readonly<Record<SymbolFileKind, string>> = {
  mapping: 'the obfuscated names',
  code: 'addresses instead of names',
  sourcemap: 'places in the bundle instead of its sources',
};

/** The file that a developer has at hand, as a word in a command. */
export const usualFile = ({ kind, name }: Pick<SymbolNeed, 'kind' | 'name'>): string =>
  kind === 'mapping' ? 'mapping.txt' : kind === 'code' ? `path/to/unstripped/${name ?? 'library'}` : `${name ?? 'script.js'}.map`;
