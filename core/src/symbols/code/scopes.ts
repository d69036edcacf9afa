import { GrowableColumn } from '../../bytes/growable-column.ts';
import { none } from './index-layout.ts';

/**
 * Functions and the calls inlined into them, as a forest of scopes, and which stretch of code belongs to which scope.
 * A function is given whole: its scopes, then `endFunction`.
 */
export class Scopes {
  readonly name = new GrowableColumn();
  readonly parent = new GrowableColumn();
  readonly callFile = new GrowableColumn();
  readonly callLine = new GrowableColumn();
  readonly callColumn = new GrowableColumn();
  /** Lowest address of the scope. */
  readonly start = new GrowableColumn();
  functions = 0;

  private readonly pieceStart = new GrowableColumn();
  private readonly pieceEnd = new GrowableColumn();
  private readonly pieceScope = new GrowableColumn();
  /** Runs of pieces that lie one behind the other: run i begins at piece `firstPiece[i]`. */
  private readonly firstPiece = new GrowableColumn();
  /** Stretches `[start, end)` of the function being given, in parallel. */
  private readonly openStart: number[] = [];
  private readonly openEnd: number[] = [];
  private readonly openDepth: number[] = [];
  private readonly openScope: number[] = [];

  /** A function, or with a parent a call inlined into it. */
  add(name: number, parent: number, callFile: number, callLine: number, callColumn: number): number {
    this.name.push(name);
    this.parent.push(parent);
    this.callFile.push(callFile);
    this.callLine.push(callLine);
    this.callColumn.push(callColumn);
    this.start.push(none);
    return this.name.length - 1;
  }

  /** Says that code of the function being given belongs to a scope; deeper scopes win. */
  cover(scope: number, depth: number, start: number, end: number): void {
    if (start < this.start.at(scope)) this.start.set(scope, start);
    this.openStart.push(start);
    this.openEnd.push(end);
    this.openDepth.push(depth);
    this.openScope.push(scope);
  }

  /** Cuts the stretches of the function into pieces that do not overlap. */
  endFunction(): void {
    const count = this.openStart.length;
    if (count === 0) return;
    this.functions++;
    if (count === 1) {
      this.firstPiece.push(this.pieceStart.length);
      this.piece(this.openStart[0] as number, this.openEnd[0] as number, this.openScope[0] as number);
    } else this.cut(this.ordered());
    for (const list of [this.openStart, this.openEnd, this.openDepth, this.openScope]) list.length = 0;
  }

  /** The stretches by start, and those that begin together by depth; compilers mostly write them so. */
  private ordered(): number[] {
    const { openStart, openDepth } = this;
    const order = openStart.map((_, index) => index);
    const compare = (a: number, b: number) =>
      (openStart[a] as number) - (openStart[b] as number) || (openDepth[a] as number) - (openDepth[b] as number);
    for (let index = 1; index < order.length; index++) if (compare(index - 1, index) > 0) return order.sort(compare);
    return order;
  }

  private cut(order: readonly number[]): void {
    const activeEnd: number[] = [];
    const activeScope: number[] = [];
    let at = 0;
    for (let step = 0; step <= order.length; step++) {
      const isLast = step === order.length;
      const index = isLast ? 0 : (order[step] as number);
      const start = isLast ? Number.POSITIVE_INFINITY : (this.openStart[index] as number);
      let top = activeEnd.length - 1;
      for (; top >= 0 && (activeEnd[top] as number) <= start; top--) {
        const end = activeEnd.pop() as number;
        const scope = activeScope.pop() as number;
        if (end <= at) continue;
        this.piece(at, end, scope);
        at = end;
      }
      if (isLast) return;
      if (top < 0) this.firstPiece.push(this.pieceStart.length);
      else if (start > at) this.piece(at, start, activeScope[top] as number);
      at = start;
      // An inlined call ends with the code around it at the latest.
      activeEnd.push(top < 0 ? (this.openEnd[index] as number) : Math.min(this.openEnd[index] as number, activeEnd[top] as number));
      activeScope.push(this.openScope[index] as number);
    }
  }

  private piece(start: number, end: number, scope: number): void {
    const last = this.pieceStart.length - 1;
    if (last >= this.firstPiece.at(this.firstPiece.length - 1) && this.pieceScope.at(last) === scope && this.pieceEnd.at(last) === start) {
      this.pieceEnd.set(last, end);
      return;
    }
    this.pieceStart.push(start);
    this.pieceEnd.push(end);
    this.pieceScope.push(scope);
  }

  /** The pieces ascending by address, each up to the next; a piece of no scope is code that no function claims. */
  sorted(): { start: Uint32Array; scope: Uint32Array } {
    const runs = Array.from({ length: this.firstPiece.length }, (_, index) => index);
    const startOf = (run: number) => this.pieceStart.at(this.firstPiece.at(run));
    runs.sort((a, b) => startOf(a) - startOf(b) || a - b);
    const room = this.pieceStart.length + runs.length;
    const start = new Uint32Array(room);
    const scope = new Uint32Array(room);
    let at = 0;
    let covered = 0;
    for (const run of runs) {
      const first = this.firstPiece.at(run);
      const afterLast = run + 1 < this.firstPiece.length ? this.firstPiece.at(run + 1) : this.pieceStart.length;
      if (at > 0 && startOf(run) > covered) {
        start[at] = covered;
        scope[at++] = none;
      }
      for (let piece = first; piece < afterLast; piece++) {
        const end = this.pieceEnd.at(piece);
        if (end <= covered) continue;
        start[at] = Math.max(this.pieceStart.at(piece), covered);
        scope[at++] = this.pieceScope.at(piece);
        covered = end;
      }
    }
    if (at > 0) {
      start[at] = covered;
      scope[at++] = none;
    }
    return { start: start.subarray(0, at), scope: scope.subarray(0, at) };
  }
}
