import { formatFrame, nativeAddress } from '../report/format-frame.ts';
import type { DartFrame, DotnetFrame, Frame, JavascriptFrame, JvmFrame, NativeFrame } from '../report/frames.ts';
import { demangleFunction } from '../symbols/demangle/demangle.ts';
import { writtenDotnetMethod } from './dotnet-names.ts';
import type { OurFramesRule } from './our-frames.ts';
import { isHelper, isOurImage, isOurLibrary, isOurMethod, isOurScript } from './our-frames.ts';
import type { ReadableFrame } from './readable-report.ts';

/** A frame in the words that the runtime or the system already found for it. */
export function readAsReported(frame: Exclude<Frame, JvmFrame>, rawIndex: number, rule: OurFramesRule): ReadableFrame {
  return { runtime: frame.runtime, column: null, raw: formatFrame(frame), rawIndex, ...read(frame, rule) };
}

type Read = Pick<ReadableFrame, 'unnamed' | 'function' | 'file' | 'line' | 'inlined' | 'ours' | 'status'> &
  Partial<Pick<ReadableFrame, 'column' | 'image'>>;

function read(frame: Exclude<Frame, JvmFrame>, rule: OurFramesRule): Read {
  switch (frame.runtime) {
    case 'native':
      return readNative(frame);
    case 'javascript':
      return readJavascript(frame);
    case 'dart':
      return readDart(frame);
    case 'dotnet':
      return readDotnet(frame, rule);
  }
}

/** The last part of a path, or of a member inside an archive. */
const baseName = (path: string): string => path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('!'), path.lastIndexOf('\\')) + 1);

const unnamedIf = (isUnnamed: boolean): Pick<Read, 'unnamed'> => (isUnnamed ? { unnamed: true } : {});

function readNative(frame: NativeFrame): Read {
  const ours = isOurImage(frame.image);
  const image = frame.image === null ? null : baseName(frame.image);
  const unnamed = [image ?? '<unknown image>', nativeAddress(frame)].filter(Boolean).join(' ');
  return {
    ...(image === null ? {} : { image }),
    ...unnamedIf(frame.function === null),
    function: frame.function === null ? unnamed : demangleFunction(frame.function),
    file: frame.file,
    line: frame.line,
    inlined: frame.inlined,
    ours,
    status: frame.function === null && ours ? 'no-symbols' : 'as-written',
  };
}

function readJavascript(frame: JavascriptFrame): Read {
  // A host that ships one bundle prints positions without naming it.
  const isOurs = !frame.native && (frame.file === null ? frame.line !== null : isOurScript(frame.file));
  // Offsets into byte code mean nothing to people; those of the engine's own are all there will ever be.
  const isOffset = frame.bytecode && isOurs;
  const place = frame.bytecode ? ` ${frame.line}:${frame.column}` : '';
  return {
    ...unnamedIf(frame.function === null),
    function: frame.function ?? (frame.bytecode ? `${baseName(frame.file ?? '')}${place}`.trim() : '<anonymous>'),
    file: frame.file,
    line: isOffset ? null : frame.line,
    column: isOffset ? null : frame.column,
    inlined: false,
    ...(frame.async ? { asynchronous: true } : {}),
    ours: isOurs && !isHelper(frame.function ?? '', frame.file),
    status: isOffset ? 'no-symbols' : 'as-written',
  };
}

function readDart(frame: DartFrame): Read {
  const unnamed = frame.gap ? '<asynchronous suspension>' : (frame.symbol ?? frame.imageAddress ?? frame.address ?? '<unknown>');
  return {
    ...unnamedIf(frame.function === null),
    function: frame.function ?? unnamed,
    file: frame.library,
    line: frame.line,
    column: frame.column,
    inlined: false,
    ours: !frame.gap && isOurLibrary(frame.library),
    status: frame.address !== null && frame.function === null ? 'no-symbols' : 'as-written',
  };
}

function readDotnet(frame: DotnetFrame, rule: OurFramesRule): Read {
  const method = writtenDotnetMethod(frame.method);
  // Some runtimes print an id in place of the name; nobody writes a rule about that.
  const image = frame.module !== null && /\.(?:dll|exe)$/i.test(frame.module) ? baseName(frame.module) : null;
  return {
    ...(image === null ? {} : { image }),
    function: method,
    file: frame.file,
    line: frame.line,
    inlined: false,
    ours: isOurMethod(method, rule),
    status: 'as-written',
  };
}
