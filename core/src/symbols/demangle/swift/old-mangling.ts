import { genericParameter, indexNode, NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { readOldLoweredFunction } from './old-lowered-functions.ts';
import { decodeSwiftPunycode } from './punycode.ts';
import { wanted } from './reader.ts';
import { standardDeclaration } from './standard-types.ts';
import { layouts } from './types.ts';

const deepest = 200;
const operatorLetters = '& @/= >    <*!|+?%-~   ^ .';
const nominalKinds: Readonly<Record<string, string>> = { C: 'Class', V: 'Structure', O: 'Enum' };

const accessors: Readonly<Record<string, string>> = {
  g: 'Getter',
  G: 'GlobalGetter',
  s: 'Setter',
  m: 'MaterializeForSet',
  w: 'WillSet',
  W: 'DidSet',
  aO: 'OwningMutableAddressor',
  ao: 'NativeOwningMutableAddressor',
  ap: 'NativePinningMutableAddressor',
  au: 'UnsafeMutableAddressor',
  lO: 'OwningAddressor',
  lo: 'NativeOwningAddressor',
  lp: 'NativePinningAddressor',
  lu: 'UnsafeAddressor',
};

const functionKinds: Readonly<Record<string, string>> = {
  F: 'FunctionType',
  f: 'UncurriedFunctionType',
  K: 'AutoClosureType',
  b: 'ObjCBlock',
  c: 'CFunctionPointer',
};

/**
 * Reads the mangling of Swift before version 4, `_T…` without `0`, whose type names the Objective-C runtime still prints (`_Tt…`).
 * It is read from the left, each construct before its parts, and gives the same nodes as that of today. Source: "Mangling" in
 * docs/ABI.rst of the compiler, as of version 3.
 */
export class OldReader {
  private position = 0;
  private depth = 0;
  private readonly substitutions: SwiftNode[] = [];

  constructor(private readonly text: string) {}

  /** Substitutions of what came before name nothing in what follows. */
  forget(): void {
    this.substitutions.length = 0;
  }

  /** What is left. */
  rest(): string {
    return this.text.slice(this.position);
  }

  /** The letters before the next one of these. */
  upTo(letter: string): string {
    const end = this.text.indexOf(letter, this.position);
    if (end < 0) throw new NotSwift(`${letter} is wanted`);
    const letters = this.text.slice(this.position, end);
    this.position = end;
    return letters;
  }

  private peek(): string {
    return this.text[this.position] ?? '';
  }

  next(): string {
    const letter = this.peek();
    if (letter === '') throw new NotSwift('the name ends too early');
    this.position++;
    return letter;
  }

  takes(letters: string): boolean {
    if (!this.text.startsWith(letters, this.position)) return false;
    this.position += letters.length;
    return true;
  }

  expect(letters: string): void {
    if (!this.takes(letters)) throw new NotSwift(`${letters} is wanted`);
  }

  private nested<Found>(read: () => Found): Found {
    if (++this.depth > deepest) throw new NotSwift('nested too deeply');
    const found = read();
    this.depth--;
    return found;
  }

  private remember(one: SwiftNode): SwiftNode {
    this.substitutions.push(one);
    return one;
  }

  private natural(): number {
    const digits = /^\d{1,6}/.exec(this.text.slice(this.position, this.position + 6))?.[0];
    if (digits === undefined) throw new NotSwift('a number is wanted');
    this.position += digits.length;
    return Number(digits);
  }

  /** `_` is 0, `n_` is n + 1. */
  private index(): number {
    if (this.takes('_')) return 0;
    const number = this.natural() + 1;
    this.expect('_');
    return number;
  }

  private atIdentifier(): boolean {
    return /[\dXo]/.test(this.peek());
  }

  identifier(): SwiftNode {
    const isPunycode = this.takes('X');
    const isOperator = this.takes('o');
    const fixity = isOperator ? this.next() : '';
    const length = this.natural();
    const letters = this.text.slice(this.position, this.position + length);
    if (length === 0 || letters.length < length) throw new NotSwift('an identifier ends too early');
    this.position += length;
    const name = isPunycode ? wanted(decodeSwiftPunycode(letters), 'Punycode') : letters;
    if (!isOperator) return textNode('Identifier', name);
    const kind = { i: 'InfixOperator', p: 'PrefixOperator', P: 'PostfixOperator' }[fixity];
    const written = [...name]
      .map((letter) => (letter.charCodeAt(0) > 127 ? letter : (operatorLetters[letter.charCodeAt(0) - 97] ?? ' ')))
      .join('');
    if (written.includes(' ')) throw new NotSwift('not an operator');
    return textNode(wanted(kind ?? null, 'an operator'), written);
  }

  declarationName(): SwiftNode {
    if (this.takes('L')) {
      const index = indexNode('Number', this.index());
      return node('LocalDeclName', index, this.identifier());
    }
    if (!this.takes('P')) return this.identifier();
    const discriminator = this.identifier();
    return node('PrivateDeclName', discriminator, this.declarationName());
  }

  private module(): SwiftNode {
    if (this.takes('s')) return textNode('Module', 'Swift');
    if (this.takes('S')) return this.moduleOf(this.substitution());
    return this.remember(textNode('Module', this.identifier().text));
  }

  private moduleOf(one: SwiftNode): SwiftNode {
    if (one.kind !== 'Module') throw new NotSwift('not a module');
    return one;
  }

  /** What stands behind `S`: a module or type that came before, or one of the standard library. */
  private substitution(): SwiftNode {
    if (this.takes('o')) return textNode('Module', '__C');
    if (this.takes('C')) return textNode('Module', '__C_Synthesized');
    if (/[\d_]/.test(this.peek())) return wanted(this.substitutions[this.index()] ?? null, 'a substitution');
    const letter = this.next();
    if (letter === 'Q') return node('Enum', textNode('Module', 'Swift'), textNode('Identifier', 'ImplicitlyUnwrappedOptional'));
    if (letter === 'c') return node('Structure', textNode('Module', 'Swift'), textNode('Identifier', 'UnicodeScalar'));
    if (!/[abdfiPpqRrSuVv]/.test(letter)) throw new NotSwift('not a substitution');
    return wanted(standardDeclaration(letter), 'a standard type');
  }

  context(): SwiftNode {
    return this.nested(() => {
      if (this.takes('E')) return node('Extension', this.module(), this.context());
      if (this.takes('e')) {
        const module = this.module();
        const signature = this.genericSignature();
        return node('Extension', module, this.context(), signature);
      }
      if (this.takes('G')) return innerOf(this.boundGeneric());
      if (this.takes('S')) return innerOf(this.substitution());
      if (this.takes('s')) return textNode('Module', 'Swift');
      if (/[CVOPFviIZ]/.test(this.peek())) return this.entity();
      return this.module();
    });
  }

  private nominal(kind: string): SwiftNode {
    const context = this.context();
    return this.remember(node(kind, context, this.declarationName()));
  }

  protocolName(): SwiftNode {
    if (this.takes('S')) {
      const known = this.substitution();
      // The module alone came before, and the name follows.
      if (known.kind === 'Module') return this.remember(node('Protocol', known, this.declarationName()));
      return known;
    }
    const context = this.context();
    return this.remember(node('Protocol', context, this.declarationName()));
  }

  entity(): SwiftNode {
    return this.nested(() => {
      if (this.takes('Z')) return node('Static', this.entity());
      const letter = this.next();
      const nominal = nominalKinds[letter];
      if (nominal !== undefined) return this.nominal(nominal);
      if (letter === 'P') return this.protocolName();
      const context = /[FvIi]/.test(letter) ? this.context() : null;
      if (!context) throw new NotSwift('not an entity');
      switch (letter) {
        case 'F':
          return this.functionIn(context);
        case 'v':
          return node('Variable', context, this.declarationName(), this.type());
        case 'i':
          this.declarationName();
          return node('Subscript', context, this.type());
        default:
          if (this.takes('A')) return node('DefaultArgumentInitializer', context, indexNode('Number', this.index()));
          this.expect('i');
          return node('Initializer', context);
      }
    });
  }

  private functionIn(context: SwiftNode): SwiftNode {
    switch (this.peek()) {
      case 'D':
        this.next();
        return node('Deallocator', context);
      case 'd':
        this.next();
        return node('Destructor', context);
      case 'e':
        this.next();
        return node('IVarInitializer', context);
      case 'E':
        this.next();
        return node('IVarDestroyer', context);
      case 'C':
        this.next();
        return node('Allocator', context, this.type());
      case 'c':
        this.next();
        return node('Constructor', context, this.type());
      case 'U':
      case 'u': {
        const kind = this.next() === 'U' ? 'ExplicitClosure' : 'ImplicitClosure';
        const index = indexNode('Number', this.index());
        return node(kind, context, index, this.type());
      }
    }
    const code = /^[al]/.test(this.peek()) ? this.text.slice(this.position, this.position + 2) : this.peek();
    const accessor = accessors[code];
    if (accessor !== undefined) {
      this.position += code.length;
      // "subscript" is the name of the storage that has none of its own.
      const name = this.declarationName();
      const type = this.type();
      const storage = name.text === 'subscript' ? node('Subscript', context, type) : node('Variable', context, name, type);
      return node(accessor, storage);
    }
    const name = this.declarationName();
    return node('Function', context, name, this.type());
  }

  type(): SwiftNode {
    return this.nested(() => typeNode(this.innerType()));
  }

  private innerType(): SwiftNode {
    const letter = this.next();
    const nominal = nominalKinds[letter];
    if (nominal !== undefined) return this.nominal(nominal);
    const functionKind = functionKinds[letter];
    if (functionKind !== undefined) return this.functionType(functionKind);
    switch (letter) {
      case 'B':
        return this.builtin();
      case 'S': {
        const known = innerOf(this.substitution());
        if (known.kind === 'Module') throw new NotSwift('a module is no type');
        return known;
      }
      case 'G':
        return innerOf(this.boundGeneric());
      case 'T':
        return this.tuple(false);
      case 't':
        return this.tuple(true);
      case 'M':
        return node('Metatype', this.type());
      case 'R':
        return node('InOut', this.type());
      case 'D':
        return node('DynamicSelf', this.type());
      case 'P':
        return this.protocols();
      case 'a':
        return this.nominal('TypeAlias');
      case 'x':
        return innerOf(genericParameter(0, 0));
      case 'q':
        return this.dependent();
      case 'w':
        return this.associated();
      case 'W':
        return this.associatedPath();
      case 'Q':
        this.expect('u');
        return node('OpaqueReturnType');
      case 'u': {
        const signature = this.genericSignature();
        return node('DependentGenericType', signature, this.type());
      }
      case 'X':
        return this.storageKind();
      case 'E':
        this.expect('RR');
        return textNode('ErrorType', '');
      default:
        throw new NotSwift(`${letter} is no type`);
    }
  }

  private storageKind(): SwiftNode {
    if (this.takes('o')) return node('Unowned', this.type());
    if (this.takes('u')) return node('Unmanaged', this.type());
    if (this.takes('w')) return node('Weak', this.type());
    if (this.takes('F')) return readOldLoweredFunction(this);
    if (this.takes('P')) {
      this.takes('M');
      return node('ExistentialMetatype', this.type());
    }
    throw new NotSwift('not a kind of storage');
  }

  private builtin(): SwiftNode {
    const names: Readonly<Record<string, string>> = {
      b: 'Builtin.BridgeObject',
      B: 'Builtin.UnsafeValueBuffer',
      O: 'Builtin.UnknownObject',
      o: 'Builtin.NativeObject',
      p: 'Builtin.RawPointer',
      t: 'Builtin.SILToken',
      w: 'Builtin.Word',
    };
    const letter = this.next();
    const name = names[letter];
    if (name !== undefined) return textNode('BuiltinTypeName', name);
    if (letter === 'f' || letter === 'i') {
      const bits = this.natural();
      this.expect('_');
      return textNode('BuiltinTypeName', `Builtin.${letter === 'f' ? 'FPIEEE' : 'Int'}${bits}`);
    }
    if (letter !== 'v') throw new NotSwift('not a builtin type');
    const count = this.natural();
    this.expect('B');
    const element = this.builtin().text.replace('Builtin.', '');
    return textNode('BuiltinTypeName', `Builtin.Vec${count}x${element}`);
  }

  private boundGeneric(): SwiftNode {
    return typeNode(this.bindArguments(innerOf(this.type())));
  }

  /** One list of arguments for each type that this one is nested in, outermost first. */
  private bindArguments(nominal: SwiftNode): SwiftNode {
    const [context, ...rest] = nominal.children;
    if (!context || !/^(?:Class|Structure|Enum)$/.test(nominal.kind)) throw new NotSwift('not a declared type');
    const isNested = /^(?:Class|Structure|Enum)$/.test(context.kind);
    const type = isNested
      ? node(
          nominal.kind,
          this.nested(() => this.bindArguments(context)),
          ...rest,
        )
      : nominal;
    const types: SwiftNode[] = [];
    while (!this.takes('_')) types.push(this.type());
    return types.length === 0 ? type : node(`BoundGeneric${nominal.kind}`, typeNode(type), node('TypeList', ...types));
  }

  private tuple(isVariadic: boolean): SwiftNode {
    const elements: SwiftNode[] = [];
    while (!this.takes('_')) {
      const name = this.atIdentifier() ? [textNode('TupleElementName', this.identifier().text)] : [];
      elements.push(node('TupleElement', ...name, this.type()));
    }
    const last = elements.at(-1);
    if (isVariadic && last) elements[elements.length - 1] = node('TupleElement', node('VariadicMarker'), ...last.children);
    return node('Tuple', ...elements);
  }

  private functionType(kind: string): SwiftNode {
    const throws = this.takes('z') ? [node('ThrowsAnnotation')] : [];
    const parameters = this.type();
    return node(kind, ...throws, node('ArgumentTuple', parameters), node('ReturnType', this.type()));
  }

  private protocols(): SwiftNode {
    if (this.takes('M')) return node('ExistentialMetatype', this.type());
    const protocols: SwiftNode[] = [];
    while (!this.takes('_')) protocols.push(typeNode(this.protocolName()));
    return node('ProtocolList', node('TypeList', ...protocols));
  }

  /** `q_` is the second parameter, `qn_` later ones, `qd…` those of deeper signatures. */
  private dependent(): SwiftNode {
    if (this.takes('x')) return innerOf(genericParameter(0, 0));
    if (this.takes('d')) {
      const depth = this.index() + 1;
      return innerOf(genericParameter(depth, this.index()));
    }
    return innerOf(genericParameter(0, this.index() + 1));
  }

  /** `Wx5Mince6Quince_`: an associated type of an associated type. */
  private associatedPath(): SwiftNode {
    let base = typeNode(this.dependent());
    while (!this.takes('_')) base = typeNode(node('DependentMemberType', base, this.associatedName()));
    return innerOf(base);
  }

  private associatedName(): SwiftNode {
    if (this.takes('S')) {
      const known = this.substitution();
      if (known.kind !== 'DependentAssociatedTypeRef') throw new NotSwift('not an associated type');
      return known;
    }
    const protocol = this.takes('P') ? [typeNode(this.protocolName())] : [];
    return this.remember(node('DependentAssociatedTypeRef', this.identifier(), ...protocol));
  }

  private associated(): SwiftNode {
    const base = typeNode(this.dependent());
    return node('DependentMemberType', base, this.associatedName());
  }

  genericSignature(): SwiftNode {
    const counts: SwiftNode[] = [];
    if (this.peek() !== 'R' && this.peek() !== 'r') {
      while (!/[Rr]/.test(this.peek())) counts.push(indexNode('ParameterCount', this.takes('z') ? 0 : this.index() + 1));
    } else counts.push(indexNode('ParameterCount', 1));
    const requirements: SwiftNode[] = [];
    if (this.takes('r')) return node('DependentGenericSignature', ...counts);
    this.expect('R');
    while (!this.takes('r')) requirements.push(this.requirement());
    return node('DependentGenericSignature', ...counts, ...requirements);
  }

  private layout(subject: SwiftNode): SwiftNode {
    const letter = this.next();
    const name = wanted(layouts[letter] ?? null, 'a layout');
    const sizes = /[EMem]/.test(letter) ? [this.natural(), ...(/[EM]/.test(letter) && this.takes('_') ? [this.natural()] : [])] : [];
    return node('LayoutRequirement', subject, textNode('Identifier', sizes.length > 0 ? `${name}(${sizes.join(', ')})` : name));
  }

  private requirement(): SwiftNode {
    const subject = typeNode(this.takes('w') ? this.associated() : this.takes('W') ? this.associatedPath() : this.dependent());
    if (this.takes('l')) return this.layout(subject);
    if (this.takes('z')) return node('SameTypeRequirement', subject, this.type());
    // A class begins as one; a protocol without a letter of its own.
    if (this.peek() === 'C') return node('ConformanceRequirement', subject, this.type());
    return node('ConformanceRequirement', subject, typeNode(this.protocolName()));
  }
}

const innerOf = (type: SwiftNode): SwiftNode => (type.kind === 'Type' ? (type.children[0] ?? type) : type);
