import type { CaseState } from '../cases/case-status.ts';
import { wordCount, wordNumber } from '../words/count.ts';
import { type AlertKind, alertKinds } from './alert-rule.ts';
import { openings } from './kind-words.ts';

/** A case as a message tells of it. */
export interface ToldCase {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly state: CaseState;
  readonly reports: number;
  readonly people: number;
  readonly firstVersion: string;
  readonly lastVersion: string;
  readonly assignee: string | null;
  /** Functions and lines of our own frames, the innermost first. */
  readonly frames: readonly string[];
  /** What its people have in common, as a sentence; empty where nothing is clear. */
  readonly inCommon: string;
  /** The commit that may have brought it, and who wrote it, in words; null where none is known. */
  readonly likelyChange: string | null;
}

/** One thing that a message tells. */
export interface AlertNews {
  readonly kind: AlertKind;
  /** When it happened, ISO in UTC. */
  readonly at: string;
  /** The app that it is about. */
  readonly app: string;
  /** The version of the report that it is about; null where it is about none. */
  readonly version: string | null;
  readonly case: ToldCase | null;
  /** What is told where it is about no case: a sentence, and what goes with it. */
  readonly told: { readonly headline: string; readonly facts: readonly string[] } | null;
  /** The page of it. */
  readonly link: string;
  /** Pages that ask before they change anything: mute for a day, assign to whoever reads. Empty where there is no case. */
  readonly acts: readonly { readonly label: string; readonly link: string }[];
}

/** A message, for any channel: what it is about in a line, the same in plain lines, and in HTML. */
export interface Message {
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  /** Messages of one case belong together; empty where a message is about several things. */
  readonly thread: string;
}

/** Of many things at once so many are told one by one. */
const toldOneByOne = 10;

/** In one line: what, where in our code, for how many people, in which version, and whether it is known. */
export function headlineOf(news: AlertNews): string {
  const { kind, case: of, told, version } = news;
  if (of === null) return told?.headline ?? openings[kind];
  const place = of.where === '' ? of.what : `${of.what} in ${of.where}`;
  const people = of.people === 0 ? '' : `, ${wordCount(of.people, 'person', 'people')}`;
  const inVersion = version === null || version === '' ? '' : `, ${version}`;
  return `${openings[kind]}: ${of.ref} ${place}${people}${inVersion}${knownOf(news)}`;
}

function knownOf({ kind, case: of, version }: AlertNews): string {
  if (of === null || kind === 'case-begins' || of.firstVersion === '' || of.firstVersion === version) return '';
  return `, known since ${of.firstVersion}`;
}

/** Everything under the headline, a line each. */
function detailsOf({ case: of, told }: AlertNews): string[] {
  if (of === null) return [...(told?.facts ?? [])];
  return [
    ...of.frames,
    `${wordCount(of.reports, 'report', 'reports')} so far.${of.assignee === null ? ' Nobody looks after it.' : ` ${of.assignee} looks after it.`}`,
    ...(of.inCommon === '' ? [] : [of.inCommon]),
    ...(of.likelyChange === null ? [] : [`Likely change: ${of.likelyChange}.`]),
  ];
}

/** Of several things: how many of each kind. */
function summaryOf(all: readonly AlertNews[]): string {
  const counts = new Map<AlertKind, Set<string>>();
  for (const { kind, case: of, link } of all) counts.set(kind, (counts.get(kind) ?? new Set()).add(of?.ref ?? link));
  return [...counts].map(([kind, subjects]) => wordOf(kind, subjects.size)).join(', ');
}

function wordOf(kind: AlertKind, count: number): string {
  if (!alertKinds[kind].isOfCase) return openings[kind].toLowerCase();
  const cases = wordCount(count, 'case', 'cases');
  return kind === 'case-begins'
    ? `${wordNumber(count)} new ${count === 1 ? 'case' : 'cases'}`
    : kind === 'case-returns'
      ? `${cases} came back`
      : kind === 'case-worse'
        ? `${cases} getting worse`
        : `reports of ${cases}`;
}

/** The same thing told by two rules, or a case that was reported again and again, is told once: the first of it. */
function once(all: readonly AlertNews[]): AlertNews[] {
  const known = new Set<string>();
  return all.filter(({ kind, case: of, link, told }) => {
    const name = `${kind} ${of?.ref ?? `${link} ${told?.headline}`}`;
    return !known.has(name) && known.add(name);
  });
}

/**
 * The message that tells of some things, all of one app; `all` is not empty. `footer` says why one gets it, with the page where that is changed.
 */
export function composeMessage(all: readonly AlertNews[], footer: { readonly text: string; readonly link: string }): Message {
  const news = once(all);
  const [first] = news as [AlertNews];
  const shown = news.slice(0, toldOneByOne);
  const rest = news.length - shown.length;
  const isOne = news.length === 1;
  const subject = shortened(isOne ? `[${first.app}] ${headlineOf(first)}` : `[${first.app}] ${summaryOf(news)}`);
  const more = rest > 0 ? `And ${wordNumber(rest)} more.` : '';
  const text = [
    ...(isOne ? [] : [`${summaryOf(news)}.`, '']),
    ...shown.flatMap((one) => [
      oneLine(headlineOf(one)),
      ...detailsOf(one).map((line) => `    ${oneLine(line)}`),
      `    ${one.link}`,
      ...(isOne ? one.acts.map(({ label, link }) => `    ${label}: ${link}`) : []),
      '',
    ]),
    ...(more === '' ? [] : [more, '']),
    `-- `,
    footer.text,
    footer.link,
  ].join('\n');
  const html = [
    '<div style="font:14px/1.5 system-ui,sans-serif;color:#2b2724;max-width:44em;overflow-wrap:anywhere">',
    ...(isOne ? [] : [`<p>${escaped(summaryOf(news))}.</p>`]),
    ...shown.map((one) => htmlOf(one, isOne)),
    ...(more === '' ? [] : [`<p>${escaped(more)}</p>`]),
    `<p style="color:#6b645e;font-size:12px;margin-top:2em">${escaped(footer.text)} <a href="${escaped(footer.link)}">Change it</a></p>`,
    '</div>',
  ].join('\n');
  return { subject, text, html, thread: isOne && first.case !== null ? first.case.ref : '' };
}

function htmlOf(news: AlertNews, withActs: boolean): string {
  const acts = withActs ? news.acts.map(({ label, link }) => ` · <a href="${escaped(link)}">${escaped(label)}</a>`).join('') : '';
  const frames = new Set(news.case?.frames);
  const lines = detailsOf(news).map((line) => (frames.has(line) ? `<code style="font-size:12px">${escaped(line)}</code>` : escaped(line)));
  return `<p style="margin:1.2em 0"><b><a href="${escaped(news.link)}" style="color:#2b2724">${escaped(headlineOf(news))}</a></b><br>${lines.join('<br>')}<br><a href="${escaped(news.link)}">Open</a>${acts}</p>`;
}

/** Texts that apps sent may hold anything: none of it ends a line, a header or a tag. */
const oneLine = (text: string): string => text.replace(/[\p{Cc}\u2028\u2029]+/gu, ' ').trim();

/** A mail program shows no more of it, and the whole stands in the text. */
const longestSubject = 180;
const shortened = (text: string): string => {
  const line = oneLine(text);
  return line.length > longestSubject ? `${line.slice(0, longestSubject).trimEnd()} …` : line;
};

const entities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };
const escaped = (text: string): string => oneLine(text).replace(/[&<>"']/g, (letter) => entities[letter] as string);
