import { groupReport } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import { failure, type Result, success } from '@rough-ember/core/result';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import type { MappingIndex } from '@rough-ember/core/symbols/mapping/lookup';
import { parseBatch, parseOtlp } from '../intake/parse-batch.ts';
import { previewScrub } from '../intake/preview-scrub.ts';
import { readFileTask } from '../intake/read-crash-file.ts';
import { indexMappingFile, openMappingFile } from '../symbols/index-file-on-disk.ts';
import type { MappingPaths, ProcessedTask, ReportTask, Tasks } from './tasks.ts';

/** Indexes that were used last stay open; a build's reports come in crowds. */
const openIndexes = new Map<string, Promise<MappingIndex>>();
const keptIndexes = 12;

function openIndex({ originalPath, indexPath }: MappingPaths): Promise<MappingIndex> {
  const opened = openIndexes.get(indexPath) ?? openMappingFile(originalPath, indexPath);
  openIndexes.delete(indexPath);
  openIndexes.set(indexPath, opened);
  opened.catch(() => openIndexes.delete(indexPath));
  const oldest = openIndexes.keys().next().value;
  if (openIndexes.size > keptIndexes && oldest !== undefined) openIndexes.delete(oldest);
  return opened;
}

async function processReport(task: ReportTask): Promise<Result<ProcessedTask, 'failed'>> {
  try {
    const report = JSON.parse(task.body) as Report;
    const mappings = new Map<string, MappingIndex>();
    for (const [mapId, paths] of task.mappings) mappings.set(mapId, await openIndex(paths));
    const readable = symbolicate(report, { mapping: (mapId) => mappings.get(mapId ?? '') ?? null }, { ours: task.ourPackages });
    return success({ readable, grouping: groupReport(report.kind, readable, `${report.version} ${report.build}`) });
  } catch (error) {
    return failure('failed', error instanceof Error ? error.message : String(error));
  }
}

const tasks: Tasks = {
  parseBatch,
  parseOtlp,
  previewScrub,
  readCrashFile: readFileTask,
  indexMapping: ({ originalPath, indexPath }) => indexMappingFile(originalPath, indexPath),
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
