import { stackText } from '@rough-ember/core/symbolicate/stack-text';
import type { CaseFile, ReportView } from '@rough-ember/server/desk/case-file';
import { wordTime } from '../words/time';
import { wordBefore, wordEvent } from './Before';
import { caseSentence } from './case-sentence';
import { wordStatus } from './status-words';

interface Where {
  readonly appName: string;
  readonly address: string;
}

const shownEvents = 15;

/** The case for a ticket, a chat or a coding assistant: what, since when, for whom, the stack, and what came before. */
export function caseMarkdown(file: CaseFile, where: Where): string {
  const { report } = file;
  return [
    `## [${escapeMarkdown(titleOf(file))}](${where.address})`,
    escapeMarkdown(sentenceOf(file, where)),
    factsOf(file)
      .map(([name, value]) => `- **${escapeMarkdown(name)}:** ${escapeMarkdown(value)}`)
      .join('\n'),
    '### Stack',
    fenced(stackText(report.readable)),
    ...(report.trail.length > 0 ? ['### Before', fenced(trailOf(report))] : []),
  ].join('\n\n');
}

/** The same without marks. */
export function casePlainText(file: CaseFile, where: Where): string {
  const { report } = file;
  return [
    titleOf(file),
    where.address,
    sentenceOf(file, where),
    factsOf(file)
      .map(([name, value]) => `${name}: ${value}`)
      .join('\n'),
    stackText(report.readable),
    ...(report.trail.length > 0 ? [`Before:\n${trailOf(report)}`] : []),
  ].join('\n\n');
}

/** The stacks in the words of their own runtime, untouched. */
export const rawStackText = ({ raw }: Pick<ReportView, 'raw'>): string =>
  raw.map(({ title, frames }) => [title, ...frames.map((frame) => `    at ${frame}`)].join('\n')).join('\n');

const titleOf = ({ item }: CaseFile): string => `${item.ref}: ${item.what} in ${item.where}`;

const sentenceOf = (file: CaseFile, { appName }: Where): string =>
  `${appName}, ${file.item.kind === 'error' ? 'handled error' : file.item.kind}, ${wordStatus(file.item)}. ${caseSentence(file.item, file)
    .map((part) => part.text)
    .join('')}`;

function factsOf({ report, item }: CaseFile): [string, string][] {
  const { os, device, flags, attributes } = report;
  return [
    ...(item.message === null ? [] : [['Message', item.message] as [string, string]]),
    ['Report', `${report.id}, ${wordTime(report.occurredAt)}`],
    ['Version', `${report.version} (${report.build})`],
    ...(os ? [['System', `${os.name} ${os.version}`] as [string, string]] : []),
    ...(device ? [['Device', [device.manufacturer, device.model].filter(Boolean).join(' ')] as [string, string]] : []),
    ...Object.entries(flags).map(([name, variant]): [string, string] => [`Flag ${name}`, variant]),
    ...Object.entries(attributes).map(([name, value]): [string, string] => [name, String(value)]),
  ];
}

const trailOf = ({ trail, occurredAt }: ReportView): string =>
  trail
    .slice(-shownEvents)
    .map((event) => `${wordBefore(event.at, occurredAt)}  ${event.kind}  ${wordEvent(event)}`)
    .join('\n');

/** A fence longer than any in the text, so that the text cannot end it. */
/** Text as Markdown (CommonMark 0.31, section 2.4): what an app sent makes no link, no picture and no heading of a ticket. */
const escapeMarkdown = (text: string): string => text.replace(/[\\`*_{}[\]<>#|!~@]/g, '\\$&').replace(/\s*\n\s*/g, ' ');

function fenced(text: string): string {
  const longest = Math.max(2, ...(text.match(/`+/g) ?? []).map((run) => run.length));
  const fence = '`'.repeat(longest + 1);
  return `${fence}\n${text}\n${fence}`;
}
