import { childOfKind, isContext, isNominal, NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { decodeSwiftPunycode } from './punycode.ts';

const maximumWords = 26;
const maximumNodes = 4_096;
const maximumRepetition = 2_048;

/**
 * A mangled name while it is read: operators come behind their operands, which wait on a stack. Words of identifiers and
 * whole nodes may be named again by number. Swift ABI, "Mangling" (docs/ABI/Mangling.rst of the compiler).
 */
export class SwiftReader {
  position = 0;
  readonly stack: SwiftNode[] = [];
  private readonly substitutions: SwiftNode[] = [];
  private readonly words: string[] = [];

  constructor(
    readonly text: string,
    /** Names of Swift 4.0 keep argument labels inside the types. */
    readonly labelsInTypes: boolean,
  ) {}

  get atEnd(): boolean {
    return this.position >= this.text.length;
  }

  peek(): string {
    return this.text[this.position] ?? '';
  }

  next(): string {
    const letter = this.text[this.position++];
    if (letter === undefined) throw new NotSwift('the name ends too early');
    return letter;
  }

  takes(letter: string): boolean {
    if (!this.text.startsWith(letter, this.position)) return false;
    this.position += letter.length;
    return true;
  }

  /** A number in digits, or null when there is none here. */
  natural(): number | null {
    const digits = /^\d{1,9}/.exec(this.text.slice(this.position, this.position + 10))?.[0];
    if (digits === undefined) return null;
    this.position += digits.length;
    return Number(digits);
  }

  /** `_` is 0, `0_` is 1, `1_` is 2. */
  index(): number {
    if (this.takes('_')) return 0;
    const number = this.natural();
    if (number === null || !this.takes('_')) throw new NotSwift('an index is not closed');
    return number + 1;
  }

  push(one: SwiftNode): void {
    if (this.stack.length >= maximumNodes) throw new NotSwift('too many parts');
    this.stack.push(one);
  }

  /** The topmost node if it is of one of the kinds. */
  pop(...kinds: readonly string[]): SwiftNode | null {
    const top = this.stack.at(-1);
    return top && (kinds.length === 0 || kinds.includes(top.kind)) ? (this.stack.pop() as SwiftNode) : null;
  }

  popIf(fits: (one: SwiftNode) => boolean): SwiftNode | null {
    const top = this.stack.at(-1);
    return top && fits(top) ? (this.stack.pop() as SwiftNode) : null;
  }

  /** The topmost node, which must be of one of the kinds. */
  want(...kinds: readonly string[]): SwiftNode {
    return wanted(this.pop(...kinds), kinds.join(' or '));
  }

  wantIf(fits: (one: SwiftNode) => boolean, what: string): SwiftNode {
    return wanted(this.popIf(fits), what);
  }

  /** A type without its wrapper. */
  wantInnerType(): SwiftNode {
    return wanted(this.want('Type').children[0] ?? null, 'a type');
  }

  remember(one: SwiftNode): SwiftNode {
    this.substitutions.push(one);
    return one;
  }

  /** Nodes from the top down to the one that carries the mark of the first, in the order they were written. */
  popList(pop: () => SwiftNode): SwiftNode[] {
    if (this.pop('EmptyList')) return [];
    const list: SwiftNode[] = [];
    let isFirst: boolean;
    do {
      isFirst = this.pop('FirstElementMarker') !== null;
      list.push(pop());
    } while (!isFirst);
    return list.reverse();
  }

  popModule(): SwiftNode | null {
    const identifier = this.pop('Identifier');
    return identifier ? textNode('Module', identifier.text) : this.pop('Module');
  }

  popContext(): SwiftNode {
    const module = this.popModule();
    if (module) return module;
    const type = this.pop('Type');
    if (!type) return this.wantIf(isContext, 'a context');
    const inner = type.children[0];
    if (!inner || !(isContext(inner) || inner.kind.startsWith('BoundGeneric'))) throw new NotSwift('a type that can hold nothing');
    return inner;
  }

  popNominal(): SwiftNode {
    const inner = this.wantInnerType();
    if (!isNominal(inner)) throw new NotSwift('not a declared type');
    return inner;
  }

  popProtocol(): SwiftNode {
    const type = this.pop('Type');
    if (type) {
      if (!childOfKind(type, 'Protocol')) throw new NotSwift('not a protocol');
      return type;
    }
    const name = this.want('Identifier', 'PrivateDeclName', 'LocalDeclName', 'RelatedEntityDeclName');
    return typeNode(node('Protocol', this.popContext(), name));
  }

  /** An identifier of literal letters, words that came before, or Punycode; it may be named again. */
  identifier(): SwiftNode {
    let hasWords = false;
    let isPunycode = false;
    if (this.takes('0')) {
      if (this.takes('0')) isPunycode = true;
      else hasWords = true;
    }
    let name = '';
    do {
      while (hasWords && /[a-zA-Z]/.test(this.peek())) {
        const letter = this.next();
        const isLast = letter < 'a';
        const word = this.words[letter.toLowerCase().charCodeAt(0) - 97];
        if (word === undefined) throw new NotSwift('a word that was not seen before');
        name += word;
        if (isLast) hasWords = false;
      }
      if (this.takes('0')) break;
      const length = this.natural();
      if (length === null || length === 0) throw new NotSwift('an identifier without length');
      if (isPunycode) this.takes('_');
      if (this.position + length > this.text.length) throw new NotSwift('an identifier ends too early');
      const letters = this.text.slice(this.position, this.position + length);
      this.position += length;
      if (!isPunycode) this.collectWords(letters);
      name += isPunycode ? wanted(decodeSwiftPunycode(letters), 'Punycode') : letters;
    } while (hasWords);
    return this.remember(textNode('Identifier', name));
  }

  /** Words begin at a letter and end before "_" or a capital that follows a small letter. */
  private collectWords(letters: string): void {
    let start = -1;
    for (let at = 0; at <= letters.length; at++) {
      const letter = letters[at] ?? '';
      if (start >= 0 && (letter === '' || letter === '_' || (isCapital(letter) && !isCapital(letters[at - 1] as string)))) {
        if (at - start >= 2 && this.words.length < maximumWords) this.words.push(letters.slice(start, at));
        start = -1;
      }
      if (start < 0 && letter !== '' && letter !== '_' && !/\d/.test(letter)) start = at;
    }
  }

  /** `A`: nodes that came before, by letter; small letters name one that is followed by another. */
  substitution(): SwiftNode {
    let repetitions: number | null = null;
    for (;;) {
      const letter = this.next();
      if (letter === '_') return wanted(this.substitutions[(repetitions ?? -1) + 27] ?? null, 'a substitution');
      if (/[a-zA-Z]/.test(letter)) {
        const found = wanted(this.substitutions[letter.toLowerCase().charCodeAt(0) - 97] ?? null, 'a substitution');
        this.pushRepeated(found, repetitions);
        if (letter < 'a') return found;
        this.push(found);
        repetitions = null;
        continue;
      }
      this.position--;
      repetitions = this.natural();
      if (repetitions === null) throw new NotSwift('not a substitution');
    }
  }

  /** Pushes a node once less than it is repeated: its last mention is pushed by the caller. */
  pushRepeated(one: SwiftNode, repetitions: number | null): void {
    if (repetitions !== null && repetitions > maximumRepetition) throw new NotSwift('too many repetitions');
    for (let count = repetitions ?? 1; count > 1; count--) this.push(one);
  }
}

const isCapital = (letter: string): boolean => letter >= 'A' && letter <= 'Z';

export function wanted<Found>(found: Found | null, what: string): Found {
  if (found === null) throw new NotSwift(`${what} is wanted`);
  return found;
}
