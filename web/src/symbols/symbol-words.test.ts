import type { SymbolFileKind } from '@rough-ember/core/symbolicate/readable-report';
import type { SymbolPart } from '@rough-ember/server/symbols/symbol-overview';
import { describe, expect, it } from 'vitest';
import { wordCovers, wordWarnings } from './part-words';
import { kindWords, usualFile, withoutIt, wordSymbolFile, wordSymbolRow } from './symbol-words';

describe('a symbol file', () => {
  it.each<[kind: SymbolFileKind, name: string | null, words: string, row: string, file: string]>([
    ['mapping', null, 'mapping', 'mapping', 'mapping.txt'],
    ['code', 'libsong.so', 'symbols of libsong.so', 'libsong.so', 'path/to/unstripped/libsong.so'],
    ['code', null, 'symbols', 'symbols', 'path/to/unstripped/library'],
    ['sourcemap', 'index.js', 'source map of index.js', 'index.js', 'index.js.map'],
    ['sourcemap', null, 'source map', 'source map', 'script.js.map'],
    ['pdb', 'Survey', 'PDB of Survey', 'Survey', 'Survey.pdb'],
    ['pdb', null, 'PDB', 'PDB', 'App.pdb'],
    ['assembly', 'Survey', 'assembly Survey', 'Survey', 'Survey.dll'],
    ['assembly', null, 'assembly', 'assembly', 'path/to/build/output'],
    ['obfuscation-map', null, 'obfuscation map', 'obfuscation map', 'obfuscation-map.json'],
    ['split', null, 'split debug information', 'split debug information', 'library.dwp'],
  ])('of kind %s for %s is called so', (kind, name, words, row, file) => {
    expect([wordSymbolFile({ kind, name }), wordSymbolRow({ kind, name }), usualFile({ kind, name })]).toEqual([words, row, file]);
    expect(kindWords[kind]).not.toBe('');
    expect(withoutIt[kind]).not.toBe('');
  });
});

describe('a part of a symbol file', () => {
  const part = (kind: SymbolPart['kind'], summary: object) => ({ kind, summary }) as unknown as SymbolPart;
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

  it.each<[part: SymbolPart, covers: string]>([
    [part('mapping', { classes: 1, methods: 1_234 }), '1 class, 1,234 methods'],
    [part('code', code), 'arm64: 1,204 functions with lines in 1 unit'],
    [part('code', { ...code, debugInformation: false }), 'arm64: 3 functions by name, no lines'],
    [part('sourcemap', { sources: 2, functions: 1 }), '2 sources, 1 function'],
    [part('pdb', { methods: 7, lines: 40, documents: 1 }), '7 methods, 40 lines in 1 source'],
    [part('split', { units: 3 }), 'functions of 3 units, for the library they belong to'],
    [part('obfuscation-map', { names: 1_000 }), '1,000 names'],
    [part('assembly', { methods: 1, pdbId: 'a1' }), 'names of 1 method'],
    [part('assembly', { methods: 2, pdbId: null }), 'names of 2 methods; compiled without a PDB'],
  ])('%# says what it covers', (one, covers) => expect(wordCovers(one)).toBe(covers));

  it.each<[part: SymbolPart, warnings: string[]]>([
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
  ])('%# says what its index could not read', (one, warnings) => expect(wordWarnings(one)).toEqual(warnings));
});
