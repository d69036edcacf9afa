import { reportKinds } from '@rough-ember/core/report/report-kinds';
import { assigneeScopes, buildScopes, caseScopes, parseScope, type Scope, scopeDays, scopeParameters } from '@rough-ember/core/scope/scope';
import { z } from 'zod';

/** A parameter that `parseScope` checks, in its own words; what is listed here is for the documentation. */
const listed = (values: readonly string[]) => z.string().optional().meta({ enum: values });

const scopeShape = {
  last: listed(['all', ...scopeDays.map((days) => `${days}d`)]),
  kind: z
    .string()
    .optional()
    .describe(`One or more of ${reportKinds.join(', ')}, joined with commas.`),
  version: z.string().max(101).optional().describe('4.2.0 for that one, 4.2.0+ for it and later.'),
  builds: listed(buildScopes),
  cases: listed(caseScopes),
  assignee: z
    .string()
    .max(254)
    .optional()
    .describe(`Who looks after the cases: ${assigneeScopes.join(', ')}, or a mail address.`),
  filter: z.string().max(4_000).optional().describe('In the grammar of AIP-160, such as: flags.night-map = on AND os.version >= 14.'),
};

/** The parameters of a scope and others beside them, read into one value. */
export const scoped = <Shape extends z.ZodRawShape>(more: Shape) =>
  z.object({ ...scopeShape, ...more }).transform((given, context): z.output<z.ZodObject<Shape>> & { scope: Scope } => {
    const texts = given as Record<string, string | undefined>;
    const scope = parseScope({ get: (name) => texts[name] ?? null });
    if (!scope.ok) {
      context.addIssue({ code: 'custom', message: scope.problem.message });
      return z.NEVER;
    }
    const others = Object.entries(given).filter(([name]) => !(scopeParameters as readonly string[]).includes(name));
    return { ...(Object.fromEntries(others) as z.output<z.ZodObject<Shape>>), scope: scope.value };
  });

/** Place in a list: 0 is its beginning. */
export const placeInList = z.coerce.number().int().min(0).max(9_999_999).default(0);
