import type { SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { symbolFileHasCome } from './symbol-files.ts';

interface MissedNeed {
  readonly appId: number;
  readonly version: string;
  readonly build: string;
  readonly kind: SymbolNeed['kind'];
  readonly symbolId: string;
  readonly name: string;
}

const lookedBackHours = 3;
const mostNeeds = 2_000;

/**
 * Sends reports round again that were saved without a symbol file which became ready at that very moment. Where both happen on one node,
 * each waits for the other (`symbolFileHasCome`); on two nodes of a cluster neither sees what the other one locks. Looks at reports of the
 * last hours; gives how many go round.
 */
export async function queueOvertakenNeeds(database: Database): Promise<number> {
  const recent = () =>
    database('report_needs')
      .join('reports', 'reports.id', 'report_row')
      .where({ 'reports.state': 'processed', found: false })
      .whereRaw('reports.received_at > UTC_TIMESTAMP() - INTERVAL ? HOUR', [lookedBackHours]);
  const needs: MissedNeed[] = await recent().limit(mostNeeds).distinct({
    appId: 'report_needs.app_id',
    version: 'report_needs.version',
    build: 'report_needs.build',
    kind: 'report_needs.kind',
    symbolId: 'symbol_id',
    name: 'name',
  });
  let queued = 0;
  for (const { appId, version, build, kind, symbolId, name } of needs) {
    const need = { kind, symbolId: symbolId === '' ? null : symbolId, name: name === '' ? null : name };
    const hasCome = await inTransaction(database, (transaction) => symbolFileHasCome(transaction, need, { appId, version, build }));
    if (!hasCome) continue;
    const rows: number[] = await recent()
      .where({ 'report_needs.app_id': appId, 'report_needs.version': version, 'report_needs.build': build })
      .where({ 'report_needs.kind': kind, symbol_id: symbolId, name })
      .whereNotExists(database('jobs').where({ kind: 'process-report' }).whereRaw('jobs.subject_id = reports.id'))
      .limit(10_000)
      .pluck('report_row');
    await queueJobs(database, { kind: 'process-report', appId, priority: 'again' }, rows);
    queued += rows.length;
  }
  return queued;
}
