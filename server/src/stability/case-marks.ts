import type { Scope } from '@rough-ember/core/scope/scope';
import type { App } from '@rough-ember/store/apps';
import { listTurns } from '@rough-ember/store/case-events';
import { loadCaseHeads } from '@rough-ember/store/cases';
import type { DeskServices } from '../services.ts';
import type { TimeMark } from './time-marks.ts';

/** Marks clutter a chart; those of the cases with most people tell the most. */
const mostBegun = 4;
const mostTurns = 4;

/** When the cases of a scope with most people began, and which of them were closed or came back, since a moment; the oldest first. */
export async function loadCaseMarks(
  { database, reports }: Pick<DeskServices, 'database' | 'reports'>,
  { app, scope, since, now }: { app: App; scope: Scope; since: number; now: Date },
): Promise<TimeMark[]> {
  const turns = await listTurns(database, app.id, new Date(since));
  const { started, among } = await reports.ask('notableCases', app.id, { ...scope, kinds: ['crash'] }, now.getTime(), {
    since,
    among: turns.map((one) => one.caseId),
    most: mostBegun,
  });
  const turned = turns
    .filter((one) => among.includes(one.caseId))
    .sort((a, b) => among.indexOf(a.caseId) - among.indexOf(b.caseId))
    .slice(0, mostTurns);
  const heads = new Map(
    (await loadCaseHeads(database, [...new Set([...started, ...turned].map((one) => one.caseId))])).map((one) => [one.id, one]),
  );
  const marked = (caseId: number, at: string, how: string): TimeMark[] => {
    const head = heads.get(caseId);
    if (!head) return [];
    const ref = `${app.prefix}-${head.number}`;
    return [{ at, kind: 'case', what: `${ref} ${head.what}`, how, ref }];
  };
  return [
    ...started.flatMap(({ caseId, beganAt }) => marked(caseId, new Date(beganAt).toISOString(), 'began')),
    ...turned.flatMap(({ caseId, at, kind, version }) =>
      marked(caseId, at.toISOString(), kind === 'close' ? `closed in ${version}` : `came back in ${version}`),
    ),
  ].sort((a, b) => a.at.localeCompare(b.at));
}
