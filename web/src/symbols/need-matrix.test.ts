import type { BuildNeed } from '@rough-ember/server/symbols/symbol-overview';
import { expect, it } from 'vitest';
import { needMatrix } from './need-matrix';

const need = (known: Partial<BuildNeed>): BuildNeed => ({
  version: '4.3.0',
  build: '430',
  kind: 'mapping',
  symbolId: null,
  name: null,
  covered: true,
  costReports: 0,
  costPeople: 0,
  reports: 5,
  hasWarnings: false,
  frames: { covered: 0, uncovered: 0 },
  misfit: null,
  ...known,
});

it('puts versions in their order and leaves open what no build of a version asked for', () => {
  const { versions, rows } = needMatrix([
    need({ version: '4.10.0' }),
    need({ version: '4.9.0' }),
    need({ version: '4.9.0', kind: 'code', name: 'libsong.so', symbolId: 'aa', covered: false, costReports: 7 }),
  ]);
  expect(versions).toEqual(['4.9.0', '4.10.0']);
  expect(rows.map(({ name, cells }) => [name, cells.map((cell) => cell?.state ?? null)])).toEqual([
    [null, ['covered', 'covered']],
    ['libsong.so', ['missing', null]],
  ]);
});

it('adds up the builds of a version, one of which may lack its file', () => {
  const { rows } = needMatrix([
    need({ kind: 'code', name: 'libsong.so', symbolId: 'aa', hasWarnings: true }),
    need({ kind: 'code', name: 'libsong.so', symbolId: 'bb', covered: false, costReports: 3 }),
    need({ kind: 'code', name: 'libsong.so', symbolId: 'cc', covered: false, costReports: 4 }),
  ]);
  expect(rows[0]?.cells[0]).toMatchObject({ state: 'missing', costReports: 7, needs: { length: 3 } });
});

it('shows the latest versions when there are many, and what is missing first', () => {
  const { versions, rows } = needMatrix([
    ...Array.from({ length: 30 }, (_, at) => need({ version: `1.${at}`, kind: 'code', name: 'liba.so' })),
    need({ version: '1.29', kind: 'code', name: 'libz.so', covered: false, costReports: 1 }),
  ]);
  expect([versions[0], versions.at(-1), versions.length]).toEqual(['1.18', '1.29', 12]);
  expect(rows.map((row) => row.name)).toEqual(['libz.so', 'liba.so']);
});
