import { statSync } from 'node:fs';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import type { IndexedPart } from '@rough-ember/core/symbols/index-symbol-file';
import { CommandProblem } from './command-problem.ts';
import { detectFile, indexFile } from './symbol-files.ts';

/** `ember symbols` */
export async function describeSymbols(path: string, { json }: { json?: boolean }): Promise<void> {
  const detected = await detectFile(path);
  if (!detected.ok) throw new CommandProblem(`${path}: ${detected.problem.message}`);
  const parts = await indexFile(path);
  const sizeBytes = statSync(path).size;
  const described = parts.map((part) => ({ ...describe(part), indexBytes: writeIndexFile(part.built).length }));
  if (json) {
    const [first, ...further] = described.map(({ lines: _lines, title: _title, ...facts }) => ({ ...facts, sizeBytes }));
    console.log(JSON.stringify(further.length > 0 ? { ...first, further } : first, null, 2));
    return;
  }
  for (const { title, lines, indexBytes } of described) {
    console.log(`${path}: ${title}`);
    for (const [label, text] of [...lines, ['size', `${sizeBytes} bytes; index ${indexBytes} bytes`] as const])
      console.log(`  ${label.padEnd(8)} ${text}`);
  }
}

interface Description {
  readonly title: string;
  readonly lines: readonly (readonly [label: string, text: string])[];
  readonly [fact: string]: unknown;
}

const shownWarnings = 5;

/** What a part of a symbol file is, in words for a person and as facts for a script. */
function describe({ kind, name, symbolId, built }: IndexedPart): Description {
  const common = { kind, name, symbolId };
  switch (kind) {
    case 'mapping': {
      const { compiler, classes, methods, lines, unreadableLines, warnings } = built.summary;
      return {
        ...common,
        ...{ compiler, classes, methods, mappingLines: lines, unreadableLines, warnings },
        title: `obfuscation mapping${compiler ? ` written by ${compiler}` : ''}`,
        lines: [
          ['id', symbolId ?? 'none; version and build tie it to its build'],
          ['covers', `${classes} classes, ${methods} methods in ${lines} lines`],
          ...(unreadableLines > 0 ? [['warning', `${unreadableLines} lines could not be read, the first of them:`] as const] : []),
          ...warnings.slice(0, shownWarnings).map(({ line, text }) => ['', `line ${line}: ${text.slice(0, 100)}`] as const),
        ],
      };
    }
    case 'code': {
      const { format, architecture, debugInformation, units, functions, inlinedCalls, lineRows, symbols, warnings, missingSplitUnitCount } =
        built.summary;
      return {
        ...common,
        ...{ format, architecture, debugInformation, units, functions, inlinedCalls, lineRows, symbols, missingSplitUnitCount, warnings },
        title: `${format === 'elf' ? 'ELF' : 'Mach-O'} for ${architecture}, ${debugInformation ? 'with debug information' : 'function symbols only, no lines'}`,
        lines: [
          ['id', symbolId ?? 'none; version, build and its name tie it to its build'],
          ['covers', `${functions} functions, ${inlinedCalls} inlined calls, ${lineRows} line rows in ${units} units; ${symbols} symbols`],
          ...(missingSplitUnitCount > 0
            ? [['warning', `${missingSplitUnitCount} units have their functions in a .dwp or .dwo file, which was not given`] as const]
            : []),
          ...warnings.slice(0, shownWarnings).map((text) => ['warning', text] as const),
        ],
      };
    }
    case 'sourcemap': {
      const { sources, sourcesWithText, segments, functions, warnings } = built.summary;
      return {
        ...common,
        ...{ sources, sourcesWithText, segments, functions, warnings },
        title: `source map of ${name ?? 'a script without a name'}`,
        lines: [
          ['id', symbolId ?? 'none; version, build and the name of its script tie it to its build'],
          ['covers', `${sources} sources (${sourcesWithText} with their text), ${segments} places, ${functions} functions`],
          ...warnings.slice(0, shownWarnings).map((text) => ['warning', text] as const),
        ],
      };
    }
    case 'pdb': {
      const { documents, methods, lines } = built.summary;
      return {
        ...common,
        ...{ documents, methods, lines },
        title: `portable PDB of ${name}`,
        lines: [
          ['id', symbolId ?? 'none'],
          ['covers', `${methods} methods with ${lines} lines in ${documents} sources`],
        ],
      };
    }
    case 'split': {
      const { units } = built.summary;
      return {
        ...common,
        units,
        title: 'split debug information',
        lines: [
          ['id', 'none; the ids of its units tie it to its library'],
          ['covers', `functions of ${units} units`],
        ],
      };
    }
    case 'obfuscation-map': {
      const { names } = built.summary;
      return {
        ...common,
        names,
        title: 'obfuscation map of Dart',
        lines: [
          ['id', 'none; version and build tie it to its build'],
          ['covers', `${names} names`],
        ],
      };
    }
    case 'assembly': {
      const { methods, pdbId } = built.summary;
      return {
        ...common,
        ...{ methods, pdbId },
        title: `.NET assembly ${name}`,
        lines: [
          ['id', symbolId ?? 'none'],
          ['covers', `names of ${methods} methods`],
          ['PDB', pdbId ?? 'none; it was compiled without debug information'],
        ],
      };
    }
  }
}
