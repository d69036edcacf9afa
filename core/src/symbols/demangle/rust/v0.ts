import { decodePunycode } from './punycode.ts';

class NotMangled extends Error {}

const maximumDepth = 300;
const maximumCharacters = 64 * 1024;

const basicTypes: Readonly<Record<string, string>> = {
  a: 'i8',
  b: 'bool',
  c: 'char',
  d: 'f64',
  e: 'str',
  f: 'f32',
  h: 'u8',
  i: 'isize',
  j: 'usize',
  l: 'i32',
  m: 'u32',
  n: 'i128',
  o: 'u128',
  p: '_',
  s: 'i16',
  t: 'u16',
  u: '()',
  v: '...',
  x: 'i64',
  y: 'u64',
  z: '!',
};

/**
 * A Rust name of the v0 mangling in the words of its source; null when it is none. Rust RFC 2603, and "v0 Symbol Format"
 * in the rustc book. Hashes of crates are left out.
 */
export function demangleRust(name: string): string | null {
  const start = /^_{0,2}R(?=[A-Z])/.exec(name);
  if (!start) return null;
  const suffix = name.indexOf('.');
  const body = name.slice(start[0].length, suffix < 0 ? undefined : suffix);
  if (/[^\w]/.test(body)) return null;
  try {
    const printer = new RustName(body);
    printer.path(true);
    // Behind the path may stand the crate in which a generic function was made.
    if (printer.position < body.length) printer.quietly(() => printer.path(false));
    if (printer.position < body.length) return null;
    return printer.text + (suffix < 0 ? '' : ` (${name.slice(suffix)})`);
  } catch (error) {
    if (error instanceof NotMangled) return null;
    throw error;
  }
}

class RustName {
  position = 0;
  text = '';
  private depth = 0;
  private boundLifetimes = 0;
  private isQuiet = false;

  constructor(private readonly mangled: string) {}

  private add(text: string): void {
    if (this.isQuiet) return;
    this.text += text;
    if (this.text.length > maximumCharacters) throw new NotMangled();
  }

  quietly(read: () => void): void {
    const before = this.isQuiet;
    this.isQuiet = true;
    read();
    this.isQuiet = before;
  }

  private next(): string {
    const letter = this.mangled[this.position];
    if (letter === undefined) throw new NotMangled();
    this.position++;
    return letter;
  }

  private takes(letter: string): boolean {
    if (this.mangled[this.position] !== letter) return false;
    this.position++;
    return true;
  }

  private nested(read: () => void): void {
    if (++this.depth > maximumDepth) throw new NotMangled();
    read();
    this.depth--;
  }

  /** `<base-62-number>`: "_" is 0, else digits of which one is added. */
  private base62(): number {
    if (this.takes('_')) return 0;
    let value = 0;
    for (;;) {
      const letter = this.next();
      if (letter === '_') return value + 1;
      const digit = '0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ'.indexOf(letter);
      if (digit < 0) throw new NotMangled();
      value = value * 62 + digit;
      if (value > 2 ** 53) value = 2 ** 53;
    }
  }

  private disambiguator(): number {
    return this.takes('s') ? this.base62() + 1 : 0;
  }

  private identifier(): string {
    const isPunycode = this.takes('u');
    const digits = /^(?:0|[1-9]\d{0,5})/.exec(this.mangled.slice(this.position, this.position + 7));
    if (!digits) throw new NotMangled();
    this.position += digits[0].length;
    this.takes('_');
    const length = Number(digits[0]);
    const name = this.mangled.slice(this.position, this.position + length);
    if (name.length !== length) throw new NotMangled();
    this.position += length;
    if (!isPunycode) return name;
    const decoded = decodePunycode(name);
    return decoded ?? `punycode{${name.replace(/_([^_]*)$/, '-$1')}}`;
  }

  /** Reads again what stands at an earlier place. */
  private backReference(read: () => void): void {
    const from = this.position - 1;
    const to = this.base62();
    if (to >= from) throw new NotMangled();
    if (this.isQuiet) return;
    const after = this.position;
    this.position = to;
    this.nested(read);
    this.position = after;
  }

  /** `<path>`; in a value the arguments of a generic stand behind "::". */
  path(inValue: boolean): void {
    this.nested(() => {
      const kind = this.next();
      switch (kind) {
        case 'C':
          this.disambiguator();
          this.add(this.identifier());
          break;
        case 'M':
          this.implPath();
          this.add('<');
          this.type();
          this.add('>');
          break;
        case 'X':
          this.implPath();
          this.qualifiedSelf();
          break;
        case 'Y':
          this.qualifiedSelf();
          break;
        case 'N':
          this.nestedPath(inValue);
          break;
        case 'I':
          this.path(inValue);
          this.add(inValue ? '::<' : '<');
          this.listUntilEnd(() => this.genericArgument());
          this.add('>');
          break;
        case 'B':
          this.backReference(() => this.path(inValue));
          break;
        default:
          throw new NotMangled();
      }
    });
  }

  private implPath(): void {
    this.quietly(() => {
      this.disambiguator();
      this.path(false);
    });
  }

  private qualifiedSelf(): void {
    this.add('<');
    this.type();
    this.add(' as ');
    this.path(false);
    this.add('>');
  }

  private nestedPath(inValue: boolean): void {
    const namespace = this.next();
    if (!/[A-Za-z]/.test(namespace)) throw new NotMangled();
    this.path(inValue);
    const disambiguator = this.disambiguator();
    const name = this.identifier();
    if (/[a-z]/.test(namespace)) {
      if (name !== '') this.add(`::${name}`);
      return;
    }
    const kind = namespace === 'C' ? 'closure' : namespace === 'S' ? 'shim' : namespace;
    this.add(`::{${kind}${name === '' ? '' : `:${name}`}#${disambiguator}}`);
  }

  private listUntilEnd(read: () => void): number {
    let count = 0;
    while (!this.takes('E')) {
      if (count > 0) this.add(', ');
      read();
      count++;
    }
    return count;
  }

  private genericArgument(): void {
    if (this.takes('L')) this.lifetime(this.base62());
    else if (this.takes('K')) this.constant(false);
    else this.type();
  }

  private lifetime(index: number): void {
    if (index === 0) {
      this.add("'_");
      return;
    }
    const depth = this.boundLifetimes - index;
    if (depth < 0) throw new NotMangled();
    this.add(lifetimeName(depth));
  }

  /** `<binder>`: lifetimes that the type itself introduces. */
  private binder(read: () => void): void {
    const count = this.takes('G') ? this.base62() + 1 : 0;
    if (count > 1_000) throw new NotMangled();
    if (count > 0) {
      this.add('for<');
      for (let index = 0; index < count; index++) this.add((index > 0 ? ', ' : '') + lifetimeName(this.boundLifetimes + index));
      this.add('> ');
    }
    this.boundLifetimes += count;
    read();
    this.boundLifetimes -= count;
  }

  private type(): void {
    this.nested(() => {
      const start = this.position;
      const letter = this.next();
      const basic = basicTypes[letter];
      if (basic !== undefined) {
        this.add(basic);
        return;
      }
      switch (letter) {
        case 'A':
          this.add('[');
          this.type();
          this.add('; ');
          this.constant(true);
          this.add(']');
          break;
        case 'S':
          this.add('[');
          this.type();
          this.add(']');
          break;
        case 'T': {
          this.add('(');
          const count = this.listUntilEnd(() => this.type());
          this.add(count === 1 ? ',)' : ')');
          break;
        }
        case 'R':
        case 'Q':
          this.reference(letter === 'Q');
          break;
        case 'P':
        case 'O':
          this.add(letter === 'P' ? '*const ' : '*mut ');
          this.type();
          break;
        case 'F':
          this.binder(() => this.functionSignature());
          break;
        case 'D':
          this.dynamicType();
          break;
        case 'B':
          this.backReference(() => this.type());
          break;
        default:
          this.position = start;
          this.path(false);
      }
    });
  }

  private reference(isMutable: boolean): void {
    this.add('&');
    if (this.takes('L')) {
      const index = this.base62();
      if (index !== 0) {
        this.lifetime(index);
        this.add(' ');
      }
    }
    if (isMutable) this.add('mut ');
    this.type();
  }

  private functionSignature(): void {
    if (this.takes('U')) this.add('unsafe ');
    if (this.takes('K')) this.add(`extern "${this.takes('C') ? 'C' : this.identifier().replaceAll('_', '-')}" `);
    this.add('fn(');
    this.listUntilEnd(() => this.type());
    this.add(')');
    if (this.takes('u')) return;
    this.add(' -> ');
    this.type();
  }

  private dynamicType(): void {
    this.add('dyn ');
    this.binder(() => {
      let count = 0;
      while (!this.takes('E')) {
        if (count++ > 0) this.add(' + ');
        this.dynamicTrait();
      }
    });
    if (!this.takes('L')) throw new NotMangled();
    const index = this.base62();
    if (index !== 0) {
      this.add(' + ');
      this.lifetime(index);
    }
  }

  private dynamicTrait(): void {
    let isOpen = this.pathWithOpenArguments();
    while (this.takes('p')) {
      this.add(isOpen ? ', ' : '<');
      isOpen = true;
      this.add(`${this.identifier()} = `);
      this.type();
    }
    if (isOpen) this.add('>');
  }

  /** A trait whose associated types follow among its arguments; true when their list was left open. */
  private pathWithOpenArguments(): boolean {
    if (this.takes('B')) {
      let isOpen = false;
      this.backReference(() => {
        isOpen = this.pathWithOpenArguments();
      });
      return isOpen;
    }
    if (!this.takes('I')) {
      this.path(false);
      return false;
    }
    this.path(false);
    this.add('<');
    this.listUntilEnd(() => this.genericArgument());
    return true;
  }

  private constant(inExpression: boolean): void {
    this.nested(() => {
      const letter = this.next();
      switch (letter) {
        case 'B':
          this.backReference(() => this.constant(inExpression));
          return;
        case 'e':
          this.braced(inExpression, () => {
            this.add('*');
            this.add(stringLiteral(this.hexDigits()));
          });
          return;
        case 'R':
          if (this.takes('e')) {
            this.add(stringLiteral(this.hexDigits()));
            return;
          }
          this.braced(inExpression, () => {
            this.add('&');
            this.constant(true);
          });
          return;
        case 'Q':
          this.braced(inExpression, () => {
            this.add('&mut ');
            this.constant(true);
          });
          return;
        case 'A':
          this.braced(inExpression, () => {
            this.add('[');
            this.listUntilEnd(() => this.constant(true));
            this.add(']');
          });
          return;
        case 'T':
          this.braced(inExpression, () => {
            this.add('(');
            const count = this.listUntilEnd(() => this.constant(true));
            this.add(count === 1 ? ',)' : ')');
          });
          return;
        case 'V':
          this.braced(inExpression, () => this.adtConstant());
          return;
      }
      this.add(this.plainConstant(letter));
    });
  }

  /** A placeholder, a truth value, a character, or a number without or with a sign. */
  private plainConstant(letter: string): string {
    if (letter === 'p') return '_';
    if (letter === 'c') return charLiteral(Number.parseInt(this.hexDigits() || '0', 16));
    if ('hjmtyo'.includes(letter)) return decimal(this.hexDigits());
    if ('ailsxn'.includes(letter)) return (this.takes('n') ? '-' : '') + decimal(this.hexDigits());
    const value = letter === 'b' ? this.hexDigits() : null;
    if (value !== '0' && value !== '1') throw new NotMangled();
    return value === '1' ? 'true' : 'false';
  }

  private braced(inExpression: boolean, print: () => void): void {
    // A value that is more than a literal stands in braces among the arguments of a generic, and without them in another value.
    if (!inExpression) this.add('{');
    print();
    if (!inExpression) this.add('}');
  }

  private adtConstant(): void {
    this.path(true);
    switch (this.next()) {
      case 'U':
        return;
      case 'T':
        this.add('(');
        this.listUntilEnd(() => this.constant(true));
        this.add(')');
        return;
      case 'S':
        this.add(' { ');
        this.listUntilEnd(() => {
          this.disambiguator();
          this.add(`${this.identifier()}: `);
          this.constant(true);
        });
        this.add(' }');
        return;
      default:
        throw new NotMangled();
    }
  }

  private hexDigits(): string {
    const match = /^[0-9a-f]*_/.exec(this.mangled.slice(this.position, this.position + 4_096));
    if (!match) throw new NotMangled();
    this.position += match[0].length;
    return match[0].slice(0, -1);
  }
}

/** 'a to 'z, then 'z1, 'z2, … */
const lifetimeName = (depth: number): string => (depth < 26 ? `'${String.fromCharCode(97 + depth)}` : `'z${depth - 25}`);

function decimal(digits: string): string {
  if (digits === '') throw new NotMangled();
  return digits.length > 16 ? `0x${digits}` : BigInt(`0x${digits}`).toString();
}

function charLiteral(value: number): string {
  if (value > 0x10ffff || (value >= 0xd800 && value < 0xe000)) throw new NotMangled();
  return quoted("'", String.fromCodePoint(value));
}

function stringLiteral(hex: string): string {
  if (hex.length % 2 !== 0) throw new NotMangled();
  const bytes = Uint8Array.from(hex.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16));
  try {
    return quoted('"', new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes));
  } catch {
    throw new NotMangled();
  }
}

const escapes: Readonly<Record<string, string>> = { '\0': '\\0', '\t': '\\t', '\n': '\\n', '\r': '\\r', '\\': '\\\\' };

/** As Rust's `char::escape_debug` does: what cannot be seen by itself is written by its number. */
const quoted = (quote: string, text: string): string =>
  quote +
  text.replace(/[\0\t\n\r\\'"]|(?! )[\p{C}\p{Z}\p{Grapheme_Extend}]/gu, (character) => {
    if (character === "'" || character === '"') return character === quote ? `\\${character}` : character;
    return escapes[character] ?? `\\u{${(character.codePointAt(0) as number).toString(16)}}`;
  }) +
  quote;
