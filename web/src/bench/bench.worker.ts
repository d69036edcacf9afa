import { type ByteSource, readHead, sourceOf } from '@rough-ember/core/bytes/byte-source';
import { groupingContext, groupReport } from '@rough-ember/core/grouping/group-report';
import { formatFrame } from '@rough-ember/core/report/format-frame';
import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import type { FoundReport } from '@rough-ember/core/report/formats/found-report';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { sourceOfFiles, type TiedFile } from '@rough-ember/core/symbolicate/file-set';
import type { SymbolSource } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { isZip, readArchive } from '@rough-ember/core/symbols/archive';
import { sectionsOf } from '@rough-ember/core/symbols/index-file';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { openSymbolIndex, type SymbolIndex } from '@rough-ember/core/symbols/open-index';
import type { BenchAnswer, BenchReport, BenchRequest } from './messages';

/** Indexes of the files a person dropped, by the number the page gave them. Nothing here ever leaves the browser. */
const files = new Map<number, (TiedFile & { readonly opened: SymbolIndex })[]>();
let crash: { readonly bytes: Uint8Array; readonly ours: readonly string[] } | null = null;

const answer = (message: BenchAnswer): void => self.postMessage(message);

/** Reads a dropped file in slices, where the readers want them. */
const sourceOfFile = (file: File): ByteSource => ({
  sizeBytes: file.size,
  read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()),
});

const progressSteps = 50;

async function add(id: number, file: File): Promise<void> {
  const source = sourceOfFile(file);
  const isArchive = isZip(await readHead(source, 4));
  const parts: (TiedFile & { readonly opened: SymbolIndex })[] = [];
  let refusal: string | null = null;
  const given = isArchive ? await readArchive(source) : [{ path: file.name, source }];
  for (const one of given) {
    const within = 'source' in one ? one.source : sourceOf(await one.read());
    const fileName = one.path.replace(/^.*\//, '');
    const indexed = await indexSymbolFile(within, { fileName, progress: progressOf(id) });
    // An archive holds much that is none; only when nothing in it is one, the last reason is told.
    if (!indexed.ok) refusal = isArchive ? 'The archive holds no symbol file.' : indexed.problem.message;
    else
      for (const { kind, symbolId, name, built } of indexed.value) {
        const opened = openSymbolIndex(sectionsOf(built));
        if (opened.ok) parts.push({ kind, symbolId, name, isOfBuild: true, opened: opened.value });
      }
  }
  if (parts.length === 0) {
    answer({ type: 'refused', id, reason: refusal ?? 'The archive is empty.' });
    return;
  }
  files.set(id, parts);
  answer({ type: 'indexed', id, parts: parts.map(({ kind, symbolId, name }) => ({ kind, symbolId, name })) });
}

/** Tells of progress in a few steps; more would only be thrown away. */
function progressOf(id: number): (done: number, total: number) => void {
  let told = -1;
  return (done, total) => {
    const step = Math.floor((progressSteps * done) / Math.max(1, total));
    if (step === told) return;
    told = step;
    answer({ type: 'progress', id, share: done / Math.max(1, total) });
  };
}

function symbolicateCrash(): void {
  if (crash === null) return;
  const { bytes, ours } = crash;
  const read = readCrashFile(bytes, { receivedAt: new Date().toISOString() });
  if (!read.ok) {
    answer({ type: 'unreadable', reason: read.problem.message });
    return;
  }
  const source = sourceOfFiles([...files.values()].flat());
  answer({ type: 'result', reports: read.value.map((report) => toBenchReport(report, source, ours)) });
}

function toBenchReport(report: FoundReport, source: SymbolSource, ours: readonly string[]): BenchReport {
  const readable = symbolicate(report, source, { ours });
  const grouping = groupReport(groupingContext(report), readable);
  return {
    readable,
    raw: [
      ...report.exceptions.map(({ type, message, frames }) => ({
        title: message === null ? type : `${type}: ${message}`,
        frames: frames.map(formatFrame),
      })),
      ...report.threads.map(({ name, frames }) => ({ title: name, frames: frames.map(formatFrame) })),
    ],
    groupingKeys: [report.kind, ...reportKinds.filter((kind) => kind !== report.kind)].map(
      (kind) => groupReport({ ...groupingContext(report), kind }, readable).key,
    ),
    provisional: grouping.provisional,
  };
}

/** Requests are worked one after the other, in the order they came. */
let last: Promise<void> = Promise.resolve();
self.onmessage = ({ data }: MessageEvent<BenchRequest>): void => {
  last = last.then(async () => {
    if (data.type === 'add')
      await add(data.id, data.file).catch((error: Error) => answer({ type: 'refused', id: data.id, reason: error.message }));
    else if (data.type === 'remove') files.delete(data.id);
    else crash = data;
    symbolicateCrash();
  });
};
