import { answerText } from '@rough-ember/core/ask/answer-text';
import { countNames, crashFreeNames } from '@rough-ember/core/ask/measures';
import { longestQuestion, parseQuestion, splitFields, stepNames } from '@rough-ember/core/ask/question';
import { caseOrders } from '@rough-ember/core/cases/case-order';
import { muteSchema } from '@rough-ember/core/cases/case-status';
import { wordCount } from '@rough-ember/core/words/count';
import { z } from 'zod';
import type { Ask } from '../api/registry.ts';
import { ApiError } from '../errors.ts';
import { tellCase, tellSession, wordListedCase } from './tell-case.ts';

/** What a tool works with: the operations of whoever asks, with their rights, and the app that they mean. */
export interface ToolContext {
  readonly ask: Ask;
  readonly app: string;
  readonly publicUrl: string;
}

/** Something that an assistant may ask for. */
export interface Tool<Input extends z.ZodRawShape = z.ZodRawShape> {
  readonly name: string;
  /** What it does, for the assistant to choose by. */
  readonly does: string;
  readonly input: Input;
  /** It changes nothing. */
  readonly onlyReads: boolean;
  run(context: ToolContext, given: z.output<z.ZodObject<Input>>): Promise<string>;
}

const tool = <Input extends z.ZodRawShape>(declared: Tool<Input>): Tool => declared as unknown as Tool;

const ref = z.string().max(30).describe('The reference of a case, such as LG-142.');
const scope = {
  days: z.enum(['1d', '7d', '14d', '30d', '90d', 'all']).optional().describe('How far back; 30d where nothing is said.'),
  version: z.string().max(101).optional().describe('One version; with a + behind it, that one and all later.'),
  kinds: z
    .array(z.enum(['crash', 'hang', 'kill', 'error']))
    .min(1)
    .optional()
    .describe('Kinds of reports; without handled errors where nothing is said.'),
  filter: z
    .string()
    .max(4_000)
    .optional()
    .describe(
      'Conditions in the grammar of AIP-160, such as: device.model = "Tarn Go 3" AND NOT flags.night-map = on, or message:"no tile"',
    ),
};

/** The scope as address parameters. */
function scopeAddress(
  { days, version, kinds, filter }: z.output<z.ZodObject<typeof scope>>,
  more: Record<string, string | undefined> = {},
): string {
  const given = { last: days, version, kind: kinds?.join(','), filter, ...more };
  return String(new URLSearchParams(Object.entries(given).filter((one): one is [string, string] => one[1] !== undefined)));
}

/** JSON that an assistant reads with ease. */
const told = (answer: unknown): string => JSON.stringify(answer, null, 1);

const shownCases = 50;

const act = ({ ask, app }: ToolContext, given: string, action: object): Promise<string> =>
  ask('POST /apps/{app}/cases/actions', { app }, { body: { cases: [given], action: action as { action: 'open' } } }).then(({ changed }) =>
    changed === 0 ? `${given} was so already.` : `Done; it can be taken back on the page of ${given}.`,
  );

/** What an assistant may do with an app: each asks for operations of the API, with the rights of whoever gave it the token. */
export const tools: readonly Tool[] = [
  tool({
    name: 'list_cases',
    does: 'Lists cases (groups of crashes, hangs, kills or handled errors with the same cause) with their figures.',
    input: {
      ...scope,
      state: z.enum(['open', 'closed', 'muted', 'all']).optional().describe('Open ones where nothing is said.'),
      assignee: z.string().max(254).optional().describe('"nobody", or the mail address of who looks after them.'),
      order: z.enum(caseOrders).optional(),
    },
    onlyReads: true,
    run: async ({ ask, app }, { state, assignee, order, ...given }) => {
      const list = await ask('GET /apps/{app}/cases', { app }, { parameters: scopeAddress(given, { cases: state, assignee, order }) });
      const shown = list.cases.slice(0, shownCases).map(wordListedCase);
      return [
        `${wordCount(list.total, 'case', 'cases')}, ${wordCount(list.totals.reports, 'report', 'reports')}${list.total > shown.length ? `; the first ${shown.length}` : ''}:`,
        ...shown,
      ].join('\n');
    },
  }),
  tool({
    name: 'read_case',
    does: 'Tells everything about one case: readable stack, source lines, what its people have in common, steps before it, the likely change, notes.',
    input: { ref, report: z.int().min(0).max(1_000_000).optional().describe('Which of its reports; 0 is the newest.') },
    onlyReads: true,
    run: ({ ask, app, publicUrl }, given) =>
      tellCase(ask, { app, ref: given.ref }, given.report ?? 0, `${publicUrl}/apps/${app}/cases/${given.ref}?last=all`),
  }),
  tool({
    name: 'list_sessions',
    does: 'Lists the newest sessions of a scope, such as those that crashed.',
    input: { ...scope, end: z.enum(['any', 'crashed']).optional() },
    onlyReads: true,
    run: async ({ ask, app }, { end, ...given }) => {
      const { sessions } = await ask('GET /apps/{app}/sessions', { app }, { parameters: scopeAddress(given, { end }) });
      return sessions.map(({ installationId: _, clockErrorMs: __, ...one }) => told(one).replace(/\n */g, ' ')).join('\n');
    },
  }),
  tool({
    name: 'read_session',
    does: 'Tells what happened in one session, in order.',
    input: { id: z.uuid() },
    onlyReads: true,
    run: async ({ ask, app }, { id }) => tellSession(await ask('GET /apps/{app}/sessions/{id}', { app, id })),
  }),
  tool({
    name: 'compare_versions',
    does: 'Tells of each version how far it is out, how many sessions and people are free of crashes, and whether it is better or worse than the last one that was out to everybody.',
    input: {},
    onlyReads: true,
    run: async ({ ask, app }) => {
      const { versions } = await ask('GET /apps/{app}/versions', { app });
      return told(versions.slice(-12).map(({ adoption: _, steps: __, ...one }) => one));
    },
  }),
  tool({
    name: 'check_rollout',
    does: 'Tells whether a version may go to more people, with every condition and its figures.',
    input: { version: z.string().min(1).max(100) },
    onlyReads: true,
    run: async ({ ask, app }, { version }) => told(await ask('GET /apps/{app}/versions/{version}/check', { app, version })),
  }),
  tool({
    name: 'ask',
    does: 'Answers a question about a scope: how many of something, or a rate or a statistic, by up to three fields and over steps of time.',
    input: {
      ...scope,
      question: z
        .string()
        .max(longestQuestion)
        .describe(
          `<measure> [by <field>, <field>, <field>] [per ${stepNames.join('|')}], such as: affected people by carrier, version per week. Measures: ${[...countNames, ...crashFreeNames].join(', ')}; <count> per 1000 <count>; sum, mean, median, p90, p95 or p99 of attributes.<name>; median, p90, p95 or p99 of request time. Fields: ${splitFields.join(', ')}, where flags and attributes are flags.<name> and attributes.<name>.`,
        ),
    },
    onlyReads: true,
    run: async ({ ask, app }, { question, ...given }) => {
      const parsed = parseQuestion(question);
      if (!parsed.ok) throw new ApiError('bad-request', parsed.problem.message);
      const answer = await ask('GET /apps/{app}/ask', { app }, { parameters: scopeAddress(given, { question }) });
      return answerText(answer, parsed.value);
    },
  }),
  tool({
    name: 'write_note',
    does: 'Keeps a note on a case, in Markdown; @name tells a colleague.',
    input: { ref, text: z.string().min(1).max(20_000) },
    onlyReads: false,
    run: async ({ ask, app }, given) => {
      await ask('POST /apps/{app}/cases/{ref}/notes', { app, ref: given.ref }, { body: { text: given.text } });
      return `The note stands on ${given.ref}.`;
    },
  }),
  tool({
    name: 'assign_case',
    does: 'Asks somebody to look after a case, or nobody any more.',
    input: { ref, assignee: z.email().max(254).nullable().describe('Mail address; null for nobody.') },
    onlyReads: false,
    run: (context, given) => act(context, given.ref, { action: 'assign', assignee: given.assignee }),
  }),
  tool({
    name: 'close_case',
    does: 'Closes a case as cured in a version; a report of that version or a later one opens it again.',
    input: { ref, version: z.string().min(1).max(100) },
    onlyReads: false,
    run: (context, given) => act(context, given.ref, { action: 'close', version: given.version }),
  }),
  tool({
    name: 'open_case',
    does: 'Opens a case that is closed or muted.',
    input: { ref },
    onlyReads: false,
    run: (context, given) => act(context, given.ref, { action: 'open' }),
  }),
  tool({
    name: 'mute_case',
    does: 'Mutes a case: for good, until a date, a version, or so many more reports or people.',
    input: { ref, mute: muteSchema },
    onlyReads: false,
    run: (context, given) => act(context, given.ref, { action: 'mute', mute: given.mute }),
  }),
  tool({
    name: 'make_ticket',
    does: 'Has a ticket made of a case in the tracker of the app.',
    input: { ref },
    onlyReads: false,
    run: async ({ ask, app }, given) => {
      await ask('POST /apps/{app}/cases/{ref}/tickets', { app, ref: given.ref }, { body: {} });
      return `A ticket of ${given.ref} is being made; it stands on the case in a moment.`;
    },
  }),
];
