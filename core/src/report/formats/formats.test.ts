import { existsSync, readdirSync } from 'node:fs';
import { expect, it } from 'vitest';
import { crashFormats, knownFormats, wordFormat } from './formats.ts';

const here = new URL('./', import.meta.url);
const folders = readdirSync(here, { withFileTypes: true }).flatMap((entry) => (entry.isDirectory() ? [entry.name] : []));

it('each form has a folder of its name with its declaration and its reader, and each folder is in the list', () => {
  expect(crashFormats.map(({ name }) => name).sort()).toEqual(folders.sort());
  for (const folder of folders)
    for (const file of ['format.ts', 'read.ts'])
      expect([folder, file, existsSync(new URL(`${folder}/${file}`, here))]).toEqual([folder, file, true]);
});

it('each form can be read in some way and is called something of its own', () => {
  for (const format of crashFormats)
    expect([format.name, 'readStacks' in format || [format.readBytes, format.readJson, format.readLines].some(Boolean)]).toEqual([
      format.name,
      true,
    ]);
  expect(new Set(crashFormats.map(({ words }) => words)).size).toBe(crashFormats.length);
  expect(wordFormat('metrickit')).toBe('MetricKit diagnostic payload');
  expect(knownFormats).toContain('Android tombstone (text), Android ANR trace');
});
