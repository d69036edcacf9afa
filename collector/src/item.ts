/** The parts of the intake protocol that this client writes; docs/protocol.md describes all of it. */
export type AttributeValue = string | number | boolean | readonly (string | number | boolean)[];
export type Attributes = Readonly<Record<string, AttributeValue>>;
export type Kind = 'crash' | 'hang' | 'kill' | 'error';

export type TrailEvent = { readonly at: string } & (
  | { readonly kind: 'screen'; readonly name: string }
  | { readonly kind: 'tap'; readonly target: string; readonly text?: string }
  | {
      readonly kind: 'request';
      readonly method: string;
      readonly host: string;
      readonly path: string;
      readonly status: number | null;
      readonly durationMs: number;
    }
  | { readonly kind: 'log'; readonly level: 'debug' | 'info' | 'warn' | 'error'; readonly message: string }
  | { readonly kind: 'lifecycle'; readonly state: string }
  | { readonly kind: 'flag'; readonly name: string; readonly variant: string }
  | { readonly kind: 'custom'; readonly name: string; readonly attributes: Attributes }
);

export interface SentException {
  readonly type: string;
  readonly message: string | null;
  readonly relation: 'thrown' | 'cause' | 'suppressed';
  readonly parent: number | null;
  readonly stack: string | null;
  readonly frames?: readonly { readonly runtime: 'javascript'; readonly function: string | null; readonly file: string | null }[];
}

/** Anything that goes to the server: a line of a batch. */
export interface Item {
  readonly type: 'report' | 'session' | 'attachment';
  readonly id: string;
  readonly kind?: Kind | 'view-hierarchy';
  readonly [field: string]: unknown;
}

/** Looks at an item before it is kept; may change it, or drop it by giving null. */
export type BeforeSend = (item: Item) => Item | null;
