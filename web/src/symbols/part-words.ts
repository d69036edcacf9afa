import type { CodeSummary } from '@rough-ember/core/symbols/code/index-layout';
import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import type { SourceMapSummary } from '@rough-ember/core/symbols/sourcemap/index-layout';
import type { SymbolPart } from '@rough-ember/store/symbol-files';
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
        ...(missingSplitUnitCount > 0 ? [`${wordCount(missingSplitUnitCount, 'unit lacks', 'units lack')} its .dwp or .dwo file`] : []),
        ...wordList(warnings, warningCount),
      ];
    }
    case 'sourcemap': {
      const { warnings, warningCount } = part.summary as SourceMapSummary;
      return wordList(warnings, warningCount);
    }
  }
}

const wordList = (warnings: readonly string[], count: number): string[] => {
  const first = warnings[0];
  return first === undefined ? [] : [count > 1 ? `${first}; and ${wordCount(count - 1, 'more warning', 'more warnings')}` : first];
};
