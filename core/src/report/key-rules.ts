import { z } from 'zod';
import type { Report } from './report.ts';
import type { ReportKind } from './report-kinds.ts';
import { reportKinds } from './report-kinds.ts';

const buildTypes = z.array(z.string().trim().min(1).max(50)).max(20);
const percent = z.number().min(0, { error: 'must be from 0 to 100' }).max(100, { error: 'must be from 0 to 100' });

/** What an intake key takes: set by people on the Intake page, obeyed for every item. */
export const keyRulesSchema = z.object({
  kinds: z
    .array(z.enum(reportKinds))
    .default([...reportKinds])
    .describe('Kinds of report that are accepted.'),
  sessions: z.boolean().default(true).describe('Whether sessions are accepted.'),
  excludedBuildTypes: buildTypes.default(['debug']).describe('Build types that are stored, but kept out of what people see by default.'),
  refusedBuildTypes: buildTypes.default([]).describe('Build types that are refused.'),
  samplePercent: z
    .object(Object.fromEntries(reportKinds.map((kind) => [kind, percent.default(100)])) as Record<ReportKind, z.ZodDefault<typeof percent>>)
    .default({ crash: 100, hang: 100, kill: 100, error: 100 })
    .describe('Share of the reports of each kind that is kept; the same report always meets the same fate.'),
  itemsPerMinute: z.int().min(1).max(10_000_000).nullable().default(null).describe('Items a minute; null: no limit.'),
});
export type KeyRules = z.infer<typeof keyRulesSchema>;
export const defaultKeyRules: KeyRules = keyRulesSchema.parse({});

/** No report stands for more than so many. */
export const mostWeight = 10_000;

/** `weight`: how many reports one stands for, those among them that were sampled out. */
export type Verdict =
  | { readonly take: true; readonly excluded: boolean; readonly weight: number }
  | { readonly take: false; readonly outcome: 'refused'; readonly reason: string }
  | { readonly take: false; readonly outcome: 'sampled-out'; readonly reason: string; readonly excluded: boolean };

const sameType = (types: readonly string[], buildType: string): boolean =>
  types.some((one) => one.toLowerCase() === buildType.toLowerCase());

/** A number from 0 to 100 that is always the same for one id, so that sending a report again does not give it a second chance. */
export function fateOf(id: string): number {
  let hash = 0x811c9dc5;
  for (const letter of id.toLowerCase()) hash = Math.imul(hash ^ letter.charCodeAt(0), 0x01000193);
  // FNV-1a alone leaves the low bits of short ids alike; the finish of MurmurHash3 spreads them.
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return ((hash ^ (hash >>> 16)) >>> 0) / 42_949_672.96;
}

/** What becomes of a report under the rules of the key it came with. */
export function judgeReport(
  rules: KeyRules,
  report: Pick<Report, 'id' | 'kind' | 'buildType'> & { readonly samplePercent?: number | undefined },
): Verdict {
  if (!rules.kinds.includes(report.kind))
    return { take: false, outcome: 'refused', reason: `this key takes no reports of kind "${report.kind}"` };
  const byBuild = judgeBuild(rules, report.buildType);
  if (!byBuild.take) return byBuild;
  const sentPercent = report.samplePercent ?? 100;
  const share = rules.samplePercent[report.kind];
  if (share < 100 && fateOf(report.id) >= share)
    return {
      take: false,
      outcome: 'sampled-out',
      excluded: byBuild.excluded,
      reason: `this key keeps ${share} % of ${report.kind} reports, and this one is not among them`,
    };
  return { ...byBuild, weight: Math.min(mostWeight, 10_000 / (share * sentPercent)) };
}

/** What becomes of a session under the rules of the key it came with. */
export const judgeSession = (rules: KeyRules, session: { buildType: string }): Verdict =>
  rules.sessions ? judgeBuild(rules, session.buildType) : { take: false, outcome: 'refused', reason: 'this key takes no sessions' };

function judgeBuild(rules: KeyRules, buildType: string): Verdict {
  if (sameType(rules.refusedBuildTypes, buildType))
    return { take: false, outcome: 'refused', reason: `this key takes nothing from builds of type "${buildType}"` };
  return { take: true, excluded: sameType(rules.excludedBuildTypes, buildType), weight: 1 };
}
