import { type CaseStatus, caseStates, muteSchema } from '@rough-ember/core/cases/case-status';
import type { GroupingExplanation } from '@rough-ember/core/grouping/group-report';
import type { Report } from '@rough-ember/core/report/report';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import type { TrailEvent } from '@rough-ember/core/report/trail';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { z } from 'zod';
import { intakeOutcomes, type LoggedLine } from './intake-outcomes.ts';
import type { StoredForm } from './stored-json.ts';

/**
 * What large values must have for everything else to find its way in them; the rest is as the program wrote it, and looking at
 * each of thousands of frames again would cost as much as reading them.
 */
const shape = <Value>(schema: z.ZodType): z.ZodType<Value> => schema as z.ZodType<Value>;
const anything = z.looseObject({});

export const reportForm: StoredForm<Report> = {
  column: 'report_bodies.body',
  upgrades: [],
  schema: shape(z.looseObject({ kind: z.enum(reportKinds), version: z.string(), exceptions: z.array(anything) })),
};

export const readableForm: StoredForm<ReadableReport> = {
  column: 'report_bodies.readable',
  upgrades: [],
  schema: shape(z.looseObject({ exceptions: z.array(anything), threads: z.array(anything), needs: z.array(anything) })),
};

export const explanationForm: StoredForm<GroupingExplanation> = {
  column: 'report_bodies.explanation',
  upgrades: [],
  schema: shape(z.looseObject({ exception: z.int().nullable(), basis: z.string(), kept: z.array(anything), skipped: z.array(anything) })),
};

const trailEvent = z.looseObject({ kind: z.string(), at: z.string() });

/** Events that were told together, or one that was told alone. */
export const trailEventsForm: StoredForm<TrailEvent | readonly TrailEvent[]> = {
  column: 'session_trails.event',
  upgrades: [],
  schema: shape(z.union([trailEvent, z.array(trailEvent)])),
};

const size = z.object({ reports: z.number(), people: z.number() });

export const caseStatusForm: StoredForm<CaseStatus> = {
  column: 'case_events.before_status',
  upgrades: [],
  schema: z.object({
    state: z.enum(caseStates),
    closedIn: z.string().nullable(),
    mute: z.intersection(muteSchema, z.object({ from: size })).nullable(),
    assignee: z.string().nullable(),
  }),
};

export const mergedPartsForm = {
  column: 'case_events.detail',
  upgrades: [],
  schema: z.object({ parts: z.array(z.object({ caseId: z.int(), number: z.int(), keys: z.array(z.string()) })) }),
} satisfies StoredForm<unknown>;

export const splitVariantsForm = {
  column: 'case_events.detail',
  upgrades: [],
  schema: z.object({ variants: z.array(z.string()) }),
} satisfies StoredForm<unknown>;

export const versionOfEventForm = {
  column: 'case_events.detail',
  upgrades: [],
  // A list of what happened is not lost for one event without a version.
  schema: z.looseObject({ version: z.string().catch('') }),
} satisfies StoredForm<unknown>;

export const loggedLinesForm: StoredForm<LoggedLine[]> = {
  column: 'intake_log.details',
  upgrades: [],
  schema: z.array(
    z.object({
      line: z.int(),
      outcome: z.enum(intakeOutcomes),
      what: z.string(),
      reason: z.string().nullable(),
      id: z.string().optional(),
      remarks: z.array(z.string()).optional(),
    }),
  ) as z.ZodType<LoggedLine[]>,
};
