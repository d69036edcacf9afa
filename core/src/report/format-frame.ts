import { formatDartFrame } from './formats/dart-stack/read.ts';
import { formatDotnetFrame } from './formats/dotnet-stack/read.ts';
import { formatJavascriptFrame } from './formats/javascript-stack/frame.ts';
import { formatJvmFrame } from './formats/jvm-stack/frame.ts';
import type { Frame, NativeFrame } from './frames.ts';

/** A frame as text, in the form that its runtime prints. */
export function formatFrame(frame: Frame): string {
  switch (frame.runtime) {
    case 'jvm':
      return formatJvmFrame(frame);
    case 'native':
      return formatNativeFrame(frame);
    case 'javascript':
      return formatJavascriptFrame(frame);
    case 'dart':
      return formatDartFrame(frame);
    case 'dotnet':
      return formatDotnetFrame(frame);
  }
}

/** The address that ties a frame to its image: as the symbol table counts, else after the load address, else in the process. */
export const nativeAddress = (frame: NativeFrame): string | null => frame.imageAddress ?? frame.imageOffset ?? frame.address;

function formatNativeFrame(frame: NativeFrame): string {
  const name = frame.function === null ? null : `${frame.function}${frame.functionOffset === null ? '' : ` + ${frame.functionOffset}`}`;
  const place = frame.file === null ? null : `(${frame.file}${frame.line === null ? '' : `:${frame.line}`})`;
  return [frame.image ?? '<unknown image>', nativeAddress(frame), name, place].filter(Boolean).join(' ');
}
