import type { Frame, JvmFrame } from '../report/frames.ts';
import type { Report, ReportedException } from '../report/report.ts';
import { withRuntimeNames } from '../symbols/demangle/demangle.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import type { ObfuscationMapIndex } from '../symbols/obfuscation-map/obfuscation-map.ts';
import { namesObfuscatedType, restoreDartMessage, restoreDartTypes } from './dart-messages.ts';
import { readDotnetFrame } from './dotnet.ts';
import { namedByCallers, readJavascriptFrame, sourceMapNeed, withoutAddedCode, withScriptCallsLeftOut } from './javascript.ts';
import { judgeFit } from './judge-fit.ts';
import { looksObfuscated, mapIdOf, readJvmFrame } from './jvm.ts';
import { restoreMessage } from './jvm-messages.ts';
import { type Reading, readCompiledDartFrame, readNativeFrame } from './native.ts';
import { Needs } from './needs.ts';
import type { OurFramesRule } from './our-frames.ts';
import type { ReadableException, ReadableFrame, ReadableReport, SymbolNeed } from './readable-report.ts';
import { byBuild, type SymbolSource, sourceFrom } from './symbol-source.ts';

type Stacks = Pick<Report, 'exceptions' | 'threads'> & Partial<Pick<Report, 'images'>>;

/**
 * Turns the stacks of a report into what its developer wrote, and lists the symbol files this takes. A mapping that is almost surely of
 * another build is worse than none: its names look right and are not. So the report is read without it, and its needs say why.
 */
export function symbolicate(report: Stacks, source: SymbolSource, rule: OurFramesRule): ReadableReport {
  const readable = readStacks(report, source, rule);
  const isOfAnotherBuild = readable.needs.some(
    ({ kind, symbolId, frames }) => kind === 'mapping' && symbolId === null && frames && judgeFit(frames).verdict === 'other-build',
  );
  if (!isOfAnotherBuild) return readable;
  const withoutIt = sourceFrom((kind, tie) => (kind === 'mapping' && tie.symbolId === null ? null : source.find(kind, tie)));
  return { ...readStacks(report, withoutIt, rule), needs: readable.needs };
}

function readStacks(report: Stacks, source: SymbolSource, rule: OurFramesRule): ReadableReport {
  const stacks = new StackReader({ source, rule, needs: new Needs(), images: report.images ?? [] }, [
    ...report.exceptions,
    ...report.threads,
  ]);
  const exceptions: ReadableException[] = [];
  for (const exception of report.exceptions) {
    const own = exception.frames.length - exception.framesInCommon;
    const frames = stacks.read(exception.frames, exception.type);
    exceptions.push({
      type: stacks.className(exception.type, exception.frames),
      message: stacks.message(exception, causesOf(exception, report.exceptions)),
      relation: exception.relation,
      parent: exception.parent,
      frames,
      framesInCommon: frames.filter((frame) => frame.rawIndex >= own).length,
      ...(exception.framesLeftOut && { framesLeftOut: exception.framesLeftOut }),
    });
  }
  const threads = report.threads.map(({ name, crashed, frames, framesLeftOut }) => ({
    name,
    crashed,
    frames: stacks.read(frames),
    ...(framesLeftOut && { framesLeftOut }),
  }));
  return { exceptions, threads, needs: stacks.needs() };
}

/** The causes of an exception, nearest first. */
function causesOf(exception: ReportedException, all: readonly ReportedException[]): ReportedException[] {
  const causes: ReportedException[] = [];
  for (let at = all.indexOf(exception); at >= 0 && causes.length < all.length; ) {
    at = all.findIndex((other) => other.relation === 'cause' && other.parent === at);
    if (at >= 0) causes.push(all[at] as ReportedException);
  }
  return causes;
}

/** Dart code that was compiled ahead of time prints addresses, and the names of types as its compiler left them. */
const isCompiledDart = (frames: readonly Frame[]): boolean => frames.some((frame) => frame.runtime === 'dart' && frame.address !== null);

class StackReader {
  /** The one map id that frames of the report print; it stands for those that print none. */
  private readonly mapId: string | null;

  constructor(
    private readonly reading: Reading,
    stacks: readonly { readonly frames: readonly Frame[] }[],
  ) {
    const printed = new Set(stacks.flatMap(({ frames }) => frames.map((frame) => (frame.runtime === 'jvm' ? mapIdOf(frame) : null))));
    printed.delete(null);
    this.mapId = printed.size === 1 ? ([...printed][0] as string) : null;
  }

  /** `thrown` is the class of the exception whose stack it is, as printed. */
  read(frames: readonly Frame[], thrown: string | null = null): ReadableFrame[] {
    const readable = frames.flatMap((frame, rawIndex) => this.readFrame(frame, rawIndex, frames, thrown));
    const shown = withoutAddedCode(withScriptCallsLeftOut(namedByCallers(readable)), frames);
    for (const frame of shown) this.countCoverage(frame, frames[frame.rawIndex] as Frame);
    return shown;
  }

  private countCoverage({ status, raw }: ReadableFrame, frame: Frame): void {
    if (status !== 'resolved' && status !== 'ambiguous' && status !== 'not-covered') return;
    const need = frame.runtime === 'jvm' ? this.mappingNeed(frame) : frame.runtime === 'javascript' ? sourceMapNeed(frame) : null;
    // A file that an id ties is the right one, whatever else is amiss.
    if (need?.symbolId === null) this.reading.needs.count(need, raw, status !== 'not-covered');
  }

  private mappingNeed = (frame: JvmFrame): SymbolNeed => ({ kind: 'mapping', symbolId: mapIdOf(frame) ?? this.mapId, name: null });

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
    const need = this.mappingNeed(frame);
    const mapping = this.reading.source.find('mapping', need);
    // A frame with nothing to restore asks for nothing, so builds that were never obfuscated miss nothing.
    if (mapIdOf(frame) !== null || looksObfuscated(frame) || (mapping !== null && mapping.className(frame.class) !== null))
      this.reading.needs.note(need, mapping !== null);
    return mapping;
  }

  /** A class name in a header has no file of its own: the mapping that its frames ask for restores it. */
  className(name: string, frames: readonly Frame[]): string {
    if (isCompiledDart(frames)) {
      const map = this.obfuscationMap(/^[A-Za-z]{1,3}$/.test(name));
      return map ? restoreDartTypes(name, map) : name;
    }
    return this.mappingOf(frames)?.className(name) ?? withRuntimeNames(name);
  }

  /** The message with the names that its own runtime may have written into it restored. */
  message(exception: ReportedException, causes: readonly ReportedException[]): string | null {
    const { message, frames } = exception;
    if (message === null) return null;
    if (isCompiledDart(frames)) {
      const map = this.obfuscationMap(namesObfuscatedType(message));
      return map ? restoreDartMessage(message, map) : message;
    }
    if (frames.some((frame) => frame.runtime === 'native')) return withRuntimeNames(message);
    const mapping = this.mappingOf(frames);
    return mapping ? restoreMessage(exception, mapping, causes) : message;
  }

  private mappingOf(frames: readonly Frame[]): MappingIndex | null {
    // Only the mapping's own runtime prints names that it could restore.
    if (frames.some((frame) => frame.runtime !== 'jvm')) return null;
    const mapId = frames.map((frame) => (frame.runtime === 'jvm' ? mapIdOf(frame) : null)).find((id) => id !== null) ?? this.mapId;
    return this.reading.source.find('mapping', { symbolId: mapId, name: null });
  }

  /** Only version and build tie an obfuscation map; it is missed when a name looks as if it needed one. */
  private obfuscationMap(isWanted: boolean): ObfuscationMapIndex | null {
    const map = this.reading.source.find('obfuscation-map', byBuild);
    if (isWanted) this.reading.needs.note({ kind: 'obfuscation-map', symbolId: null, name: null }, map !== null);
    return map;
  }

  needs(): ReadableReport['needs'] {
    return this.reading.needs.list();
  }
}
