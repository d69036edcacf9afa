import type { Frame, JvmFrame } from '../report/frames.ts';
import type { Report, ReportedException } from '../report/report.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import { readDotnetFrame } from './dotnet.ts';
import { readJavascriptFrame } from './javascript.ts';
import { looksObfuscated, mapIdOf, readJvmFrame } from './jvm.ts';
import { type Reading, readCompiledDartFrame, readNativeFrame } from './native.ts';
import { Needs } from './needs.ts';
import type { OurFramesRule } from './our-frames.ts';
import type { ReadableException, ReadableFrame, ReadableReport } from './readable-report.ts';
import type { SymbolSource } from './symbol-source.ts';

/** Turns the stacks of a report into what its developer wrote, and lists the symbol files this takes. */
export function symbolicate(
  report: Pick<Report, 'exceptions' | 'threads'> & Partial<Pick<Report, 'images'>>,
  source: SymbolSource,
  rule: OurFramesRule,
): ReadableReport {
  const stacks = new StackReader({ source, rule, needs: new Needs(), images: report.images ?? [] });
  const exceptions: ReadableException[] = [];
  for (const exception of report.exceptions) {
    const own = exception.frames.length - exception.framesInCommon;
    const frames = stacks.read(exception.frames, exception.type);
    exceptions.push({
      type: stacks.className(exception.type, exception.frames),
      message: readMessage(exception, report.exceptions, (name) => stacks.className(name, exception.frames)),
      relation: exception.relation,
      parent: exception.parent,
      frames,
      framesInCommon: frames.filter((frame) => frame.rawIndex >= own).length,
    });
  }
  const threads = report.threads.map(({ name, crashed, frames }) => ({ name, crashed, frames: stacks.read(frames) }));
  return { exceptions, threads, needs: stacks.needs() };
}

/** `new RuntimeException(cause)` copies the cause's class name into its message, obfuscated as it was then. */
function readMessage(exception: ReportedException, all: readonly ReportedException[], className: (name: string) => string): string | null {
  const { message } = exception;
  if (message === null) return null;
  const cause = all.find((other) => other.relation === 'cause' && other.parent === all.indexOf(exception));
  if (!cause || !(message === cause.type || message.startsWith(`${cause.type}: `))) return message;
  return className(cause.type) + message.slice(cause.type.length);
}

class StackReader {
  constructor(private readonly reading: Reading) {}

  /** `thrown` is the class of the exception whose stack it is, as printed. */
  read(frames: readonly Frame[], thrown: string | null = null): ReadableFrame[] {
    return frames.flatMap((frame, rawIndex) => this.readFrame(frame, rawIndex, frames, thrown));
  }

  private readFrame(frame: Frame, rawIndex: number, stack: readonly Frame[], thrown: string | null): ReadableFrame | ReadableFrame[] {
    switch (frame.runtime) {
      case 'jvm':
        return readJvmFrame(stack, rawIndex, this.mappingFor(frame), this.reading.rule, thrown);
      case 'native':
        return readNativeFrame(frame, rawIndex, this.reading);
      case 'javascript':
        return readJavascriptFrame(frame, rawIndex, this.reading);
      case 'dart':
        return readCompiledDartFrame(frame, rawIndex, this.reading);
      case 'dotnet':
        return readDotnetFrame(frame, rawIndex, this.reading);
    }
  }

  private mappingFor(frame: JvmFrame): MappingIndex | null {
    const mapId = mapIdOf(frame);
    const mapping = this.reading.source.mapping(mapId);
    // A frame with nothing to restore asks for nothing, so builds that were never obfuscated miss nothing.
    if (mapId !== null || (mapping ? mapping.className(frame.class) !== null : looksObfuscated(frame)))
      this.reading.needs.note({ kind: 'mapping', symbolId: mapId, name: null }, mapping !== null);
    return mapping;
  }

  /** A class name in a header has no file of its own: the mapping that its frames ask for restores it. */
  className(name: string, frames: readonly Frame[]): string {
    // Only the mapping's own runtime prints names that it could restore.
    if (frames.some((frame) => frame.runtime !== 'jvm')) return name;
    const mapId = frames.map((frame) => (frame.runtime === 'jvm' ? mapIdOf(frame) : null)).find((id) => id !== null) ?? null;
    return this.reading.source.mapping(mapId)?.className(name) ?? name;
  }

  needs(): ReadableReport['needs'] {
    return this.reading.needs.list();
  }
}
