import { type CaseToTell, caseMarkdown, casePlainText } from '@rough-ember/core/cases/case-text';
import { wordStatus } from '@rough-ember/core/cases/case-words';
import { wordChange } from '@rough-ember/core/changes/word-change';
import { printable } from '@rough-ember/core/report/printable';
import { wordCount } from '@rough-ember/core/words/count';
import { ask, reach, type ServerOptions } from './ask-server.ts';
import { UsageProblem } from './command-problem.ts';

interface ListOptions extends ServerOptions {
  readonly last?: string;
  readonly version?: string;
  readonly kind?: string;
  readonly cases?: string;
  readonly assignee?: string;
  readonly filter?: string;
  readonly order?: string;
  readonly json?: boolean;
}

type Item = CaseToTell['item'];

/** The parameters of a scope, as the address of the desk has them. */
const scopeParameters = ['last', 'version', 'kind', 'cases', 'assignee', 'filter', 'order'] as const;

/** `ember cases`: a case in a line, the first of a scope. */
export async function listCases(options: ListOptions): Promise<void> {
  const { app, token } = reach(options, 'read');
  const parameters = new URLSearchParams(scopeParameters.flatMap((name) => (options[name] === undefined ? [] : [[name, options[name]]])));
  const list = await ask<{ total: number; cases: readonly Item[] }>(`${app}/cases?${parameters}`, token);
  if (options.json) return console.log(JSON.stringify(list, null, 2));
  for (const { ref, what, where, reports, people, firstVersion, lastVersion, ...status } of list.cases) {
    const span = firstVersion === lastVersion ? firstVersion : `${firstVersion} to ${lastVersion}`;
    const figures = `${wordCount(reports, 'report', 'reports')}, ${wordCount(people, 'person', 'people')}, ${span}, ${wordStatus(status)}`;
    console.log(`${ref.padEnd(9)} ${printable(`${what} in ${where}`)}  (${printable(figures)})`);
  }
  const left = list.total - list.cases.length;
  if (left > 0) console.log(`and ${wordCount(left, 'case', 'cases')} more`);
}

interface CaseOptions extends ServerOptions {
  readonly markdown?: boolean;
  readonly json?: boolean;
}

type File = CaseToTell & { readonly item: Item };
interface Changes {
  readonly found: { readonly changes: readonly Parameters<typeof wordChange>[0][] } | null;
}

/** The address of a case; a reference that is none would lead elsewhere. */
function addressOf(app: string, ref: string): string {
  if (!/^[A-Za-z0-9]{1,10}-\d{1,9}$/.test(ref)) throw new UsageProblem(`"${ref}" is no reference of a case, such as LG-142`);
  return `${app}/cases/${ref}`;
}

/** `ember case`: one case with its newest report, for people or for whoever is to cure it. */
export async function showCase(ref: string, { markdown, json, ...to }: CaseOptions): Promise<void> {
  const { app, token } = reach(to, 'read');
  const address = addressOf(app, ref);
  const file = await ask<File>(`${address}?last=all&kind=crash,hang,kill,error`, token);
  if (json) return console.log(JSON.stringify(file, null, 2));
  // What brought it is worth telling where it is known, and no reason to fail.
  const changes = await ask<Changes>(`${address}/changes`, token).catch(() => null);
  const [likeliest] = changes?.found?.changes ?? [];
  const told = { ...file, likelyChange: likeliest ? wordChange(likeliest) : null };
  const page = `${to.server.replace(/\/+$/, '')}/apps/${encodeURIComponent(to.app)}/cases/${file.item.ref}?last=all`;
  console.log(printable((markdown ? caseMarkdown : casePlainText)(told, { appName: to.app, address: page })));
}

/** `ember close`: closes cases as cured in a version. */
export async function closeCases(refs: readonly string[], { version, ...to }: ServerOptions & { readonly version: string }): Promise<void> {
  const { app, token } = reach(to, 'change');
  for (const ref of refs) addressOf(app, ref);
  const { changed } = await ask<{ changed: number }>(`${app}/cases/actions`, token, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ cases: refs, action: { action: 'close', version } }),
  });
  const rest = refs.length - changed;
  console.log(
    `${wordCount(changed, 'case', 'cases')} closed in ${version}${rest > 0 ? `, ${rest} ${rest === 1 ? 'was' : 'were'} already` : ''}`,
  );
}
