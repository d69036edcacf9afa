import type { Report } from '../report/report.ts';
import { wordBefore, wordEvent } from '../report/trail-words.ts';
import type { ReadableReport } from '../symbolicate/readable-report.ts';
import { stackText } from '../symbolicate/stack-text.ts';
import { wordTime } from '../words/time.ts';
import { type CaseCircumstances, type CaseFigures, caseSentence } from './case-sentence.ts';
import type { CaseState, Mute } from './case-status.ts';
import { wordStatus } from './case-words.ts';

/** A case with one of its reports, as texts tell of it. */
export interface CaseToTell extends CaseCircumstances {
  /** The change that may have brought it, in a line; left out or null where none is known. */
  readonly likelyChange?: string | null;
  readonly item: CaseFigures & {
    readonly ref: string;
    readonly kind: Report['kind'];
    readonly state: CaseState;
    readonly closedIn: string | null;
    readonly mute: Mute | null;
    readonly what: string;
    readonly where: string;
    readonly message: string | null;
  };
  readonly report: Pick<Report, 'version' | 'build' | 'os' | 'device' | 'flags' | 'attributes' | 'trail'> & {
    readonly id: string;
    readonly occurredAt: string;
    readonly readable: ReadableReport;
  };
}

/** What a text says of where the case is. */
export interface TextPlace {
  readonly appName: string;
  readonly address: string;
}

const shownEvents = 15;

/** The case for a ticket, a chat or a coding assistant: what, since when, for whom, the stack, and what came before. */
export function caseMarkdown(file: CaseToTell, where: TextPlace): string {
  const { report } = file;
  return [
    `## [${escapeMarkdown(titleOf(file))}](${where.address})`,
    escapeMarkdown(sentenceOf(file, where)),
    factsOf(file)
      .map(([name, value]) => `- **${escapeMarkdown(name)}:** ${escapeMarkdown(value)}`)
      .join('\n'),
    '### Stack',
    fenced(stackText(report.readable)),
    ...(file.likelyChange ? ['### Likely change', escapeMarkdown(file.likelyChange)] : []),
    ...(report.trail.length > 0 ? ['### Before', fenced(trailOf(report))] : []),
  ].join('\n\n');
}

/** The same without marks. */
export function casePlainText(file: CaseToTell, where: TextPlace): string {
  const { report } = file;
  return [
    titleOf(file),
    where.address,
    sentenceOf(file, where),
    factsOf(file)
      .map(([name, value]) => `${name}: ${value}`)
      .join('\n'),
    stackText(report.readable),
    ...(file.likelyChange ? [`Likely change: ${file.likelyChange}`] : []),
    ...(report.trail.length > 0 ? [`Before:\n${trailOf(report)}`] : []),
  ].join('\n\n');
}

/** The stacks in the words of their own runtime, untouched. */
export const rawStackText = ({
  raw,
}: {
  readonly raw: readonly { readonly title: string; readonly frames: readonly string[] }[];
}): string => raw.map(({ title, frames }) => [title, ...frames.map((frame) => `    at ${frame}`)].join('\n')).join('\n');

const titleOf = ({ item }: CaseToTell): string => `${item.ref}: ${item.what} in ${item.where}`;

const sentenceOf = (file: CaseToTell, { appName }: TextPlace): string =>
  `${appName}, ${file.item.kind === 'error' ? 'handled error' : file.item.kind}, ${wordStatus(file.item)}. ${caseSentence(file.item, file)
    .map((part) => part.text)
    .join('')}`;

function factsOf({ report, item }: CaseToTell): [string, string][] {
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

const trailOf = ({ trail, occurredAt }: CaseToTell['report']): string =>
  trail
    .slice(-shownEvents)
    .map((event) => `${wordBefore(event.at, occurredAt)}  ${event.kind}  ${wordEvent(event)}`)
    .join('\n');

/** Text as Markdown (CommonMark 0.31, section 2.4): what an app sent makes no link, no picture and no heading of a ticket. */
const escapeMarkdown = (text: string): string => text.replace(/[\\`*_{}[\]<>#|!~@]/g, '\\$&').replace(/\s*\n\s*/g, ' ');

/** A fence longer than any in the text, so that the text cannot end it. */
function fenced(text: string): string {
  const longest = Math.max(2, ...(text.match(/`+/g) ?? []).map((run) => run.length));
  const fence = '`'.repeat(longest + 1);
  return `${fence}\n${text}\n${fence}`;
}
