import { createInterface } from 'node:readline';
import { demangle } from '@rough-ember/core/symbols/demangle/demangle';

/** `ember demangle` */
export async function demangleLines(): Promise<void> {
  for await (const line of createInterface({ input: process.stdin, crlfDelay: Number.POSITIVE_INFINITY }))
    process.stdout.write(`${demangle(line.trim())}\n`);
}
