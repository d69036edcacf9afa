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
    case 'pdb':
      return name === null ? 'PDB' : `PDB of ${name}`;
    case 'assembly':
      return name === null ? 'assembly' : `assembly ${name}`;
    case 'obfuscation-map':
      return 'obfuscation map';
    case 'split':
      return 'split debug information';
  }
}

/** The same as it stands at the beginning of a row. */
export const wordSymbolRow = ({ kind, name }: Pick<SymbolNeed, 'kind' | 'name'>): string => name ?? wordSymbolFile({ kind, name });

export const kindWords: Readonly<Record<SymbolFileKind, string>> = {
  mapping: 'obfuscation mapping',
  code: 'machine code',
  sourcemap: 'source map',
  pdb: 'portable PDB',
  assembly: '.NET assembly',
  'obfuscation-map': 'obfuscation map',
  split: 'split debug information',
};

/** What a stack shows as long as the file is missing. */
export const withoutIt: Readonly<Record<SymbolFileKind, string>> = {
  mapping: 'the obfuscated names',
  code: 'addresses instead of names',
  sourcemap: 'places in the bundle instead of its sources',
  pdb: 'methods without their lines',
  assembly: 'methods without their lines',
  'obfuscation-map': 'renamed types in messages',
  split: 'inlined calls without names',
};

/** The file that a developer has at hand, as a word in a command. */
export function usualFile({ kind, name }: Pick<SymbolNeed, 'kind' | 'name'>): string {
  switch (kind) {
    case 'mapping':
      return 'mapping.txt';
    case 'code':
      return `path/to/unstripped/${name ?? 'library'}`;
    case 'sourcemap':
      return `${name ?? 'script.js'}.map`;
    case 'pdb':
      return `${name ?? 'App'}.pdb`;
    case 'assembly':
      return name === null ? 'path/to/build/output' : `${name}.dll`;
    case 'obfuscation-map':
      return 'obfuscation-map.json';
    case 'split':
      return 'library.dwp';
  }
}
