import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import { wordFormat } from '@rough-ember/core/report/formats/formats';
import type { FoundReport } from '@rough-ember/core/report/formats/found-report';
import { CommandProblem } from './command-problem.ts';
import { readNamedFile } from './read-file.ts';

/** `ember read` */
export function read(path: string, { json }: { json?: boolean }): void {
  const found = readCrashFile(readNamedFile(path), { receivedAt: new Date().toISOString() });
  if (!found.ok)
    throw new CommandProblem(`${path}: ${found.problem.message}${found.problem.line === undefined ? '' : ` (line ${found.problem.line})`}`);
  if (json) console.log(JSON.stringify({ reports: found.value }, null, 2));
  else for (const report of found.value) for (const line of describe(path, report)) console.log(line);
}

function describe(path: string, report: FoundReport): string[] {
  const { os, device } = report;
  const facts: [string, string | null][] = [
    ['id', report.id],
    ['when', report.occurredAt],
    ['process', report.process],
    ['version', [report.version, report.build && `(${report.build})`].filter(Boolean).join(' ')],
    ['system', os && [os.name, os.version, os.build].filter(Boolean).join(' ')],
    ['device', device && [device.manufacturer, device.model].filter(Boolean).join(' ')],
    ['threads', report.threads.length > 0 ? String(report.threads.length) : null],
    ['images', report.images.length > 0 ? String(report.images.length) : null],
    ['kept', report.sections.map((section) => section.name).join(', ')],
    ['notes', report.notes.join('; ')],
  ];
  return [
    `${path}: ${wordFormat(report.format)}, a ${report.kind}`,
    ...facts.flatMap(([name, value]) => (value ? [`  ${name.padEnd(8)} ${value}`] : [])),
    ...report.exceptions.map(({ type, message, relation, frames }) => {
      const runtimes = [...new Set(frames.map((frame) => frame.runtime))].join(' and ');
      return `  ${relation.padEnd(8)} ${type}${message === null ? '' : `: ${message.split('\n')[0]}`} (${frames.length} ${runtimes} frames)`.replace(
        '  frames',
        ' frames',
      );
    }),
  ];
}
