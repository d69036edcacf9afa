import type { ForwardReference, Node } from './nodes.ts';

/** Thrown at the first letter that the grammar does not allow; the name then stays as it is. */
export class NotMangled extends Error {}

const maximumDepth = 400;

/** A mangled name while it is read: the place in it, and what later parts may refer back to. */
export class Mangled {
  position = 0;
  /** Parts that `S_`, `S0_`, … stand for: Itanium C++ ABI section 5.1.8. */
  readonly substitutions: Node[] = [];
  /** Template arguments that `T_`, `T0_`, … stand for, by level; null is a level whose parameters are all `auto`. */
  templateParameters: (Node[] | null)[] = [];
  outerTemplateParameters: Node[] = [];
  /** The template arguments of each level of the name being read, outermost first. */
  argumentLevels: Node[][] = [];
  readonly forwardReferences: ForwardReference[] = [];
  permitsForwardReferences = false;
  /** A type may be followed by template arguments; not so in the name of a conversion operator. */
  takesTemplateArguments = true;
  lambdaLevel = -1;
  /** How many template parameters without a name were declared so far, by kind. */
  readonly syntheticNames = { type: 0, value: 0, template: 0 };
  private depth = 0;

  constructor(readonly text: string) {}

  look(ahead = 0): string {
    return this.text[this.position + ahead] ?? '';
  }

  get atEnd(): boolean {
    return this.position >= this.text.length;
  }

  takes(expected: string): boolean {
    if (!this.text.startsWith(expected, this.position)) return false;
    this.position += expected.length;
    return true;
  }

  expect(expected: string): void {
    if (!this.takes(expected)) throw new NotMangled();
  }

  get atDigit(): boolean {
    const letter = this.look();
    return letter >= '0' && letter <= '9';
  }

  /** Digits, with `n` for minus where that is allowed; '' when there are none. */
  digits(allowNegative = false): string {
    const sign = allowNegative && this.takes('n') ? '-' : '';
    const from = this.position;
    while (this.atDigit) this.position++;
    return this.position === from ? '' : sign + this.text.slice(from, this.position);
  }

  number(): number {
    const digits = this.digits();
    if (digits === '' || digits.length > 9) throw new NotMangled();
    return Number(digits);
  }

  /** A number as of back references: letters and digits up to `_`, where none stands for 0. */
  sequenceId(): number {
    if (this.takes('_')) return 0;
    let value = 0;
    for (let letter = this.look(); letter !== '_'; letter = this.look()) {
      const digit = letter >= '0' && letter <= '9' ? Number(letter) : letter >= 'A' && letter <= 'Z' ? letter.charCodeAt(0) - 55 : -1;
      if (digit < 0 || value > 1e9) throw new NotMangled();
      value = value * 36 + digit;
      this.position++;
    }
    this.position++;
    return value + 1;
  }

  /** The same with decimal digits, as template parameters count. */
  parameterIndex(): number {
    if (this.takes('_')) return 0;
    const index = this.number() + 1;
    this.expect('_');
    return index;
  }

  /** Text behind its length. */
  sourceText(): string {
    const length = this.number();
    if (length === 0 || this.position + length > this.text.length) throw new NotMangled();
    const text = this.text.slice(this.position, this.position + length);
    this.position += length;
    return text;
  }

  /** Keeps what refers to itself again and again from filling the stack. */
  nested<Value>(read: () => Value): Value {
    if (++this.depth > maximumDepth) throw new NotMangled();
    const value = read();
    this.depth--;
    return value;
  }

  remember<Kind extends Node>(node: Kind): Kind {
    this.substitutions.push(node);
    return node;
  }
}
