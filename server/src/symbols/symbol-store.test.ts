import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { openSymbolStore } from './symbol-store.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'ember-store-'));
});
afterEach(() => rmSync(folder, { recursive: true }));

async function* chunks(...parts: Buffer[]) {
  yield* parts;
}
const files = () => readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());

it('keeps a file under its hash, once however often it comes', async () => {
  const store = await openSymbolStore(folder);
  const bytes = randomBytes(100_000);
  const [first, again] = await Promise.all([store.keep(chunks(bytes.subarray(0, 7), bytes.subarray(7))), store.keep(chunks(bytes))]);
  expect(first).toEqual({ sha256: createHash('sha256').update(bytes).digest(), sizeBytes: 100_000 });
  expect(again).toEqual(first);
  expect(readFileSync(store.originalPath(first.sha256)).equals(bytes)).toBe(true);
  expect(files()).toHaveLength(1);
});

it('keeps nothing of a file that was cut off', async () => {
  const store = await openSymbolStore(folder);
  async function* broken() {
    yield Buffer.from('half of it');
    throw new Error('the sender went away');
  }
  // Whether the file was open yet when its sender went away is a matter of luck.
  for (let turn = 0; turn < 60; turn++)
    await Promise.all([1, 2, 3, 4, 5].map(() => expect(store.keep(broken())).rejects.toThrow('the sender went away')));
  expect(files()).toEqual([]);
});
