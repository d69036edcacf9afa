import { statSync } from 'node:fs';
import { describeIndex, familyOf } from '@rough-ember/core/symbols/families';
import { writeIndexFile } from '@rough-ember/core/symbols/index-file';
import type { IndexedPart } from '@rough-ember/core/symbols/readers';
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

/** What a part of a symbol file is, in words for a person and as facts for a script. */
function describe({ kind, name, symbolId, built }: IndexedPart): Description {
  const { title, covers, details, warnings, names = [] } = describeIndex(kind, built.summary);
  const family = familyOf(kind);
  const without = family.isTiedByContent ? 'what is in it ties it' : 'version and build tie it to its build';
  return {
    kind,
    name,
    symbolId,
    ...(built.summary as object),
    title: title ?? (name === null ? family.title : `${family.title} of ${name}`),
    lines: [
      ['id', symbolId ?? `none; ${without}`],
      ['covers', covers],
      ...(details ? [['in it', details] as const] : []),
      ...names,
      ...warnings.map((text) => ['warning', text] as const),
    ],
  };
}
