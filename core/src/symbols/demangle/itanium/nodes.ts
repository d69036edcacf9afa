import { Output } from './output.ts';

/** How tightly the operators of an expression bind, tightest first. ISO C++ [expr]. */
export const precedence = {
  primary: 0,
  postfix: 1,
  unary: 2,
  cast: 3,
  memberPointer: 4,
  multiplicative: 5,
  additive: 6,
  shift: 7,
  spaceship: 8,
  relational: 9,
  equality: 10,
  and: 11,
  xor: 12,
  or: 13,
  logicalAnd: 14,
  logicalOr: 15,
  conditional: 16,
  assign: 17,
  comma: 18,
  loosest: 19,
} as const;

/**
 * A part of a demangled name. C++ declarators wrap around what they declare, so a type prints in two halves: `left`
 * stands before the declared thing, `right` behind it.
 */
export abstract class Node {
  readonly precedence: number = precedence.primary;
  abstract left(out: Output): void;
  right(_out: Output): void {}
  hasRight(_out: Output): boolean {
    return false;
  }
  isArray(_out: Output): boolean {
    return false;
  }
  isFunction(_out: Output): boolean {
    return false;
  }
  /** What stands here once packs and references forward are followed. */
  actual(_out: Output): Node {
    return this;
  }
  /** The last part of the name, which constructors and destructors repeat. */
  baseName(): string {
    return '';
  }
  print(out: Output): void {
    this.left(out);
    this.right(out);
  }
  printOperand(out: Output, limit: number = precedence.loosest, strictly = false): void {
    const needsParentheses = this.precedence >= limit + (strictly ? 1 : 0);
    if (needsParentheses) out.open();
    this.print(out);
    if (needsParentheses) out.close();
  }
}

export class Name extends Node {
  constructor(readonly text: string) {
    super();
  }
  left(out: Output): void {
    out.add(this.text);
  }
  override baseName(): string {
    return this.text;
  }
}

/** Prints by a function: for the many parts that need nothing else. */
export class Printed extends Node {
  constructor(
    private readonly printLeft: (out: Output) => void,
    private readonly base: () => string = () => '',
    override readonly precedence: number = 0,
  ) {
    super();
  }
  left(out: Output): void {
    this.printLeft(out);
  }
  override baseName(): string {
    return this.base();
  }
}

export class Nested extends Node {
  constructor(
    readonly scope: Node,
    readonly name: Node,
  ) {
    super();
  }
  left(out: Output): void {
    this.scope.print(out);
    out.add('::');
    this.name.print(out);
  }
  override baseName(): string {
    return this.name.baseName();
  }
}

/** A standard name with an abbreviation: `short` as people write it, `full` where a constructor follows. */
export class StandardName extends Node {
  constructor(
    readonly short: string,
    readonly full: string,
  ) {
    super();
  }
  left(out: Output): void {
    out.add(this.short);
  }
  override baseName(): string {
    return this.short.slice('std::'.length);
  }
  expanded(): Node {
    const base = this.full.replace(/<.*/, '').slice('std::'.length);
    return new Printed(
      (out) => out.add(this.full),
      () => base,
    );
  }
}

export class TemplateArguments extends Node {
  constructor(readonly values: readonly Node[]) {
    super();
  }
  left(out: Output): void {
    out.insideTemplateArguments(() => {
      out.add('<');
      out.list(this.values);
      out.add('>');
    });
  }
}

export class WithTemplateArguments extends Node {
  constructor(
    readonly name: Node,
    readonly templateArguments: Node,
  ) {
    super();
  }
  left(out: Output): void {
    this.name.print(out);
    this.templateArguments.print(out);
  }
  override baseName(): string {
    return this.name.baseName();
  }
}

export class Qualified extends Node {
  constructor(
    readonly child: Node,
    readonly qualifiers: string,
  ) {
    super();
  }
  left(out: Output): void {
    this.child.left(out);
    out.add(this.qualifiers);
  }
  override right(out: Output): void {
    this.child.right(out);
  }
  override hasRight(out: Output): boolean {
    return this.child.hasRight(out);
  }
  override isArray(out: Output): boolean {
    return this.child.isArray(out);
  }
  override isFunction(out: Output): boolean {
    return this.child.isFunction(out);
  }
}

export class Pointer extends Node {
  constructor(readonly pointee: Node) {
    super();
  }
  left(out: Output): void {
    const pointee = this.pointee.actual(out);
    if (pointee instanceof ObjectiveCProtocol && pointee.isObject) {
      out.add(`id<${pointee.protocol}>`);
      return;
    }
    openDeclarator(this.pointee, out);
    out.add('*');
  }
  override right(out: Output): void {
    const pointee = this.pointee.actual(out);
    if (!(pointee instanceof ObjectiveCProtocol && pointee.isObject)) closeDeclarator(this.pointee, out);
  }
  override hasRight(out: Output): boolean {
    return this.pointee.hasRight(out);
  }
}

function openDeclarator(inner: Node, out: Output): void {
  inner.left(out);
  const isArray = inner.isArray(out);
  if (isArray) out.add(' ');
  if (isArray || inner.isFunction(out)) out.add('(');
}

function closeDeclarator(inner: Node, out: Output): void {
  if (inner.isArray(out) || inner.isFunction(out)) out.add(')');
  inner.right(out);
}

/** A reference; one to a reference collapses, as templates make them. ISO C++ [dcl.ref]. */
export class Reference extends Node {
  private isPrinting = false;

  constructor(
    readonly referred: Node,
    readonly isRvalue: boolean,
  ) {
    super();
  }
  private collapsed(out: Output): { isRvalue: boolean; referred: Node } {
    let { isRvalue, referred } = this as { isRvalue: boolean; referred: Node };
    for (let hop = 0; hop < 64; hop++) {
      const actual = referred.actual(out);
      if (!(actual instanceof Reference)) break;
      referred = actual.referred;
      isRvalue = isRvalue && actual.isRvalue;
    }
    return { isRvalue, referred };
  }
  private guarded(print: () => void): void {
    // A reference forward can lead back here.
    if (this.isPrinting) return;
    this.isPrinting = true;
    try {
      print();
    } finally {
      this.isPrinting = false;
    }
  }
  left(out: Output): void {
    this.guarded(() => {
      const { isRvalue, referred } = this.collapsed(out);
      openDeclarator(referred, out);
      out.add(isRvalue ? '&&' : '&');
    });
  }
  override right(out: Output): void {
    this.guarded(() => closeDeclarator(this.collapsed(out).referred, out));
  }
  override hasRight(out: Output): boolean {
    return this.referred.hasRight(out);
  }
}

export class MemberPointer extends Node {
  constructor(
    readonly owner: Node,
    readonly member: Node,
  ) {
    super();
  }
  left(out: Output): void {
    this.member.left(out);
    out.add(this.member.isArray(out) || this.member.isFunction(out) ? '(' : ' ');
    this.owner.print(out);
    out.add('::*');
  }
  override right(out: Output): void {
    closeDeclarator(this.member, out);
  }
  override hasRight(out: Output): boolean {
    return this.member.hasRight(out);
  }
}

export class ArrayType extends Node {
  constructor(
    readonly element: Node,
    readonly dimension: Node | null,
  ) {
    super();
  }
  left(out: Output): void {
    this.element.left(out);
  }
  override right(out: Output): void {
    if (out.last !== ']') out.add(' ');
    out.open('[');
    this.dimension?.print(out);
    out.close(']');
    this.element.right(out);
  }
  override hasRight(): boolean {
    return true;
  }
  override isArray(): boolean {
    return true;
  }
}

export class FunctionType extends Node {
  constructor(
    readonly result: Node,
    readonly parameters: readonly Node[],
    readonly qualifiers: string,
    readonly reference: string,
    readonly exceptions: Node | null,
  ) {
    super();
  }
  left(out: Output): void {
    this.result.left(out);
    out.add(' ');
  }
  override right(out: Output): void {
    out.open();
    out.list(this.parameters);
    out.close();
    this.result.right(out);
    out.add(this.qualifiers).add(this.reference && ` ${this.reference}`);
    if (this.exceptions) {
      out.add(' ');
      this.exceptions.print(out);
    }
  }
  override hasRight(): boolean {
    return true;
  }
  override isFunction(): boolean {
    return true;
  }
}

/** A whole function: what it gives back if the name tells, its name and its parameters. */
export class FunctionEncoding extends Node {
  constructor(
    readonly result: Node | null,
    readonly name: Node,
    readonly parameters: readonly Node[],
    readonly qualifiers: string,
    readonly reference: string,
    readonly attributes: Node | null,
    readonly requirement: Node | null,
  ) {
    super();
  }
  left(out: Output): void {
    if (this.result) {
      this.result.left(out);
      if (!this.result.hasRight(out)) out.add(' ');
    }
    this.name.print(out);
  }
  override right(out: Output): void {
    out.open();
    out.list(this.parameters);
    out.close();
    this.result?.right(out);
    out.add(this.qualifiers).add(this.reference && ` ${this.reference}`);
    this.attributes?.print(out);
    if (this.requirement) {
      out.add(' requires ');
      this.requirement.print(out);
    }
  }
  override hasRight(): boolean {
    return true;
  }
  override isFunction(): boolean {
    return true;
  }
}

export class ObjectiveCProtocol extends Node {
  constructor(
    readonly type: Node,
    readonly protocol: string,
  ) {
    super();
  }
  get isObject(): boolean {
    return this.type instanceof Name && this.type.text === 'objc_object';
  }
  left(out: Output): void {
    this.type.print(out);
    out.add(`<${this.protocol}>`);
  }
}

/** A template parameter named before its arguments are read, as conversion operators do. */
export class ForwardReference extends Node {
  target: Node | null = null;
  private isPrinting = false;

  constructor(readonly index: number) {
    super();
  }
  private guarded<Value>(otherwise: Value, ask: (target: Node) => Value): Value {
    if (this.isPrinting || !this.target) return otherwise;
    this.isPrinting = true;
    try {
      return ask(this.target);
    } finally {
      this.isPrinting = false;
    }
  }
  left(out: Output): void {
    this.guarded(undefined, (target) => target.left(out));
  }
  override right(out: Output): void {
    this.guarded(undefined, (target) => target.right(out));
  }
  override hasRight(out: Output): boolean {
    return this.guarded(false, (target) => target.hasRight(out));
  }
  override isArray(out: Output): boolean {
    return this.guarded(false, (target) => target.isArray(out));
  }
  override isFunction(out: Output): boolean {
    return this.guarded(false, (target) => target.isFunction(out));
  }
  override actual(out: Output): Node {
    return this.guarded<Node>(this, (target) => target.actual(out));
  }
}

/** The elements that a template parameter pack stands for; which one is printed, the expansion around it says. */
export class Pack extends Node {
  constructor(readonly elements: readonly Node[]) {
    super();
  }
  private current(out: Output): Node | undefined {
    if (!out.hasPack) {
      out.packSize = this.elements.length;
      out.packIndex = 0;
    }
    return this.elements[out.packIndex];
  }
  left(out: Output): void {
    this.current(out)?.left(out);
  }
  override right(out: Output): void {
    this.current(out)?.right(out);
  }
  override hasRight(out: Output): boolean {
    return this.current(out)?.hasRight(out) ?? false;
  }
  override isArray(out: Output): boolean {
    return this.current(out)?.isArray(out) ?? false;
  }
  override isFunction(out: Output): boolean {
    return this.current(out)?.isFunction(out) ?? false;
  }
  override actual(out: Output): Node {
    return this.current(out)?.actual(out) ?? this;
  }
}

/** Several template arguments that were given for one pack. */
export class ArgumentPack extends Node {
  constructor(readonly elements: readonly Node[]) {
    super();
  }
  left(out: Output): void {
    out.list(this.elements);
  }
}

/** Prints its child once for each element of the pack in it. */
export class PackExpansion extends Node {
  constructor(readonly child: Node) {
    super();
  }
  left(out: Output): void {
    out.withFreshPack(() => {
      const before = out.text;
      this.child.print(out);
      if (!out.hasPack) {
        out.add('...');
        return;
      }
      if (out.packSize === 0) out.text = before;
      for (let index = 1; index < out.packSize; index++) {
        out.add(', ');
        out.packIndex = index;
        this.child.print(out);
      }
    });
  }
}

export const printNode = (node: Node): string => {
  const out = new Output();
  node.print(out);
  return out.text;
};
