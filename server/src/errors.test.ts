import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { errorList } from './errors.ts';

it('the page of errors and the program say the same', () => {
  const page = readFileSync(new URL('../../docs/errors.md', import.meta.url), 'utf8');
  const rows = [...page.matchAll(/^\| `([\w-]+)`\s*\| (\d+)\s*\| (.+?)\s*\|$/gm)].map(([, code, status, remedy]) => [
    code,
    { status: Number(status), remedy },
  ]);
  expect(Object.fromEntries(rows)).toEqual(errorList);
});
