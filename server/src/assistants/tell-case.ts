import { caseMarkdown } from '@rough-ember/core/cases/case-text';
import { wordStatus } from '@rough-ember/core/cases/case-words';
import { commonSentence } from '@rough-ember/core/cases/common-sentence';
import { wordChange } from '@rough-ember/core/changes/word-change';
import { wordEvent } from '@rough-ember/core/report/trail-words';
import { wordCount } from '@rough-ember/core/words/count';
import { wordTime } from '@rough-ember/core/words/time';
import type { AnswerOf, Ask } from '../api/registry.ts';

type ListedCase = AnswerOf<'GET /apps/{app}/cases'>['cases'][number];

/** A case in a line of a list. */
export const wordListedCase = (item: ListedCase): string =>
  `${item.ref} ${item.what} in ${item.where}: ${wordCount(item.reports, 'report', 'reports')}, ${wordCount(item.people, 'person', 'people')}, ${item.firstVersion} to ${item.lastVersion}, ${wordStatus(item)}${item.news === null || item.news === item.state ? '' : `, ${item.news}`}${item.assignee === null ? '' : `, ${item.assignee} looks after it`}${item.message === null ? '' : `; message: ${item.message}`}`;

/** Whatever can fail while the rest is told all the same. */
const orNull = <Value>(work: Promise<Value>): Promise<Value | null> => work.catch(() => null);

/** Frames of ours whose source is told. */
const shownSources = 3;

/** A case as an assistant needs it to say what is wrong: the stack, sources, who has it, what came before, the likely change, what people wrote. */
export async function tellCase(
  ask: Ask,
  path: { readonly app: string; readonly ref: string },
  report: number,
  link: string,
): Promise<string> {
  const everything = 'last=all&kind=crash,hang,kill,error';
  const file = await ask('GET /apps/{app}/cases/{ref}', path, { parameters: `${everything}&report=${report}` });
  const [changes, who, steps, similar, sources] = await Promise.all([
    orNull(ask('GET /apps/{app}/cases/{ref}/changes', path)),
    orNull(ask('GET /apps/{app}/cases/{ref}/who', path, { parameters: everything })),
    orNull(ask('GET /apps/{app}/cases/{ref}/steps', path, { parameters: everything })),
    orNull(ask('GET /apps/{app}/cases/{ref}/similar', path)),
    sourcesOf(ask, path.app, file),
  ]);
  const [likeliest] = changes?.found?.changes ?? [];
  const common = who
    ? commonSentence(who.standOuts)
        .map(({ text }) => text)
        .join('')
        .trim()
    : '';
  const parts: (readonly [string, string])[] = [
    ['Sources around our frames', sources.join('\n\n')],
    ['In common among its people', common],
    ['Steps before most of its reports', (steps?.steps ?? []).join(' → ')],
    ['Cases like it', (similar?.similar ?? []).map((one) => `${one.ref} ${one.what} in ${one.where}`).join('\n')],
    ['What happened to it', historyOf(file)],
  ];
  return [
    caseMarkdown({ ...file, likelyChange: likeliest ? wordChange(likeliest) : null }, { appName: path.app, address: link }),
    ...parts.filter(([, text]) => text !== '').map(([title, text]) => `### ${title}\n\n${text}`),
  ].join('\n\n');
}

type File = AnswerOf<'GET /apps/{app}/cases/{ref}'>;

const longestNote = 2_000;

const historyOf = ({ history }: File): string =>
  history
    .slice(0, 20)
    .map(
      ({ at, actor, kind, detail }) =>
        `${wordTime(at)} ${actor || 'a report'}: ${kind}${kind === 'note' ? `: ${String(detail.text).slice(0, longestNote)}` : ''}`,
    )
    .join('\n');

/** The lines around the first of our frames, where the app says where its sources are. */
async function sourcesOf(ask: Ask, app: string, { report }: File): Promise<string[]> {
  const frames = [...report.readable.exceptions, ...report.readable.threads.filter((one) => one.crashed)]
    .flatMap((one) => one.frames)
    .filter((frame) => frame.ours && frame.file !== null && frame.line !== null)
    .slice(0, shownSources);
  const told = await Promise.all(
    frames.map(async ({ file, line, function: named }) => {
      const place = { file: file as string, line: line as number, function: named, version: report.version };
      const found = (await orNull(ask('GET /apps/{app}/source', { app }, { parameters: place })))?.found;
      if (!found) return '';
      const lines = found.lines.map((text, at) => `${found.firstLine + at === line ? '>' : ' '} ${found.firstLine + at} ${text}`);
      return `${found.path}\n${lines.join('\n')}`;
    }),
  );
  return told.filter((one) => one !== '');
}

/** A session with what happened in it, a line each, without whose it was. */
export function tellSession({ session, flags, moments }: AnswerOf<'GET /apps/{app}/sessions/{id}'>): string {
  const { id, startedAt, durationMs, state, version, system, device, country } = session;
  const head = `Session ${id}, ${wordTime(startedAt)}, ${Math.round(durationMs / 1_000)} s, ${state}; ${[version, system, device, country].filter(Boolean).join(', ')}`;
  const lines = moments.map((moment) => {
    const at = `+${((Date.parse(moment.at) - Date.parse(startedAt)) / 1_000).toFixed(1)} s`;
    if (moment.type === 'event') return `${at} ${moment.event.kind} ${wordEvent(moment.event)}`;
    if (moment.type === 'report')
      return `${at} ${moment.kind}: ${moment.what} in ${moment.where}${moment.ref === null ? '' : ` (${moment.ref})`}`;
    return `${at} ${moment.type}`;
  });
  const flagLine = Object.entries(flags).map(([name, variant]) => `${name} ${variant}`);
  return [head, ...(flagLine.length > 0 ? [`Flags: ${flagLine.join(', ')}`] : []), ...lines].join('\n');
}
