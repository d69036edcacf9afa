import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { defaultScope } from '@rough-ember/core/scope/scope';
import { createApp } from '@rough-ember/store/apps';
import { deleteSymbolFile } from '@rough-ember/store/symbol-file-states';
import { findSymbolFile, isContentInUse, listSymbolFiles } from '@rough-ember/store/symbol-files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadCaseFile } from '../desk/case-file.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { checkSymbols } from './check-symbols.ts';
import { sweepSymbols } from './sweep-symbols.ts';
import { loadSymbolOverview } from './symbol-overview.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const survey = (name: string) => new Uint8Array(readFileSync(new URL(`../../../core/samples/dotnet-symbols/${name}`, import.meta.url)));
const scope = { ...defaultScope, days: null };
const open = async (ref: string) => {
  const file = await loadCaseFile(server.services, { app: server.app, ref, scope, position: 0, now: new Date() });
  if (!file) throw new Error(`there is no case ${ref}`);
  return file;
};
const ourFrames = async (ref: string) =>
  (await open(ref)).report.readable.exceptions[0]?.frames
    .filter((frame) => frame.function.startsWith('Larkfield'))
    .map(({ function: name, line }) => `${name.split('.').at(-1)}:${line}`);

describe('a managed stack that prints module version ids', () => {
  it('asks for the assembly, then for the PDB that it names, and reads with both, whichever came first', async () => {
    await server.send('/intake/v1/file?version=2.6.0&build=260', survey('async.stack') as BodyInit);
    await server.settled();
    const needs = async () =>
      (await loadSymbolOverview(server.database, server.app)).needs.map(({ kind, name, covered }) => ({ kind, name, covered }));
    expect(await needs()).toEqual([{ kind: 'assembly', name: null, covered: false }]);

    await server.uploadSymbols(survey('Survey.dll'), { name: 'Survey.dll' });
    await server.settled();
    expect(await needs()).toEqual(
      expect.arrayContaining([
        { kind: 'assembly', name: null, covered: true },
        { kind: 'pdb', name: 'Survey', covered: false },
      ]),
    );
    await server.uploadSymbols(survey('Survey.pdb'), { name: 'Survey.pdb' });
    await server.settled();
    expect((await ourFrames('LG-1'))?.slice(0, 2)).toEqual(['Find:21', 'LoadAsync:26']);
    expect((await needs()).every((need) => need.covered)).toBe(true);
  });
});

describe('a symbol file that is deleted', () => {
  it('takes its names with it, and its bytes only when no app refers to them any more', async () => {
    const other = await createApp(server.database, { slug: 'field', name: 'Field', prefix: 'LF', platforms: ['Android'], ourPackages: [] });
    const files = await listSymbolFiles(server.database, server.app.id);
    const pdb = files.find((file) => file.kind === 'pdb');
    if (!pdb || !other) throw new Error('the PDB is not there');
    const { id: _id, createdAt: _at, state: _state, problem: _problem, ...again } = pdb;
    await server.database('symbol_files').insert({
      app_id: other.id,
      kind: again.kind,
      version: '',
      version_key: '',
      build: '',
      sha256: again.sha256,
      size_bytes: again.sizeBytes,
      file_name: again.fileName,
      state: 'ready',
      uploaded_by: 'ci',
    });
    expect(await deleteSymbolFile(server.database, pdb)).toBe(1);
    await server.settled();
    expect((await ourFrames('LG-1'))?.[0]).toBe('Find:null');
    expect(await findSymbolFile(server.database, pdb.id)).toBeNull();

    const path = server.services.symbols.originalPath(pdb.sha256);
    const later = new Date(Date.now() + 2 * 3_600_000);
    expect(await sweepSymbols(server.database, server.services.symbols, later)).toBe(0);
    expect(readFileSync(path).length).toBe(pdb.sizeBytes);
    await server.database('symbol_files').where({ app_id: other.id }).delete();
    expect(await isContentInUse(server.database, pdb.sha256)).toBe(false);
    // Young files may belong to an upload that is just being recorded.
    expect(await sweepSymbols(server.database, server.services.symbols, new Date())).toBe(0);
    expect(await sweepSymbols(server.database, server.services.symbols, later)).toBeGreaterThanOrEqual(pdb.sizeBytes);
    expect(() => readFileSync(path)).toThrow('ENOENT');
  });
});

describe('the check of symbol files on disk', () => {
  it('makes damaged and missing indexes again, and names originals that are damaged or gone', async () => {
    await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431', name: 'mapping.txt' });
    await server.settled();
    const check = () => checkSymbols(server.database, server.services.symbols);
    expect((await check()).faults).toEqual([]);
    const files = await listSymbolFiles(server.database, server.app.id);
    const [mapping, assembly] = ['mapping', 'assembly'].map((kind) => files.find((file) => file.kind === kind));
    if (!mapping || !assembly) throw new Error('the files are not there');
    const { symbols } = server.services;
    const index = `${symbols.indexPath(mapping.sha256)}.0`;
    const bytes = readFileSync(index);
    bytes[bytes.length - 9] = (bytes[bytes.length - 9] as number) ^ 0xff;
    writeFileSync(index, bytes);
    rmSync(`${symbols.indexPath(assembly.sha256)}.0`);
    expect((await check()).faults.map(({ fileName, problem, mended }) => [fileName, mended, problem.split(':')[0]])).toEqual(
      expect.arrayContaining([
        ['mapping.txt', true, 'its index is damaged'],
        ['Survey.dll', true, 'its index is missing; it was made again'],
      ]),
    );
    expect((await check()).faults).toEqual([]);

    const original = symbols.originalPath(mapping.sha256);
    writeFileSync(original, 'something else');
    rmSync(symbols.originalPath(assembly.sha256));
    expect((await check()).faults.map(({ mended, problem }) => [mended, problem])).toEqual(
      expect.arrayContaining([
        [false, 'the file on disk is not what was uploaded and was set aside: upload it again'],
        [false, 'the file is gone from disk: upload it again'],
      ]),
    );
    expect(await symbols.has(mapping.sha256)).toBe(false);
    // Sending the same file again puts it back.
    await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431', name: 'mapping.txt' });
    expect(await symbols.has(mapping.sha256)).toBe(true);
    expect((await check()).faults.map((fault) => fault.fileName)).toEqual(['Survey.dll']);
  });
});
