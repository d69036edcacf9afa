import type { CommonSteps } from '@rough-ember/core/cases/common-steps';
import type { Split } from '@rough-ember/core/cases/desk-settings';
import type { FieldValues } from '@rough-ember/core/report-index/field-values';
import type { StandOuts } from '@rough-ember/core/report-index/stand-out';
import type { TimeChart } from '@rough-ember/core/report-index/time-chart';
import type { Scope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { App } from '@rough-ember/store/apps';
import { readDeskSettings } from '@rough-ember/store/apps';
import { type CaseVariant, listVariants, loadCaseHeads } from '@rough-ember/store/cases';
import type { DeskServices, Services } from '../services.ts';
import { loadTimeMarks, type TimeMark } from '../stability/time-marks.ts';
import { requireCase } from './case-actions.ts';

export interface EvidenceQuery {
  readonly app: App;
  readonly ref: string;
  readonly scope: Scope;
  readonly now: Date;
}

/** Whom a case hits. */
export interface CaseWho {
  readonly standOuts: StandOuts;
  readonly breakdowns: readonly (Split & FieldValues)[];
}

/** What the people of a case have in common, and how they spread over the fields that the team looks at. */
export async function loadWho(services: DeskServices, { app, ref, scope, now }: EvidenceQuery): Promise<CaseWho> {
  const { database, reports, sessions } = services;
  const [caseId, settings] = await Promise.all([requireCase(services, app, ref), readDeskSettings(database, app.id)]);
  const [standOuts, breakdowns] = await Promise.all([
    sessions
      .ask('personsByValue', app.id, scope, spanOf(scope, now.getTime()))
      .then((everybody) => reports.ask('standOut', app.id, caseId, scope, now.getTime(), everybody)),
    Promise.all(
      settings.breakdowns.map(async (split) => ({
        ...split,
        ...(await reports.ask('fieldValues', app.id, scope, now.getTime(), { ...split, caseId, limit: 8 })),
      })),
    ),
  ]);
  return { standOuts, breakdowns };
}

/** When a case happened, and what was changed of the app meanwhile. */
export interface CaseWhen extends TimeChart {
  readonly marks: readonly TimeMark[];
}

/** The reports of a case over time, split by a field. */
export async function loadWhen(services: DeskServices, { app, ref, scope, now }: EvidenceQuery, split: Split): Promise<CaseWhen> {
  const caseId = await requireCase(services, app, ref);
  const chart = await services.reports.ask('timeChart', app.id, caseId, scope, now.getTime(), split);
  return { ...chart, marks: await loadTimeMarks(services, app, chart.from) };
}

/** Trails that are compared; more would not say more. */
const comparedTrails = 200;

/** What came before most reports of a case. */
export async function loadCommonSteps(
  services: DeskServices & Pick<Services, 'workers'>,
  { app, ref, scope, now }: EvidenceQuery,
): Promise<CommonSteps> {
  const caseId = await requireCase(services, app, ref);
  const rows = await services.reports.ask('newestReports', app.id, caseId, scope, now.getTime(), comparedTrails);
  return services.workers.run('commonSteps', rows);
}

export interface SimilarCaseView {
  readonly ref: string;
  readonly what: string;
  readonly where: string;
  readonly likeness: number;
  readonly shared: readonly string[];
}

/** What may belong together with a case, and what may not belong in it. */
export interface SimilarCases {
  readonly similar: readonly SimilarCaseView[];
  readonly variants: readonly (Omit<CaseVariant, 'lastAt'> & { readonly lastAt: string })[];
}

/** The cases most like a case, and the ways its own reports came. */
export async function loadSimilarCases(services: DeskServices, { app, ref }: Pick<EvidenceQuery, 'app' | 'ref'>): Promise<SimilarCases> {
  const caseId = await requireCase(services, app, ref);
  const [similar, variants] = await Promise.all([
    services.reports.ask('similarCases', app.id, caseId),
    listVariants(services.database, caseId),
  ]);
  const heads = await loadCaseHeads(
    services.database,
    similar.map((one) => one.caseId),
  );
  const byId = new Map(heads.map((head) => [head.id, head]));
  return {
    similar: similar.flatMap(({ caseId: id, likeness, shared }) => {
      const head = byId.get(id);
      return head ? [{ ref: `${app.prefix}-${head.number}`, what: head.what, where: head.where, likeness, shared }] : [];
    }),
    variants: variants.map(({ lastAt, ...rest }) => ({ ...rest, lastAt: lastAt.toISOString() })),
  };
}
