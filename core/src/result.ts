/** An expected failure is a value: what went wrong in words a person can act on, and where. */
export interface Problem<Code extends string = string> {
  readonly code: Code;
  readonly message: string;
  /** 1-based line of a text, when the problem has one. */
  readonly line?: number;
}

export type Result<Value, Code extends string = string> =
  | { readonly ok: true; readonly value: Value }
  | { readonly ok: false; readonly problem: Problem<Code> };

export const success = <Value>(value: Value): { ok: true; value: Value } => ({ ok: true, value });

export const failure = <Code extends string>(code: Code, message: string, line?: number): { ok: false; problem: Problem<Code> } => ({
  ok: false,
  problem: line === undefined ? { code, message } : { code, message, line },
});
