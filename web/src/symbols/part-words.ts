import type { CodeSummary } from '@rough-ember/core/symbols/code/index-layout';
import type { ObfuscationMapSummary } from '@rough-ember/core/symbols/dart/obfuscation-map';
import type { SplitSummary } from '@rough-ember/core/symbols/elf/split-units';
import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import type { AssemblySummary } from '@rough-ember/core/symbols/pdb/assembly-index';
import type { PdbSummary } from '@rough-ember/core/symbols/pdb/pdb-index';
import type { SourceMapSummary } from '@rough-ember/core/symbols/sourcemap/index-layout';
import type { SymbolPart } from '@rough-ember/server/symbols/symbol-overview';
import { wordCount } from '../words/numbers';

/** What an indexed part of a symbol file covers. */
export function wordCovers(part: SymbolPart): string {
  switch (part.kind) {
    case 'mapping': {
      const { classes, methods } = part.summary as MappingSummary;
      return `${wordCount(classes, 'class', 'classes')}, ${wordCount(methods, 'method', 'methods')}`;
    }
    case 'code': {
      const { architecture, debugInformation, functions, symbols, units } = part.summary as CodeSummary;
      return debugInformation
        ? `${architecture}: ${wordCount(functions, 'function', 'functions')} with lines in ${wordCount(units, 'unit', 'units')}`
        : `${architecture}: ${wordCount(symbols, 'function', 'functions')} by name, no lines`;
    }
    case 'sourcemap': {
      const { sources, functions } = part.summary as SourceMapSummary;
      return `${wordCount(sources, 'source', 'sources')}, ${wordCount(functions, 'function', 'functions')}`;
    }
    case 'pdb': {
      const { methods, lines, documents } = part.summary as PdbSummary;
      return `${wordCount(methods, 'method', 'methods')}, ${wordCount(lines, 'line', 'lines')} in ${wordCount(documents, 'source', 'sources')}`;
    }
    case 'split':
      return `functions of ${wordCount((part.summary as SplitSummary).units, 'unit', 'units')}, for the library they belong to`;
    case 'obfuscation-map':
      return `${wordCount((part.summary as ObfuscationMapSummary).names, 'name', 'names')}`;
    case 'assembly': {
      const { methods, pdbId } = part.summary as AssemblySummary;
      return `names of ${wordCount(methods, 'method', 'methods')}${pdbId === null ? '; compiled without a PDB' : ''}`;
    }
  }
}

/** What the index of a part could not read, in words. */
export function wordWarnings(part: SymbolPart): string[] {
  switch (part.kind) {
    case 'mapping': {
      const { unreadableLines } = part.summary as MappingSummary;
      return unreadableLines > 0 ? [`${wordCount(unreadableLines, 'line', 'lines')} could not be read`] : [];
    }
    case 'code': {
      const { missingSplitUnitCount, warningCount, warnings } = part.summary as CodeSummary;
      return [
        ...(missingSplitUnitCount > 0
          ? [`${wordCount(missingSplitUnitCount, 'unit lacks its', 'units lack their')} .dwp or .dwo file`]
          : []),
        ...wordList(warnings, warningCount),
      ];
    }
    case 'sourcemap': {
      const { warnings, warningCount } = part.summary as SourceMapSummary;
      return wordList(warnings, warningCount);
    }
    case 'pdb':
    case 'obfuscation-map':
    case 'split':
      return [];
    case 'assembly': {
      const { pdbId } = part.summary as AssemblySummary;
      return pdbId === null ? ['it was compiled without debug information, so there is no PDB to give it lines'] : [];
    }
  }
}

const wordList = (warnings: readonly string[], count: number): string[] => {
  const first = warnings[0];
  return first === undefined ? [] : [count > 1 ? `${first}; and ${wordCount(count - 1, 'more warning', 'more warnings')}` : first];
};
