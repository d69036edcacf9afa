import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { sourceOf } from '../../bytes/byte-source.ts';
import { parseDotnetFrame, readDotnetStacks } from '../../report/formats/dotnet-stack/read.ts';
import { sourceOfFiles } from '../../symbolicate/file-set.ts';
import { symbolicate } from '../../symbolicate/symbolicate.ts';
import type { AssemblyIndex } from '../assembly/assembly-index.ts';
import { sectionsOf } from '../index-file.ts';
import { indexSymbolFile } from '../index-symbol-file.ts';
import { openSymbolIndex } from '../open-index.ts';
import type { PdbIndex } from './pdb-index.ts';
import { printedParameterTypes } from './signature.ts';

const folder = new URL('../../../samples/dotnet-symbols/', import.meta.url);
const sample = (name: string): Uint8Array => {
  const bytes = readFileSync(new URL(name, folder));
  return new Uint8Array(name.endsWith('.gz') ? gunzipSync(bytes) : bytes);
};

async function open(name: string, fileName = name) {
  const indexed = await indexSymbolFile(sourceOf(sample(name)), { fileName });
  if (!indexed.ok) throw new Error(indexed.problem.message);
  return indexed.value.map(({ kind, name: of, symbolId, built }) => {
    const opened = openSymbolIndex(sectionsOf(built));
    if (!opened.ok) throw new Error(opened.problem.message);
    return { kind, name: of, symbolId, isOfBuild: true, opened: opened.value };
  });
}

async function first(name: string) {
  const [part] = await open(name);
  if (!part) throw new Error(`${name} gave no index`);
  return part;
}

const rowsOf = (name: string): string[][] =>
  new TextDecoder()
    .decode(sample(name))
    .trimEnd()
    .split('\n')
    .map((line) => line.split('\t'));

describe.each([
  ['Survey', 'Survey.dll', 'Survey.pdb', 'Survey.tsv.gz'],
  ['Json', 'Json.dll.gz', 'Json.pdb.gz', 'Json.tsv.gz'],
])('the assembly %s and its portable PDB, against a general metadata library', (_, dll, pdbFile, truthFile) => {
  const truth = rowsOf(truthFile);

  it('have the ids that tie them to each other', async () => {
    const assembly = await first(dll);
    const pdb = await first(pdbFile);
    const [, moduleId = '', pdbId = ''] = truth[0] as string[];
    expect(assembly.symbolId).toBe(moduleId.replaceAll('-', ''));
    expect((assembly.opened.index as AssemblyIndex).summary.pdbId).toBe(pdb.symbolId);
    // The recorded id is in the order of the bytes; a GUID prints its first three numbers turned round.
    expect(pdb.symbolId?.slice(16)).toBe(pdbId.slice(16, 32));
  });

  it('agree at every place of the code', async () => {
    const pdb = (await first(pdbFile)).opened.index as PdbIndex;
    let visible: { line: number; column: number; file: string } | null = null;
    let before = '';
    let compared = 0;
    for (const [kind, token = '', offset, line, column, document] of truth) {
      if (kind !== 'point') continue;
      if (token !== before) visible = null;
      before = token;
      if (line !== '0') visible = { line: Number(line), column: Number(column), file: document as string };
      const place = pdb.lookup(Number(token), Number(offset));
      expect(place && { ...place, file: place.file.replace(/^.*\/source\//, 'source/') }).toEqual(visible);
      compared++;
    }
    expect(compared).toBe(pdb.summary.lines + truth.filter(([kind, , , line]) => kind === 'point' && line === '0').length);
    expect(compared).toBeGreaterThan(30);
  });

  it('find every method by its printed name and parameters, and what a state machine was written as', async () => {
    const assembly = (await first(dll)).opened.index as AssemblyIndex;
    const pdb = (await first(pdbFile)).opened.index as PdbIndex;
    let methods = 0;
    let machines = 0;
    for (const [kind, token, name = '', types = '', kickoff] of truth) {
      if (kind !== 'method') continue;
      methods++;
      const [type = '', method = ''] = name.split('::');
      const printed = printedParameterTypes(types.replaceAll('/', '+'));
      const tokens = assembly.tokens(`${type.replaceAll('/', '+')}.${method}`, printed.map((one) => `${one} x`).join(', '));
      expect(tokens).toContain(Number(token));
      // Casts differ in nothing but what they return, some overloads in nothing but type arguments: no stack prints those.
      if (method !== 'op_Explicit' && method !== 'op_Implicit' && !types.includes('`')) expect(tokens, name).toHaveLength(1);
      expect(assembly.methodName(Number(token))).toBe(`${type.replaceAll('/', '.')}.${method.replace(/\[.*/, '')}`);
      expect(pdb.writtenAs(Number(token))).toBe(kickoff ? Number(kickoff) : null);
      if (kickoff) machines++;
    }
    expect(assembly.summary.methods).toBe(methods);
    expect(machines).toBeGreaterThan(0);
  });
});

describe('stacks of a runtime that prints no tokens', () => {
  it('get the lines that the runtime itself prints with the PDB at hand', async () => {
    const assembly = (await first('Survey.dll')).opened.index as AssemblyIndex;
    const pdb = (await first('Survey.pdb')).opened.index as PdbIndex;
    let compared = 0;
    for (const file of readdirSync(folder).filter((name) => name.endsWith('-lines.stack')))
      for (const line of new TextDecoder().decode(sample(file)).split('\n')) {
        const frame = parseDotnetFrame(line);
        if (!frame?.file?.startsWith('source/')) continue;
        const tokens = assembly.tokens(frame.method, frame.parameters);
        expect(tokens, line).toHaveLength(1);
        const place = pdb.lookup(tokens[0] as number, frame.ilOffset as number);
        expect(place && `${place.file.replace(/^.*source\//, 'source/')}:${place.line}`, line).toBe(`${frame.file}:${frame.line}`);
        compared++;
      }
    expect(compared).toBeGreaterThan(40);
  });

  const frames = async (files: Awaited<ReturnType<typeof open>>) => {
    return read(new TextDecoder().decode(sample('async.stack')), files);
  };
  const read = (text: string, files: Awaited<ReturnType<typeof open>>) => {
    const [report] = readDotnetStacks(text.split('\n'));
    if (!report) throw new Error('no stack in the text');
    return symbolicate(report, sourceOfFiles(files), { ours: [] });
  };

  it('are restored by the assembly and its PDB; the async method reads as it was written', async () => {
    const { exceptions, needs } = await frames([...(await open('Survey.dll')), ...(await open('Survey.pdb'))]);
    expect(exceptions[0]?.frames.filter((one) => one.ours).map((one) => `${one.function} ${one.line} ${one.status}`)).toEqual([
      'Larkfield.Survey.Store.Find 21 resolved',
      'Larkfield.Survey.Store.LoadAsync 26 resolved',
      expect.stringMatching(/^Larkfield\.Survey\.Program\.Main \d+ resolved$/),
      expect.stringMatching(/^Larkfield\.Survey\.Overloads\.Main \d+ resolved$/),
    ]);
    expect(needs.map(({ kind, found }) => `${kind} ${found}`)).toEqual(['assembly true', 'pdb true']);
  });

  it('are restored by an assembly alone that holds its PDB, and by no assembly of another build', async () => {
    const files = await open('SurveyEmbedded.dll');
    expect(files.map((file) => file.kind)).toEqual(['assembly', 'pdb']);
    const moduleId = files[0]?.symbolId as string;
    const text = new TextDecoder()
      .decode(sample('async.stack'))
      .replaceAll(/<[0-9a-f]{32}>:0/g, (printed, at, whole: string) =>
        whole.lastIndexOf('Larkfield', at) > whole.lastIndexOf('\n', at) ? `<${moduleId}>:0` : printed,
      );
    const readable = read(text, files);
    expect(readable.exceptions[0]?.frames.find((one) => one.function.endsWith('Find'))?.line).toBe(21);
    const other = read(text.replaceAll(moduleId, moduleId.replace(/^./, 'f')), files);
    expect(other.exceptions[0]?.frames.some((one) => one.status === 'resolved')).toBe(false);
  });

  it('say which file is missing: first the assembly, then the PDB it names', async () => {
    const missing = (await frames([])).needs;
    expect(missing).toEqual([{ kind: 'assembly', symbolId: expect.stringMatching(/^[0-9a-f]{32}$/), name: null, found: false }]);
    const assembly = await first('Survey.dll');
    expect((await frames([assembly])).needs).toContainEqual({
      kind: 'pdb',
      symbolId: (assembly.opened.index as AssemblyIndex).summary.pdbId,
      name: 'Survey',
      found: false,
    });
  });
});

describe('printed parameters', () => {
  it.each([
    ['', []],
    ['System.String[] names, System.Int32& total', ['String[]', 'Int32&']],
    ['System.Collections.Generic.Dictionary`2[TKey,TValue] plots, System.Int32[,] grid', ['Dictionary`2', 'Int32[,]']],
    ['System.Func`2[System.Collections.Generic.List`1[T],TResult] each', ['Func`2']],
    ['Larkfield.Survey.Store+Cache`2[TKey,TValue] cache', ['Cache`2']],
    ['Int32 step, Dictionary`2 plots', ['Int32', 'Dictionary`2']],
  ])('%s', (printed, types) => {
    expect(printedParameterTypes(printed)).toEqual(types);
  });
});

describe('files of the same family that cannot help', () => {
  const refused = async (bytes: Uint8Array) => {
    const indexed = await indexSymbolFile(sourceOf(bytes), { fileName: 'App.pdb' });
    return indexed.ok ? null : indexed.problem.message;
  };

  it('are refused with what to do', async () => {
    expect(await refused(new TextEncoder().encode('Microsoft C/C++ MSF 7.00\r\n\x1aDS'))).toContain('<DebugType>portable</DebugType>');
    const native = sample('Survey.dll');
    const header = new DataView(native.buffer).getUint32(0x3c, true);
    native.fill(0, header + 24 + 96 + 14 * 8, header + 24 + 96 + 15 * 8);
    expect(await refused(native)).toContain('native Windows program');
    expect(await refused(sample('Survey.pdb').subarray(0, 400))).toContain('damaged');
  });
});
