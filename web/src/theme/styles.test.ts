import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const folder = fileURLToPath(new URL('..', import.meta.url));
const files = readdirSync(folder, { recursive: true, encoding: 'utf8' });
const components = files.filter((name) => /(?<!\.test)\.tsx$/.test(name)).map((name) => join(folder, name));

/** The classes that a component takes from its style sheet, as `sheet: class`. */
function namedClasses(component: string): string[] {
  const text = readFileSync(component, 'utf8');
  const [, sheet] = /import styles from '(.*\.module\.css)'/.exec(text) ?? [];
  if (sheet === undefined) return [];
  const names = [...text.matchAll(/\bstyles\.(\w+)/g)].map(([, name]) => name as string);
  return [...new Set(names)].map((name) => `${join(dirname(component), sheet)}: ${name}`);
}

/** The classes that a style sheet has. */
const classesIn = (sheet: string): Set<string> =>
  new Set([...readFileSync(sheet, 'utf8').matchAll(/\.([A-Za-z]\w*)/g)].map(([, name]) => name as string));

describe('style sheets', () => {
  const named = components.flatMap(namedClasses);

  it('have every class that a component names', () => {
    expect(named.length).toBeGreaterThan(300);
    const missing = named.filter((one) => {
      const [sheet, name] = one.split(': ') as [string, string];
      return !classesIn(sheet).has(name);
    });
    expect(missing).toEqual([]);
  });

  it('have no class that nothing names', () => {
    const texts = components.map((component) => readFileSync(component, 'utf8')).join('\n');
    const unused = files
      .filter((name) => name.endsWith('.module.css'))
      .flatMap((name) => [...classesIn(join(folder, name))].map((one) => `${name}: ${one}`))
      .filter((one) => !new RegExp(`\\b${one.split(': ')[1]}\\b`).test(texts));
    expect(unused).toEqual([]);
  });
});
