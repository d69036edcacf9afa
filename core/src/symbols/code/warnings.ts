import { MalformedInput } from '../../bytes/byte-reader.ts';

const kept = 20;

/** Damage that does not stop the reading of a file: the first few in words, and how often. */
export class Warnings {
  readonly list: string[] = [];
  count = 0;

  add(text: string): void {
    this.count++;
    if (this.list.length < kept) this.list.push(text);
  }
}

/** Reads a part that the rest of a file can do without; damage in it is noted. */
export async function readSafely(warnings: Warnings, what: string, read: () => Promise<void>): Promise<void> {
  try {
    await read();
  } catch (error) {
    if (!(error instanceof MalformedInput)) throw error;
    warnings.add(`${what}: ${error.message}`);
  }
}
