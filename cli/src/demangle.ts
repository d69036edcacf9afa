import { createInterface } from 'node:readline';
import { demangle } from '@rough-ember/core/symbols/demangle/demangle';
import { Command } from 'commander';

export function demangleCommand(): Command {
  return new Command('demangle')
    .description('Read mangled names on standard input, one a line, and write them as their source has them.')
    .action(run);
}

async function run(): Promise<void> {
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Number.POSITIVE_INFINITY }))
    process.stdout.write(`${demangle(line.trim())}\n`);
}
