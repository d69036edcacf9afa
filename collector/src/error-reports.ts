import type { Circumstances } from './circumstances.ts';
import { describeError } from './describe-error.ts';
import type { Attributes, Item, Kind, SentException } from './item.ts';
import type { CollectorOptions } from './options.ts';
import type { Session } from './session.ts';
import type { Trail } from './trail.ts';
import { uuid } from './uuid.ts';
import { base64Of, viewTree } from './view-tree.ts';

/** The stack of the components of a user interface stands behind that of the error, as hosts print it. */
function withComponents(exceptions: SentException[], componentStack: string | undefined): SentException[] {
  const [first, ...others] = exceptions;
  if (!componentStack || !first) return exceptions;
  const stack = `${first.stack ?? `${first.type}: ${first.message}`}\n\nThis error is located at:\n${componentStack.slice(0, 20_000)}`;
  return [{ ...first, stack }, ...others];
}

/** Makes reports of what was thrown, and tells the session of them. */
export class ErrorReports {
  private readonly reported = new WeakSet<object>();
  private isAsking = false;

  constructor(
    private readonly options: CollectorOptions,
    private readonly parts: {
      readonly circumstances: Circumstances;
      /** Null when no sessions are counted. */
      readonly session: Session | null;
      readonly trail: Trail;
      readonly keep: (item: Item) => void;
    },
  ) {}

  /** Keeps a report of a thrown value, once for each, and as often as its kind is sampled. */
  add(thrown: unknown, kind: Kind, more: Attributes, componentStack?: string): void {
    // One error may come by several ways: wrapped, then uncaught.
    if (typeof thrown === 'object' && thrown !== null) {
      if (this.reported.has(thrown)) return;
      this.reported.add(thrown);
    }
    this.addExceptions(kind, () => withComponents(describeError(thrown), componentStack), more);
  }

  /** Keeps a report of a kind as often as that is sampled; the exceptions are made when they are wanted. */
  addExceptions(kind: Kind, exceptions: () => SentException[], more: Attributes = {}): void {
    const share = this.options.sample?.[kind] ?? 1;
    if (Math.random() < share) this.keepReport(kind, exceptions(), { more, share });
    const { session, keep } = this.parts;
    if (!session) return;
    // Whether its report was kept or not, it happened: crash-free is not to depend on the sample.
    if (kind === 'error') session.countError();
    keep(session.item(kind === 'crash' ? 'crashed' : 'open'));
  }

  /** `share`: of its kind that is kept. */
  private keepReport(
    kind: Kind,
    exceptions: SentException[],
    { more, share }: { readonly more: Attributes; readonly share: number },
  ): void {
    const { circumstances, session, trail, keep } = this.parts;
    const state = this.stateNow();
    const { attributes, ...where } = circumstances.now();
    const id = uuid();
    keep({
      type: 'report',
      id,
      kind,
      occurredAt: new Date().toISOString(),
      sessionId: session?.id ?? this.options.session?.id ?? null,
      ...where,
      exceptions,
      trail: trail.list,
      attributes: { ...attributes, ...state, ...more },
      // It stands for those that were left out.
      ...(share < 1 && { samplePercent: 100 * share }),
    });
    const views = this.options.viewTree === true ? viewTree() : null;
    if (views === null) return;
    const file = { kind: 'view-hierarchy', name: 'page.txt', mediaType: 'text/plain', data: base64Of(views) } as const;
    keep({ type: 'attachment', id: uuid(), reportId: id, ...file });
  }

  private stateNow(): Attributes {
    // What is reported while the app tells its state would ask for the state again, without end.
    if (this.isAsking) return {};
    this.isAsking = true;
    try {
      return this.options.stateAtCrash?.() ?? {};
    } catch (error) {
      return { stateAtCrash: `failed: ${String(error)}` };
    } finally {
      this.isAsking = false;
    }
  }
}
