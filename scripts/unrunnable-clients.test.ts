import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { beforeAll, describe, expect, it } from 'vitest';
import { Language, Parser } from 'web-tree-sitter';
import { snippets } from '../web/src/intake/snippets.ts';

/** Clients of languages whose compilers cannot be had here: a parser reads them, and nothing more is claimed of them. */
const grammarOf = (language: string): string =>
  createRequire(import.meta.url).resolve(`tree-sitter-wasms/out/tree-sitter-${language}.wasm`);

const collectors = fileURLToPath(new URL('../collector/', import.meta.url));
const shown = snippets({ serverAddress: 'https://ember.example', serverVersion: '0.1.0' }, 'intake_test', 'larkfield-guide');

const languages = [
  { language: 'swift', folder: 'apple', ending: '.swift', platform: 'Swift' },
  { language: 'dart', folder: 'dart', ending: '.dart', platform: 'Dart' },
] as const;

beforeAll(() => Parser.init());

async function faultsOf(language: string, source: string): Promise<string[]> {
  const parser = new Parser();
  parser.setLanguage(await Language.load(grammarOf(language)));
  const faults: string[] = [];
  const nodes = [parser.parse(source)?.rootNode];
  for (let node = nodes.pop(); node; node = nodes.pop()) {
    if (node.isError || node.isMissing) faults.push(`line ${node.startPosition.row + 1}: ${node.text.slice(0, 80)}`);
    else if (node.hasError) nodes.push(...node.children.filter((child) => child !== null));
  }
  return faults;
}

describe.each(languages)('the client in $language', ({ language, folder, ending, platform }) => {
  const files = readdirSync(collectors + folder).filter((name) => name.endsWith(ending));
  const sourceOf = (name: string) => readFileSync(`${collectors}${folder}/${name}`, 'utf8');

  it.each(files)('%s is read by a parser without a fault', async (name) => {
    expect(await faultsOf(language, sourceOf(name))).toEqual([]);
  });

  it('is found faulty when something is missing', async () => {
    const source = sourceOf(files[0] as string);
    expect(await faultsOf(language, source.slice(0, source.lastIndexOf('}')))).not.toEqual([]);
  });

  it('says where it is taken that no compiler has seen it', () => {
    const snippet = shown.find((one) => one.platform === platform);
    expect(snippet?.proof).toContain('not compiled by our tests');
    expect(files.some((name) => sourceOf(name).includes('Not compiled by the tests'))).toBe(true);
  });

  it('is set up by lines that a parser reads', async () => {
    expect(await faultsOf(language, shown.find((one) => one.platform === platform)?.code ?? '')).toEqual([]);
  });
});
