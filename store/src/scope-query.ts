import type { Scope } from '@rough-ember/core/scope/scope';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import type { Knex } from 'knex';

/** Limits a query over `reports` to a scope; `now` is the end of its window. */
export function withinScope<Query extends Knex.QueryBuilder>(query: Query, appId: number, scope: Scope, now: Date): Query {
  query.where('reports.app_id', appId).whereIn('reports.kind', scope.kinds);
  if (scope.builds !== 'any') query.where('reports.apart', scope.builds === 'apart');
  if (scope.days !== null) query.where('reports.occurred_at', '>=', new Date(now.getTime() - scope.days * 86_400_000));
  const { versions } = scope;
  if (versions.match === 'only') query.where('reports.version', versions.version);
  if (versions.match === 'from') query.where('reports.version_key', '>=', versionSortKey(versions.version));
  return query;
}
