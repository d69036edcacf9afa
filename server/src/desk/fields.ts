import { type FieldName, fieldNames, fields, meaningOf } from '@rough-ember/core/fields/fields';
import type { FieldValues } from '@rough-ember/core/report-index/field-values';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { App } from '@rough-ember/store/apps';
import { addFilterable, listFilterable, mostFilterable, removeFilterable } from '@rough-ember/store/filterable-attributes';
import { countJobs } from '@rough-ember/store/jobs';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { DeskServices, Services } from '../services.ts';

/** Everything that can be filtered by. */
export interface FieldOverview {
  /** Fields in the order they are offered; flags and attributes once for each name. */
  readonly fields: readonly { readonly field: FieldName; readonly key: string; readonly says: string; readonly values: number }[];
  /** Attributes that are filterable, with what each costs: its different values. */
  readonly attributes: readonly { readonly name: string; readonly values: number }[];
  readonly mostAttributes: number;
  /** Runs of 500 reports that are still to be looked at, since attributes became filterable. */
  readonly runsLeft: number;
}

/** The fields of an app's reports, flags and filterable attributes among them. */
export async function loadFields({ database, reports }: DeskServices, app: App): Promise<FieldOverview> {
  const [used, filterable, jobs] = await Promise.all([
    reports.ask('fieldsInUse', app.id),
    listFilterable(database, app.id),
    countJobs(database, app.id),
  ]);
  const valuesOf = (field: FieldName, key: string) => used.find((one) => one.field === field && one.key === key)?.values ?? 0;
  const plain = fieldNames
    .filter((field) => !meaningOf(field).isMap)
    .map((field) => ({ field, key: '', says: fields[field].says, values: valuesOf(field, '') }))
    .filter(({ field, values }) => values > 0 || field === 'kind');
  const flags = used.filter((one) => one.field === 'flags').map((one) => ({ ...one, says: fields.flags.says }));
  const attributes = filterable.map((name) => ({ name, values: valuesOf('attributes', name) }));
  return {
    fields: [
      ...plain,
      ...flags.sort((a, b) => (a.key < b.key ? -1 : 1)),
      ...attributes.map(({ name, values }) => ({ field: 'attributes' as const, key: name, says: fields.attributes.says, values })),
    ],
    attributes,
    mostAttributes: mostFilterable,
    runsLeft: jobs['index-terms'],
  };
}

export const valuesSchema = z.object({
  field: z.enum(fieldNames as [FieldName, ...FieldName[]]),
  key: z.string().max(200).default(''),
  part: z.string().max(200).default(''),
});

/** The values that the reports of a scope have in a field, the commonest first. */
export async function loadValues(
  { reports }: Pick<DeskServices, 'reports'>,
  { app, scope, now }: { app: App; scope: Scope; now: Date },
  question: z.infer<typeof valuesSchema>,
): Promise<FieldValues> {
  return reports.ask('fieldValues', app.id, scope, now.getTime(), { ...question, limit: 30 });
}

export const attributeNameSchema = z.object({ name: z.string().trim().min(1).max(200) });

/** Makes an attribute filterable; the reports that are there are looked at again in the background. */
export async function makeFilterable(
  { database, jobs, changes }: Pick<Services, 'database' | 'jobs' | 'changes'>,
  app: App,
  { name, by }: { name: string; by: string },
): Promise<void> {
  const outcome = await addFilterable(database, { appId: app.id, name, askedBy: by });
  if (outcome === 'too-many')
    throw new ApiError('bad-request', `${app.name} has ${mostFilterable} filterable attributes, the most there can be. Give one up first.`);
  jobs.wake();
  changes.note(app.id);
}

export async function makeUnfilterable(
  { database, jobs, changes }: Pick<Services, 'database' | 'jobs' | 'changes'>,
  app: App,
  name: string,
): Promise<void> {
  if (!(await removeFilterable(database, app.id, name)))
    throw new ApiError('not-found', `"${name.slice(0, 60)}" is no filterable attribute of ${app.name}.`);
  jobs.wake();
  changes.note(app.id);
}
