import { describe, expect, it } from 'vitest';
import { describeIndex, familyOf, type SymbolFileKind, symbolFamilies, wordSymbolFile } from './families.ts';
import { symbolReaders } from './readers.ts';

describe('a symbol file', () => {
  it.each<[kind: SymbolFileKind, name: string | null, words: string, file: string]>([
    ['mapping', null, 'mapping', 'mapping.txt'],
    ['code', 'libsong.so', 'symbols of libsong.so', 'path/to/unstripped/libsong.so'],
    ['code', null, 'symbols', 'path/to/unstripped/library'],
    ['sourcemap', 'index.js', 'source map of index.js', 'index.js.map'],
    ['sourcemap', null, 'source map', 'script.js.map'],
    ['pdb', 'Survey', 'PDB of Survey', 'Survey.pdb'],
    ['pdb', null, 'PDB', 'App.pdb'],
    ['assembly', 'Survey', 'assembly Survey', 'Survey.dll'],
    ['assembly', null, 'assembly', 'path/to/build/output'],
    ['obfuscation-map', null, 'obfuscation map', 'obfuscation-map.json'],
    ['split', null, 'split debug information', 'library.dwp'],
  ])('of kind %s for %s is called so', (kind, name, words, file) => {
    expect([wordSymbolFile({ kind, name }), familyOf(kind).usualFile(name)]).toEqual([words, file]);
  });
});

describe('a part of a symbol file', () => {
  const part = (kind: SymbolFileKind, summary: object) => describeIndex(kind, summary);
  const code = {
    architecture: 'arm64',
    debugInformation: true,
    functions: 1_204,
    symbols: 3,
    units: 1,
    missingSplitUnitCount: 0,
    warningCount: 0,
    warnings: [],
  };

  it.each<[part: ReturnType<typeof describeIndex>, covers: string]>([
    [part('mapping', { classes: 1, methods: 1_234 }), '1 class, 1,234 methods'],
    [part('code', code), 'arm64: 1,204 functions with lines in 1 unit'],
    [part('code', { ...code, debugInformation: false }), 'arm64: 3 functions by name, no lines'],
    [part('sourcemap', { sources: 2, functions: 1, warnings: [], warningCount: 0 }), '2 sources, 1 function'],
    [part('pdb', { methods: 7, lines: 40, documents: 1 }), '7 methods, 40 lines in 1 source'],
    [part('split', { units: 3 }), 'functions of 3 units, for the library they belong to'],
    [part('obfuscation-map', { names: 1_000 }), '1,000 names'],
    [part('assembly', { methods: 1, pdbId: 'a1' }), 'names of 1 method'],
    [part('assembly', { methods: 2, pdbId: null }), 'names of 2 methods; compiled without a PDB'],
  ])('%# says what it covers', (one, covers) => expect(one.covers).toBe(covers));

  it.each<[part: ReturnType<typeof describeIndex>, warnings: string[]]>([
    [part('mapping', { unreadableLines: 0 }), []],
    [part('mapping', { unreadableLines: 1 }), ['1 line could not be read']],
    [part('code', code), []],
    [
      part('code', { ...code, missingSplitUnitCount: 2, warnings: ['unit 3 ends early'], warningCount: 3 }),
      ['2 units lack their .dwp or .dwo file', 'unit 3 ends early; and 2 more warnings'],
    ],
    [part('sourcemap', { warnings: ['a map lists no sources'], warningCount: 1 }), ['a map lists no sources']],
    [part('assembly', { pdbId: null }), ['it was compiled without debug information, so there is no PDB to give it lines']],
    [part('assembly', { pdbId: 'a1' }), []],
    [part('pdb', {}), []],
    [part('split', {}), []],
    [part('obfuscation-map', {}), []],
  ])('%# says what its index could not read', (one, warnings) => expect(one.warnings).toEqual(warnings));
});

describe('the families', () => {
  it('are declared and read by the same names, each with a number of its own', () => {
    expect(symbolReaders.map(({ kind }) => kind).sort()).toEqual(symbolFamilies.map(({ kind }) => kind).sort());
    expect(new Set(symbolFamilies.map(({ number }) => number)).size).toBe(symbolFamilies.length);
  });

  it('keep the numbers that indexes on disk have', () => {
    const numbers = Object.fromEntries(symbolFamilies.map(({ kind, number }) => [kind, number]));
    expect(numbers).toMatchObject({ mapping: 1, code: 2, sourcemap: 3, pdb: 4, assembly: 5, 'obfuscation-map': 6, split: 7 });
  });
});
