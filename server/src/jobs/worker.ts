import { groupReport } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import { failure, type Result, success } from '@rough-ember/core/result';
import { chooseFile, sourceOfFiles } from '@rough-ember/core/symbolicate/file-set';
import type { SymbolFileKind } from '@rough-ember/core/symbolicate/readable-report';
import { noSymbols, type SymbolSource, type SymbolTie } from '@rough-ember/core/symbolicate/symbol-source';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import type { SymbolIndex } from '@rough-ember/core/symbols/open-index';
import { parseBatch, parseOtlp } from '../intake/parse-batch.ts';
import { previewScrub } from '../intake/preview-scrub.ts';
import { readFileTask } from '../intake/read-crash-file.ts';
import { indexFileOnDisk, openIndexOnDisk } from '../symbols/index-file-on-disk.ts';
import type { ProcessedTask, ReportTask, Tasks, TiedIndex } from './tasks.ts';

/** Indexes that were used last stay open; a build's reports come in crowds. */
const openIndexes = new Map<string, Promise<{ opened: SymbolIndex; sizeBytes: number }>>();
const keptBytes = 400_000_000;

async function openIndex({ paths, part }: TiedIndex): Promise<SymbolIndex> {
  const key = `${paths.indexPath}.${part}`;
  const opened = openIndexes.get(key) ?? openIndexOnDisk(paths, part);
  openIndexes.delete(key);
  openIndexes.set(key, opened);
  opened.catch(() => openIndexes.delete(key));
  const { opened: index } = await opened;
  await closeOldest();
  return index;
}

/** Keeps the memory of open indexes bounded; the one used last always stays. */
async function closeOldest(): Promise<void> {
  const sizes = await Promise.all(
    [...openIndexes].map(async ([key, one]) => ({ key, sizeBytes: (await one.catch(() => null))?.sizeBytes ?? 0 })),
  );
  let total = sizes.reduce((sum, one) => sum + one.sizeBytes, 0);
  for (const { key, sizeBytes } of sizes.slice(0, -1)) {
    if (total <= keptBytes) return;
    openIndexes.delete(key);
    total -= sizeBytes;
  }
}

async function processReport(task: ReportTask): Promise<Result<ProcessedTask, 'failed'>> {
  try {
    const report = JSON.parse(task.body) as Report;
    const readable = symbolicate(report, await openSource(task, report), { ours: task.ourPackages });
    return success({ readable, grouping: groupReport(report.kind, readable, `${report.version} ${report.build}`) });
  } catch (error) {
    return failure('failed', error instanceof Error ? error.message : String(error));
  }
}

/** Opens only the files that frames of the report ask for: a first reading with nothing at hand tells which. */
async function openSource(task: ReportTask, report: Report): Promise<SymbolSource> {
  const wanted = new Map<TiedIndex, SymbolIndex | null>();
  const choose = (kind: SymbolFileKind, tie: SymbolTie): null => {
    const file = chooseFile(task.files, kind, tie);
    if (file) wanted.set(file, null);
    return null;
  };
  if (task.files.length === 0) return noSymbols;
  const asking: SymbolSource = {
    mapping: (mapId) => choose('mapping', { symbolId: mapId, name: null }),
    code: (image) => choose('code', image),
    sourceMap: (script) => choose('sourcemap', script),
  };
  symbolicate(report, asking, { ours: task.ourPackages });
  for (const file of wanted.keys()) wanted.set(file, await openIndex(file));
  return sourceOfFiles([...wanted].map(([file, opened]) => ({ ...file, opened: opened as SymbolIndex })));
}

const tasks: Tasks = {
  parseBatch,
  parseOtlp,
  previewScrub,
  readCrashFile: readFileTask,
  indexSymbolFile: indexFileOnDisk,
  processReports: (reports) => Promise.all(reports.map(processReport)),
};

/** The entry of a worker thread: runs the named task. */
export default function run<Name extends keyof Tasks>({
  name,
  input,
}: {
  name: Name;
  input: Parameters<Tasks[Name]>;
}): ReturnType<Tasks[Name]> {
  const task = tasks[name] as (...all: Parameters<Tasks[Name]>) => ReturnType<Tasks[Name]>;
  return task(...input);
}
