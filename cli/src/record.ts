import { flagChangeSchema, type RolloutAction, rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import { ask, reach, type ServerOptions } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';

interface Options extends ServerOptions {
  readonly version?: string;
  readonly flag?: string;
  readonly variant?: string;
  readonly percent?: number;
  readonly halt?: boolean;
  readonly resume?: boolean;
  readonly at?: string;
  readonly commit?: string;
  readonly note?: string;
}

/** `ember record-rollout` */
export async function recordRollout({ version, percent, halt, resume, at, commit, note, ...to }: Options): Promise<void> {
  const action: RolloutAction = halt ? 'halt' : resume ? 'resume' : 'step';
  await record(to, 'rollouts', rolloutSchema, { version, action, percent, at, commit, note });
  console.log(`${version}: recorded`);
}

/** `ember record-flag` */
export async function recordFlag({ flag, variant, percent, at, note, ...to }: Options): Promise<void> {
  await record(to, 'flag-changes', flagChangeSchema, { flag, variant, percent, at, note });
  console.log(`${flag}: recorded`);
}

async function record(
  to: ServerOptions,
  what: string,
  schema: typeof rolloutSchema | typeof flagChangeSchema,
  values: Readonly<Record<string, unknown>>,
): Promise<void> {
  const parsed = schema.safeParse(values);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new CommandProblem(`--${issue?.path.join('.')}: ${issue?.message}`);
  }
  const { app, token } = reach(to, 'change');
  const headers = { 'content-type': 'application/json' };
  await ask(`${app}/${what}`, token, { method: 'POST', headers, body: JSON.stringify(parsed.data) });
}
