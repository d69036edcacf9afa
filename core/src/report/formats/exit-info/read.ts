import { reportLimits } from '../../limits.ts';
import { exitReasons, parseAndroidTime } from '../android-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';

/** Whether a text is what `ApplicationExitInfo.toString` or `dumpsys activity exit-info` writes. */
export const isExitInfo = (lines: readonly string[]): boolean => lines.some((line) => /ApplicationExitInfo(?: #\d+:|\()/.test(line));

/**
 * Reads why processes ended, as Android keeps it (API 30 and later). Ends that are nobody's fault (the app closed itself,
 * was updated, …) become no report, and a note says how many there were.
 */
export function readExitInfo(lines: readonly string[]): FoundReport[] {
  const records: string[] = [];
  for (const line of lines) {
    if (/ApplicationExitInfo(?: #\d+:|\()/.test(line)) records.push('');
    if (records.length > 0 && records.length <= 1_000) records[records.length - 1] += ` ${line.trim().slice(0, 4_000)}`;
  }
  const read = records.map(readRecord);
  const harmless = read.filter((one) => one === 'harmless').length;
  const reports = read.filter((one) => one !== null && one !== 'harmless').slice(0, 200);
  const [first, ...others] = reports;
  if (!first || harmless === 0) return reports;
  const note = `${harmless} further ${harmless === 1 ? 'end is' : 'ends are'} nobody's fault and became no report`;
  return [{ ...first, notes: [...first.notes, note] }, ...others];
}

// biome-ignore format: one table
const fields = [
  'timestamp', 'pid', 'realUid', 'packageUid', 'definingUid', 'user', 'process', 'reason', 'subreason', 'status', 'importance', 'pss', 'rss',
  'description', 'state', 'trace',
];

function readRecord(record: string): FoundReport | 'harmless' | null {
  const values = new Map<string, string>();
  // A value reaches to the next field name, since descriptions and times hold blanks.
  const marks = [...record.matchAll(new RegExp(`(?<![\\w])(${fields.join('|')})=`, 'g'))];
  marks.forEach((mark, index) => {
    const value = record.slice((mark.index as number) + mark[0].length, marks[index + 1]?.index ?? record.length).trim();
    if (!values.has(mark[1] as string))
      values.set(
        mark[1] as string,
        value.replace(/\)$/, (closing) => (value.includes('(') ? closing : '')),
      );
  });
  const [, number, name] = /^(\d{1,4})(?: \((.*?)\))?/.exec(values.get('reason') ?? '') ?? [];
  if (number === undefined) return null;
  const reason = exitReasons[Number(number)] ?? { name: name ?? `reason ${number}`, kind: 'kill' as const, meaning: 'ended by the system' };
  if (reason.kind === null) return 'harmless';
  const chain = new ChainBuilder();
  const subreason = /\((.*?)\)/.exec(values.get('subreason') ?? '')?.[1];
  const description = values.get('description');
  chain.begin({
    type: reason.name,
    message: [
      reason.meaning,
      subreason && subreason !== 'UNKNOWN' ? subreason : null,
      description && description !== 'null' ? description : null,
    ]
      .filter(Boolean)
      .join('; '),
  });
  const attribute = (name: string, value: string | undefined) =>
    value === undefined || value === '' || value === 'null' ? {} : { [name]: value.slice(0, reportLimits.attributeCharacters) };
  return foundReport({
    format: 'exit-info',
    kind: reason.kind,
    occurredAt: parseAndroidTime(values.get('timestamp') ?? ''),
    process: values.get('process') ?? null,
    exceptions: chain.exceptions,
    attributes: {
      'exit.reason': reason.name,
      ...attribute('exit.subreason', subreason),
      ...attribute('exit.status', values.get('status')),
      ...attribute('exit.importance', values.get('importance')),
      ...attribute('exit.proportionalMemory', values.get('pss')),
      ...attribute('exit.residentMemory', values.get('rss')),
    },
  });
}
