import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { openSourceTree } from './source-tree.ts';

let root: string;
const git = (...parameters: string[]) =>
  execFileSync('git', ['-C', join(root, 'checkout'), '-c', 'user.name=Ines', '-c', 'user.email=ines@larkfield.example', ...parameters]);

beforeAll(() => {
  root = mkdtempSync(join(tmpdir(), 'ember-sources-'));
  mkdirSync(join(root, 'guide', '4.3.0', 'map'), { recursive: true });
  writeFileSync(join(root, 'guide', '4.3.0', 'map', 'Tiles.java'), 'class Tiles {}\n');
  mkdirSync(join(root, 'checkout'));
  git('init', '-q');
  writeFileSync(join(root, 'checkout', 'Tiles.java'), 'class Tiles { /* of 1.0 */ }\n');
  git('add', '.');
  git('commit', '-qm', 'first');
  git('tag', 'v1.0');
  writeFileSync(join(root, 'checkout', 'Tiles.java'), 'class Tiles { /* of 1.1 */ }\n');
  git('commit', '-qam', 'second');
  symlinkSync(tmpdir(), join(root, 'elsewhere'));
});
afterAll(() => rmSync(root, { recursive: true }));

it('reads the folder of a version', async () => {
  const tree = await openSourceTree(root, { folder: 'guide/{version}', revision: null }, '4.3.0');
  expect(tree.paths).toEqual(['map/Tiles.java']);
  expect(await tree.read('map/Tiles.java')).toBe('class Tiles {}\n');
});

it('reads a checkout as it was at the tag of a version', async () => {
  const tree = await openSourceTree(root, { folder: 'checkout', revision: 'v{version}' }, '1.0');
  expect(tree.paths).toEqual(['Tiles.java']);
  expect(await tree.read('Tiles.java')).toContain('of 1.0');
});

it.each([
  ['a folder above the root', '../../etc', null, '1', 'outside of EMBER_SOURCES_DIR'],
  ['a version that climbs', 'guide/{version}', null, '../../..', 'outside of EMBER_SOURCES_DIR'],
  ['a link that leads out', 'elsewhere', null, '1', 'leads out of EMBER_SOURCES_DIR'],
  ['a folder that is not there', 'guide/{version}', null, '9', 'There is no folder "guide/9"'],
  ['an option in place of a revision', 'checkout', '--output=x', '1', 'no name of a revision'],
  ['a revision that is not there', 'checkout', 'v{version}', '9.9', 'git could not read the checkout'],
])('refuses %s', async (_, folder, revision, version, words) => {
  await expect(openSourceTree(root, { folder, revision }, version)).rejects.toThrow(words);
});
