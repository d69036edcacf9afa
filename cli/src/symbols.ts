import { statSync } from 'node:fs';
import { Command } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { openMapping, whyNoMapping } from './mappings.ts';

export function symbolsCommand(): Command {
  return new Command('symbols')
    .description('Say what a symbol file is, its ids, and what it covers.')
    .argument('<file>', 'a symbol file')
    .option('--json', 'print JSON')
    .action(run);
}

async function run(path: string, { json }: { json?: boolean }): Promise<void> {
  const why = whyNoMapping(path);
  if (why !== null) throw new CommandProblem(`${path}: ${why}`);
  const { mapping, indexBytes } = await openMapping(path);
  const { mapId, compiler, classes, methods, lines, unreadableLines, warnings } = mapping.summary;
  const sizeBytes = statSync(path).size;
  if (json) {
    console.log(
      JSON.stringify(
        { kind: 'mapping', mapId, compiler, classes, methods, lines, unreadableLines, warnings, sizeBytes, indexBytes },
        null,
        2,
      ),
    );
    return;
  }
  console.log(`${path}: obfuscation mapping${compiler ? ` written by ${compiler}` : ''}`);
  console.log(`  id       ${mapId ?? 'none; version and build tie it to its build'}`);
  console.log(`  covers   ${classes} classes, ${methods} methods`);
  console.log(`  size     ${sizeBytes} bytes in ${lines} lines; index ${indexBytes} bytes`);
  if (unreadableLines > 0) {
    console.log(`  warning  ${unreadableLines} lines could not be read, the first of them:`);
    for (const { line, text } of warnings.slice(0, 5)) console.log(`           line ${line}: ${text.slice(0, 100)}`);
  }
}
