import { readFileSync } from 'node:fs';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import type { DotnetFrame, Frame } from '@rough-ember/core/report/frames';
import { sourceOfFiles, type TiedFile } from '@rough-ember/core/symbolicate/file-set';
import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import type { SymbolSource } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { sectionsOf } from '@rough-ember/core/symbols/index-file';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { openSymbolIndex, type SymbolIndex } from '@rough-ember/core/symbols/open-index';
import type { DemoApp, DemoRelease } from '../demo-app.ts';

/** A stretch of calls as one raw frame tells it: the innermost inlined call first, the function itself last. */
export interface CallStretch {
  readonly functions: readonly string[];
  /** Raw frames of this build that mean exactly these calls, each at another place in them. */
  readonly frames: readonly Frame[];
}

/** A build of a program, asked the other way round: which raw frames does it print for these calls? */
export interface ProgramBuild {
  readonly name: string;
  readonly version: string;
  readonly build: string;
  readonly runtime: Frame['runtime'];
  readonly source: SymbolSource;
  readonly ours: readonly string[];
  /** By their functions, joined with line ends. */
  readonly stretches: ReadonlyMap<string, CallStretch>;
}

type OpenFile = TiedFile & { readonly opened: SymbolIndex; readonly bytes: Uint8Array };

/** Opens the symbol files of a release and finds every raw frame that its program can print of code of ours. */
export async function openBuild(app: DemoApp, release: DemoRelease): Promise<ProgramBuild[]> {
  const files: OpenFile[] = [];
  for (const { file, name, carriesId } of release.symbolFiles) files.push(...(await openFile(readFileSync(file), name, !carriesId)));
  const source = sourceOfFiles(files);
  const printed = Object.values(release.crashes).flatMap((file) => framesOfCrash(readFileSync(file)));
  const { ourPackages: ours } = app.app;
  const { version, build } = release;
  const runtimes = [...new Set(printed.map((frame) => frame.runtime))];
  return runtimes.flatMap((runtime) => {
    const frames = files.flatMap((file) => possibleFrames(file, runtime, printed));
    const stretches = stretchesOf(frames, source, ours);
    return stretches.size === 0
      ? []
      : [{ name: `${app.app.slug} ${version} ${runtime}`, version, build, runtime, source, ours, stretches }];
  });
}

/** A build of machine code alone, such as one of another optimisation level. */
export async function openNativeBuild(
  bytes: Uint8Array,
  { name, file, version, runtime }: { name: string; file: string; version: string; runtime: 'native' | 'dart' },
): Promise<ProgramBuild> {
  const files = await openFile(bytes, file, true);
  const source = sourceOfFiles(files);
  const frames = files.flatMap((one) => possibleFrames(one, runtime, []));
  return { name, version, build: '1', runtime, source, ours: [], stretches: stretchesOf(frames, source, []) };
}

async function openFile(bytes: Uint8Array, fileName: string, isOfBuild: boolean): Promise<OpenFile[]> {
  const indexed = await indexSymbolFile(sourceOf(bytes), { fileName });
  if (!indexed.ok) throw new Error(`${fileName}: ${indexed.problem.message}`);
  return indexed.value.map(({ kind, symbolId, name, built }) => {
    const opened = openSymbolIndex(sectionsOf(built));
    if (!opened.ok) throw new Error(`${fileName}: ${opened.problem.message}`);
    return { kind, symbolId, name, isOfBuild, opened: opened.value, bytes };
  });
}

function framesOfCrash(bytes: Uint8Array): Frame[] {
  const read = readCrashFile(bytes, { receivedAt: '2026-01-01T00:00:00Z' });
  return read.ok ? read.value.flatMap((report) => [...report.exceptions, ...report.threads].flatMap((one) => one.frames)) : [];
}

const hexadecimal = (value: number): `0x${string}` => `0x${value.toString(16)}`;
const mostAddresses = 0x4_0000;
const mostColumns = 4_000;
const mostOffsets = 160;

/** Every raw frame that code of a symbol file may print, most of which mean nothing. */
function possibleFrames({ kind, symbolId, name, bytes }: OpenFile, runtime: Frame['runtime'], printed: readonly Frame[]): Frame[] {
  if (kind === 'mapping' && runtime === 'jvm') return mappedFrames(new TextDecoder().decode(bytes));
  if (kind === 'code' && (runtime === 'native' || runtime === 'dart')) {
    const addresses = Array.from({ length: mostAddresses / 4 }, (_, at) => 4 * at);
    const base = bytes[0] === 0xcf ? 0x1_0000_0000 : 0;
    return addresses.map((address) =>
      runtime === 'dart' ? dartFrame(base + address, symbolId) : nativeFrame(base + address, { name, symbolId }),
    );
  }
  if (kind === 'sourcemap' && runtime === 'javascript')
    return Array.from({ length: mostColumns }, (_, column) => scriptFrame(name ?? 'index.android.bundle', column));
  if (kind === 'pdb' && runtime === 'dotnet') {
    const methods = new Map(printed.filter((frame) => frame.runtime === 'dotnet').map((frame) => [frame.method, frame as DotnetFrame]));
    return [...methods.values()].flatMap((frame) =>
      Array.from({ length: mostOffsets }, (_, ilOffset) => ({ ...frame, ilOffset, rethrown: false })),
    );
  }
  return [];
}

/** A frame for every line that a mapping file gives to a method. */
function mappedFrames(mapping: string): Frame[] {
  const frames: Frame[] = [];
  const known = new Set<string>();
  let type = '';
  for (const line of mapping.split('\n')) {
    const ofClass = /^\S+ -> (\S+):$/.exec(line);
    if (ofClass) type = ofClass[1] as string;
    const ofMethod = /^ {4}(\d+):(\d+):\S+ [^ ]+\(.*\)(?::\d+(?::\d+)?)? -> (\S+)$/.exec(line);
    if (!ofMethod) continue;
    for (let at = Number(ofMethod[1]); at <= Math.min(Number(ofMethod[2]), Number(ofMethod[1]) + 20); at++) {
      const name = `${type}.${ofMethod[3]}:${at}`;
      if (known.has(name)) continue;
      known.add(name);
      frames.push({
        runtime: 'jvm',
        class: type,
        method: ofMethod[3] as string,
        module: null,
        file: 'SourceFile',
        line: at,
        native: false,
      });
    }
  }
  return frames;
}

export const nativeFrame = (
  address: number | null,
  { name, symbolId, function: named = null }: { name: string | null; symbolId: string | null; function?: string | null },
): Frame => ({
  runtime: 'native',
  address: null,
  image: name,
  symbolId,
  imageOffset: null,
  imageAddress: address === null ? null : hexadecimal(address),
  fileOffset: null,
  pointsAt: 'instruction',
  function: named,
  functionOffset: null,
  file: null,
  line: null,
  inlined: false,
});

const dartFrame = (address: number, symbolId: string | null): Frame => ({
  runtime: 'dart',
  function: null,
  library: null,
  line: null,
  column: null,
  address: hexadecimal(0x7b_0000_0000 + address),
  imageAddress: hexadecimal(address),
  symbol: null,
  symbolId,
  gap: false,
});

export const scriptFrame = (
  file: string,
  column: number,
  { function: named = null, native = false }: { function?: string | null; native?: boolean } = {},
): Frame => ({
  runtime: 'javascript',
  function: named,
  file: native ? null : file,
  line: native ? null : 1,
  column: native ? null : column,
  bytecode: !native,
  native,
  async: false,
  evalOrigin: null,
});

function stretchesOf(frames: readonly Frame[], source: SymbolSource, ours: readonly string[]): Map<string, CallStretch> {
  const stretches = new Map<string, { functions: string[]; frames: Frame[] }>();
  for (let at = 0; at < frames.length; at += 2_000) {
    const some = frames.slice(at, at + 2_000);
    // Each on a stack of its own: what a frame means may depend on those around it.
    for (const frame of some) {
      const [read] = symbolicate({ exceptions: [exceptionOf([frame])], threads: [] }, source, { ours }).exceptions;
      const found = read?.frames ?? [];
      if (found.length === 0 || !found.every(isKnown)) continue;
      const functions = found.map((one) => one.function);
      const name = functions.join('\n');
      const known = stretches.get(name);
      if (known) known.frames.push(frame);
      else stretches.set(name, { functions, frames: [frame] });
    }
  }
  return stretches;
}

const isKnown = ({ ours, status, line }: ReadableFrame): boolean => ours && status === 'resolved' && line !== null;

export const exceptionOf = (
  frames: readonly Frame[],
  { type = 'error', message = null }: { type?: string; message?: string | null } = {},
) => ({
  type,
  message,
  relation: 'thrown' as const,
  parent: null,
  frames: [...frames],
  framesInCommon: 0,
  stack: null,
});
