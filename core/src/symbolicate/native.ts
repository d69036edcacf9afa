import type { DartFrame, NativeFrame } from '../report/frames.ts';
import type { LoadedImage } from '../report/report.ts';
import type { CodeFrame, CodeIndex, CodeMatch } from '../symbols/code/lookup.ts';
import { demangleFunction } from '../symbols/demangle/demangle.ts';
import { readAsReported } from './as-reported.ts';
import type { Needs } from './needs.ts';
import { isOurImage, isOurLibrary, type OurFramesRule } from './our-frames.ts';
import type { ReadableFrame } from './readable-report.ts';
import type { SymbolSource } from './symbol-source.ts';

/** The name of a file in a path, or of a member inside an archive. */
export const imageName = (path: string): string =>
  path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('!'), path.lastIndexOf('\\')) + 1);

/** What the frames of one report have in common while they are read. */
export interface Reading {
  readonly source: SymbolSource;
  readonly rule: OurFramesRule;
  readonly needs: Needs;
  readonly images: readonly LoadedImage[];
}

/** Names a frame of machine code by the debug information or symbol table of its image, inlined calls first. */
export function readNativeFrame(frame: NativeFrame, rawIndex: number, { source, rule, needs, images }: Reading): ReadableFrame[] {
  const reported = readAsReported(frame, rawIndex, rule);
  const name = frame.image === null ? null : imageName(frame.image);
  const symbolId = frame.symbolId ?? idOfImage(images, frame.image);
  const hasPlace = frame.imageAddress !== null || frame.imageOffset !== null;
  if (!hasPlace || (symbolId === null && name === null)) return [reported];
  const index = source.find('code', { symbolId, name });
  // The system names its own code, and the files of other people's are not ours to miss.
  if (isOurImage(frame.image)) needs.note({ kind: 'code', symbolId, name }, index !== null);
  if (!index) return [reported];
  const match = index.lookup(addressIn(index, frame));
  if (match.state === 'not-covered') return [{ ...reported, status: 'not-covered' }];
  return readableFrames(match, { ...reported, ours: isOurImage(frame.image) });
}

/** Names a frame of Dart code that was compiled ahead of time. All its addresses are return addresses, the first one too. */
export function readCompiledDartFrame(frame: DartFrame, rawIndex: number, { source, rule, needs }: Reading): ReadableFrame[] {
  const reported = readAsReported(frame, rawIndex, rule);
  if (frame.imageAddress === null || frame.gap) return [reported];
  const tie = { symbolId: frame.symbolId, name: null };
  const index = source.find('code', tie) ?? (frame.symbolId === null ? codeOfDart(source) : null);
  needs.note({ kind: 'code', ...tie }, index !== null);
  if (!index) return [reported];
  const match = index.lookup(Number.parseInt(frame.imageAddress, 16) - 1);
  if (match.state === 'not-covered') return [{ ...reported, status: 'not-covered' }];
  return readableFrames(match, reported).map((one) => ({ ...one, ours: isOurLibrary(one.file) }));
}

/** Names that the builds of Dart give to their code and to the files with its debug information. */
const dartFiles = ['libapp.so', 'App', 'app.android-arm64', 'app.android-arm', 'app.android-x64', 'app.ios-arm64'];

/** Older runtimes print no build id, and a build has other libraries beside that of Dart. */
function codeOfDart(source: SymbolSource): CodeIndex | null {
  for (const name of dartFiles) {
    const index = source.find('code', { symbolId: null, name });
    if (index) return index;
  }
  return null;
}

function readableFrames(match: Exclude<CodeMatch, { state: 'not-covered' }>, reported: ReadableFrame): ReadableFrame[] {
  const { unnamed: _unnamed, ...place } = reported;
  return match.frames.map((frame: CodeFrame) => ({
    ...(frame.name === null ? reported : { ...place, function: demangleFunction(frame.name) }),
    file: frame.file ?? (frame.inlined ? null : reported.file),
    line: frame.line ?? (frame.inlined || frame.file !== null ? null : reported.line),
    column: frame.column,
    inlined: frame.inlined,
    status: 'resolved',
  }));
}

/** The address to look up: a return address lies behind its call, so one byte earlier is still in it. */
function addressIn(index: CodeIndex, frame: NativeFrame): number {
  const address =
    frame.imageAddress !== null
      ? Number.parseInt(frame.imageAddress, 16)
      : index.addressOfImageOffset(Number.parseInt(frame.imageOffset as string, 16));
  const isThumb = index.summary.architecture.startsWith('armv') && address % 2 === 1;
  return frame.pointsAt === 'after-call' ? address - (isThumb ? 2 : 1) : address;
}

function idOfImage(images: readonly LoadedImage[], path: string | null): string | null {
  if (path === null) return null;
  const same = images.filter((image) => image.name === path);
  return same.length === 1 ? (same[0]?.symbolId ?? null) : null;
}
