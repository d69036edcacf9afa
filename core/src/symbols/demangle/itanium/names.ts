import { readExpression } from './expressions.ts';
import { type Mangled, NotMangled } from './mangled.ts';
import {
  ArgumentPack,
  ForwardReference,
  FunctionEncoding,
  Name,
  Nested,
  type Node,
  Pack,
  Printed,
  StandardName,
  TemplateArguments,
  WithTemplateArguments,
} from './nodes.ts';
import { operators, standardNames } from './operators.ts';
import { readQualifiers, readType } from './types.ts';

/** What reading a name tells of the function it names. */
export interface NameFacts {
  isConversionOrConstructor: boolean;
  endsWithTemplateArguments: boolean;
  qualifiers: string;
  reference: string;
  hasExplicitObject: boolean;
}

const noFacts = (): NameFacts => ({
  isConversionOrConstructor: false,
  endsWithTemplateArguments: false,
  qualifiers: '',
  reference: '',
  hasExplicitObject: false,
});

/** Section 5.1.2, "General Structure". */
export const readEncoding = (mangled: Mangled): Node => withOwnTemplateParameters(mangled, () => encoding(mangled));

/** The template parameters of an inner function or type have nothing to do with those around it. */
function withOwnTemplateParameters<Value>(mangled: Mangled, read: () => Value): Value {
  const { templateParameters, outerTemplateParameters, argumentLevels } = mangled;
  mangled.templateParameters = [];
  mangled.outerTemplateParameters = [];
  mangled.argumentLevels = [];
  const value = mangled.nested(read);
  mangled.templateParameters = templateParameters;
  mangled.outerTemplateParameters = outerTemplateParameters;
  mangled.argumentLevels = argumentLevels;
  return value;
}

/** What the arguments of a template must fulfil. It counts levels of templates from the outermost, unlike everything else in a name. */
function readRequirement(mangled: Mangled): Node {
  const { templateParameters } = mangled;
  if (mangled.argumentLevels.length > 0) mangled.templateParameters = [...mangled.argumentLevels];
  const requirement = readExpression(mangled);
  mangled.templateParameters = templateParameters;
  return requirement;
}

function encoding(mangled: Mangled): Node {
  if (mangled.look() === 'G' || mangled.look() === 'T') return readSpecialName(mangled);
  const atEnd = () => mangled.atEnd || mangled.look() === 'E' || mangled.look() === '.' || mangled.look() === '_';
  const facts = noFacts();
  const forwardFrom = mangled.forwardReferences.length;
  const name = readName(mangled, facts);
  const known = mangled.templateParameters[0];
  for (const reference of mangled.forwardReferences.splice(forwardFrom)) {
    const target = known?.[reference.index];
    if (!target) throw new NotMangled();
    reference.target = target;
  }
  if (atEnd()) return name;

  let attributes: Node | null = null;
  if (mangled.takes('Ua9enable_ifI')) {
    const conditions: Node[] = [];
    while (!mangled.takes('E')) conditions.push(readTemplateArgument(mangled));
    attributes = new Printed((out) => {
      out.add(' [enable_if:');
      out.list(conditions);
      out.add(']');
    });
  }
  const result = !facts.isConversionOrConstructor && facts.endsWithTemplateArguments ? readType(mangled) : null;
  const parameters: Node[] = [];
  if (!mangled.takes('v')) {
    do parameters.push(readType(mangled));
    while (!atEnd() && mangled.look() !== 'Q');
  }
  if (facts.hasExplicitObject && parameters[0]) {
    const self = parameters[0];
    parameters[0] = new Printed((out) => {
      out.add('this ');
      self.print(out);
    });
  }
  const requirement = mangled.takes('Q') ? readRequirement(mangled) : null;
  return new FunctionEncoding(result, name, parameters, facts.qualifiers, facts.reference, attributes, requirement);
}

const specialNames: readonly (readonly [letters: string, words: string, read: (mangled: Mangled) => Node])[] = [
  ['TA', 'template parameter object for ', (mangled) => readTemplateArgument(mangled)],
  ['TV', 'vtable for ', (mangled) => readType(mangled)],
  ['TT', 'VTT for ', (mangled) => readType(mangled)],
  ['TI', 'typeinfo for ', (mangled) => readType(mangled)],
  ['TS', 'typeinfo name for ', (mangled) => readType(mangled)],
  ['TW', 'thread-local wrapper routine for ', (mangled) => readName(mangled, noFacts())],
  ['TH', 'thread-local initialization routine for ', (mangled) => readName(mangled, noFacts())],
  ['GV', 'guard variable for ', (mangled) => readName(mangled, noFacts())],
  ['GTt', 'transaction clone for ', (mangled) => readEncoding(mangled)],
  ['GTn', 'non-transaction clone for ', (mangled) => readEncoding(mangled)],
];

/** Section 5.1.4, "Other Special Functions and Entities". */
function readSpecialName(mangled: Mangled): Node {
  for (const [letters, words, read] of specialNames) if (mangled.takes(letters)) return prefixed(words, read(mangled));
  if (mangled.takes('Tc')) {
    readCallOffset(mangled);
    readCallOffset(mangled);
    return prefixed('covariant return thunk to ', readEncoding(mangled));
  }
  if (mangled.takes('TC')) {
    const whole = readType(mangled);
    mangled.number();
    mangled.expect('_');
    const base = readType(mangled);
    return new Printed((out) => {
      out.add('construction vtable for ');
      base.print(out);
      out.add('-in-');
      whole.print(out);
    });
  }
  if (mangled.takes('GR')) {
    const name = readName(mangled, noFacts());
    if (!mangled.takes('_') && /[0-9A-Z]/.test(mangled.look())) mangled.sequenceId();
    return prefixed('reference temporary for ', name);
  }
  if (mangled.takes('GI')) {
    const parts: string[] = [];
    while (mangled.takes('W')) parts.push((mangled.takes('P') ? ':' : parts.length > 0 ? '.' : '') + mangled.sourceText());
    return prefixed('initializer for module ', new Name(parts.join('')));
  }
  if (mangled.takes('T')) {
    const isVirtual = mangled.look() === 'v';
    readCallOffset(mangled);
    return prefixed(isVirtual ? 'virtual thunk to ' : 'non-virtual thunk to ', readEncoding(mangled));
  }
  throw new NotMangled();
}

const prefixed = (words: string, node: Node): Node =>
  new Printed((out) => {
    out.add(words);
    node.print(out);
  });

function readCallOffset(mangled: Mangled): void {
  if (mangled.takes('h')) {
    mangled.digits(true);
    mangled.expect('_');
    return;
  }
  mangled.expect('v');
  mangled.digits(true);
  mangled.expect('_');
  mangled.digits(true);
  mangled.expect('_');
}

/** Section 5.1.2, `<name>`. */
export function readName(mangled: Mangled, facts: NameFacts | null): Node {
  return mangled.nested(() => {
    if (mangled.look() === 'N') return readNestedName(mangled, facts);
    if (mangled.look() === 'Z') return readLocalName(mangled, facts);
    const { node, isSubstitution } = readUnscopedName(mangled, facts);
    if (mangled.look() === 'I') {
      if (!isSubstitution) mangled.remember(node);
      const templateArguments = readTemplateArguments(mangled, facts !== null);
      if (facts) facts.endsWithTemplateArguments = true;
      return new WithTemplateArguments(node, templateArguments);
    }
    if (isSubstitution) throw new NotMangled();
    return node;
  });
}

export function readUnscopedName(mangled: Mangled, facts: NameFacts | null): { node: Node; isSubstitution: boolean } {
  const std = mangled.takes('St') ? new Name('std') : null;
  if (!std && mangled.look() === 'S') return { node: readSubstitution(mangled), isSubstitution: true };
  return { node: readUnqualifiedName(mangled, facts, std), isSubstitution: false };
}

/** `<module-name>` of C++20: the entity is printed behind the name, as in `f@module`. */
function readModule(mangled: Mangled): string {
  let module = '';
  while (mangled.takes('W')) module += (mangled.takes('P') ? ':' : module === '' ? '' : '.') + mangled.sourceText();
  return module;
}

export function readUnqualifiedName(mangled: Mangled, facts: NameFacts | null, scope: Node | null): Node {
  const module = readModule(mangled);
  const isFriend = scope !== null && mangled.takes('F');
  const isInternal = mangled.takes('L');
  let name: Node;
  const letter = mangled.look();
  if (letter >= '1' && letter <= '9') {
    name = readSourceName(mangled);
    // GCC numbers internal names of one file that are alike.
    if (isInternal) readDiscriminator(mangled, /^(?:__\d+_|_\d)/);
  } else if (mangled.takes('DC')) {
    const parts: Node[] = [];
    do parts.push(readSourceName(mangled));
    while (!mangled.takes('E'));
    name = new Printed((out) => {
      out.add('[');
      out.list(parts);
      out.add(']');
    });
  } else if (letter === 'C' || letter === 'D') {
    if (!scope) throw new NotMangled();
    name = readConstructorOrDestructor(mangled, scope, facts);
    if (scope instanceof StandardName) return new Nested(scope.expanded(), readAbiTags(mangled, name));
  } else if (letter === 'U') name = readUnnamedType(mangled, facts);
  else name = readOperatorName(mangled, facts);
  if (module !== '') {
    const entity = name;
    name = new Printed(
      (out) => {
        entity.print(out);
        out.add(`@${module}`);
      },
      () => entity.baseName(),
    );
  }
  name = readAbiTags(mangled, name);
  if (!scope) return name;
  if (!isFriend) return new Nested(scope, name);
  const friend = name;
  return new Printed((out) => {
    scope.print(out);
    out.add('::friend ');
    friend.print(out);
  });
}

function readSourceName(mangled: Mangled): Node {
  const text = mangled.sourceText();
  return new Name(text.startsWith('_GLOBAL__N') ? '(anonymous namespace)' : text);
}

function readAbiTags(mangled: Mangled, name: Node): Node {
  let tagged = name;
  while (mangled.takes('B')) {
    const [inner, tag] = [tagged, mangled.sourceText()];
    tagged = new Printed(
      (out) => {
        inner.print(out);
        out.add(`[abi:${tag}]`);
      },
      () => inner.baseName(),
    );
  }
  return tagged;
}

function readConstructorOrDestructor(mangled: Mangled, scope: Node, facts: NameFacts | null): Node {
  const owner = scope instanceof StandardName ? scope.expanded() : scope;
  const isConstructor = mangled.takes('C');
  if (!isConstructor) mangled.expect('D');
  const isInheriting = isConstructor && mangled.takes('I');
  if (!(isConstructor ? /[1-5]/ : /[01245]/).test(mangled.look())) throw new NotMangled();
  mangled.position++;
  if (facts) facts.isConversionOrConstructor = true;
  if (isInheriting) readName(mangled, facts);
  return new Name((isConstructor ? '' : '~') + owner.baseName());
}

function readNestedName(mangled: Mangled, facts: NameFacts | null): Node {
  mangled.expect('N');
  if (mangled.takes('H')) {
    if (facts) facts.hasExplicitObject = true;
  } else {
    const qualifiers = readQualifiers(mangled);
    const reference = mangled.takes('O') ? '&&' : mangled.takes('R') ? '&' : '';
    if (facts) {
      facts.qualifiers = qualifiers;
      facts.reference = reference;
    }
  }
  let scope: Node | null = null;
  while (!mangled.takes('E')) {
    if (facts) facts.endsWithTemplateArguments = false;
    const letter = mangled.look();
    if (letter === 'T') {
      if (scope) throw new NotMangled();
      scope = readTemplateParameter(mangled);
    } else if (letter === 'I') {
      if (!scope || scope instanceof WithTemplateArguments) throw new NotMangled();
      scope = new WithTemplateArguments(scope, readTemplateArguments(mangled, facts !== null));
      if (facts) facts.endsWithTemplateArguments = true;
    } else if (letter === 'D' && (mangled.look(1) === 't' || mangled.look(1) === 'T')) {
      if (scope) throw new NotMangled();
      scope = readDecltype(mangled);
    } else {
      if (letter === 'S') {
        if (scope) throw new NotMangled();
        scope = mangled.takes('St') ? new Name('std') : readSubstitution(mangled);
        continue;
      }
      scope = readUnqualifiedName(mangled, facts, scope);
    }
    mangled.remember(scope);
    mangled.takes('M');
  }
  if (!scope || mangled.substitutions.length === 0) throw new NotMangled();
  mangled.substitutions.pop();
  return scope;
}

export function readDecltype(mangled: Mangled): Node {
  if (!mangled.takes('Dt')) mangled.expect('DT');
  const expression = readExpression(mangled);
  mangled.expect('E');
  return new Printed((out) => {
    out.add('decltype');
    out.open();
    expression.print(out);
    out.close();
  });
}

function readLocalName(mangled: Mangled, facts: NameFacts | null): Node {
  mangled.expect('Z');
  const inside = readEncoding(mangled);
  mangled.expect('E');
  const local = (entity: Node): Node =>
    new Printed(
      (out) => {
        inside.print(out);
        out.add('::');
        entity.print(out);
      },
      () => entity.baseName(),
    );
  if (mangled.takes('s')) {
    readDiscriminator(mangled);
    return local(new Name('string literal'));
  }
  if (mangled.takes('d')) {
    mangled.digits(true);
    mangled.expect('_');
    return local(readName(mangled, facts));
  }
  const entity = facts ? readName(mangled, facts) : withOwnTemplateParameters(mangled, () => readName(mangled, null));
  readDiscriminator(mangled);
  return local(entity);
}

/** Tells entities of one name in one function apart; nobody writes it. */
function readDiscriminator(mangled: Mangled, form = /^(?:__\d+_|_\d|\d+$)/): void {
  const match = form.exec(mangled.text.slice(mangled.position, mangled.position + 24));
  if (match) mangled.position += match[0].length;
}

/** Section 5.1.7.1, "Closure Types" and unnamed types. */
export function readUnnamedType(mangled: Mangled, facts: NameFacts | null): Node {
  if (facts) mangled.templateParameters = [];
  if (mangled.takes('Ut')) {
    const count = mangled.digits();
    mangled.expect('_');
    return new Printed((out) => out.add(`'unnamed${count}'`));
  }
  if (mangled.takes('Ub')) {
    mangled.digits();
    mangled.expect('_');
    return new Name("'block-literal'");
  }
  mangled.expect('Ul');
  const lambdaBefore = mangled.lambdaLevel;
  const levels = mangled.templateParameters.length;
  mangled.lambdaLevel = levels;
  const own: Node[] = [];
  mangled.templateParameters.push(own);
  const declared: Node[] = [];
  while (isParameterDeclaration(mangled)) declared.push(readParameterDeclaration(mangled, own));
  if (declared.length === 0) mangled.templateParameters.pop();
  const first = mangled.takes('Q') ? readExpression(mangled) : null;
  const parameters: Node[] = [];
  if (!mangled.takes('v')) {
    do parameters.push(readType(mangled));
    while (mangled.look() !== 'E' && mangled.look() !== 'Q');
  }
  const second = mangled.takes('Q') ? readExpression(mangled) : null;
  mangled.expect('E');
  const count = mangled.digits();
  mangled.expect('_');
  mangled.templateParameters.length = Math.min(mangled.templateParameters.length, levels);
  mangled.lambdaLevel = lambdaBefore;
  return new Printed((out) => {
    out.add(`'lambda${count}'`);
    if (declared.length > 0) {
      out.insideTemplateArguments(() => {
        out.add('<');
        out.list(declared);
        out.add('>');
      });
    }
    if (first) {
      out.add(' requires ');
      first.print(out);
      out.add(' ');
    }
    out.open();
    out.list(parameters);
    out.close();
    if (second) {
      out.add(' requires ');
      second.print(out);
    }
  });
}

const isParameterDeclaration = (mangled: Mangled): boolean => mangled.look() === 'T' && 'yptnk'.includes(mangled.look(1) || '-');

/** Parameters that a generic lambda declares itself: they have no names of their own. */
function readParameterDeclaration(mangled: Mangled, own: Node[]): Node {
  const invent = (prefix: string, kind: keyof typeof mangled.syntheticNames): Node => {
    const index = mangled.syntheticNames[kind]++;
    const name = new Name(prefix + (index > 0 ? String(index - 1) : ''));
    own.push(name);
    return name;
  };
  const declaration = (before: string, name: Node) => prefixed(before, name);
  if (mangled.takes('Ty')) return declaration('typename ', invent('$T', 'type'));
  if (mangled.takes('Tk')) {
    const concept = readName(mangled, null);
    const name = invent('$T', 'type');
    return new Printed((out) => {
      concept.print(out);
      out.add(' ');
      name.print(out);
    });
  }
  if (mangled.takes('Tn')) {
    const name = invent('$N', 'value');
    const type = readType(mangled);
    return new Printed((out) => {
      type.left(out);
      if (!type.hasRight(out)) out.add(' ');
      name.print(out);
      type.right(out);
    });
  }
  if (mangled.takes('Tt')) {
    const name = invent('$TT', 'template');
    const inner: Node[] = [];
    mangled.templateParameters.push([]);
    while (!mangled.takes('E')) inner.push(readParameterDeclaration(mangled, mangled.templateParameters.at(-1) as Node[]));
    mangled.templateParameters.pop();
    return new Printed((out) => {
      out.insideTemplateArguments(() => {
        out.add('template<');
        out.list(inner);
        out.add('> typename ');
      });
      name.print(out);
    });
  }
  mangled.expect('Tp');
  const pack = readParameterDeclaration(mangled, own);
  return new Printed((out) => {
    pack.print(out);
    out.add('...');
  });
}

/** Section 5.1.3, "Operator Encodings". */
export function readOperatorName(mangled: Mangled, facts: NameFacts | null): Node {
  if (mangled.takes('cv')) {
    const { takesTemplateArguments, permitsForwardReferences } = mangled;
    mangled.takesTemplateArguments = false;
    mangled.permitsForwardReferences = permitsForwardReferences || facts !== null;
    const type = readType(mangled);
    mangled.takesTemplateArguments = takesTemplateArguments;
    mangled.permitsForwardReferences = permitsForwardReferences;
    if (facts) facts.isConversionOrConstructor = true;
    return prefixed('operator ', type);
  }
  if (mangled.takes('li')) return prefixed('operator"" ', readSourceName(mangled));
  const operator = operators.get(mangled.look() + mangled.look(1));
  if (operator) {
    mangled.position += 2;
    if (operator.kind === 'of-type' || operator.kind === 'of-expression' || operator.kind === 'named-cast') throw new NotMangled();
    return new Name(`operator${operator.text}`);
  }
  if (mangled.takes('v')) {
    // A digit tells how many operands the vendor's operator takes.
    mangled.position++;
    return prefixed('operator ', readSourceName(mangled));
  }
  throw new NotMangled();
}

/** Section 5.1.5.7, "Template Parameters". */
export function readTemplateParameter(mangled: Mangled): Node {
  mangled.expect('T');
  let level = 0;
  if (mangled.takes('L')) {
    level = mangled.number() + 1;
    mangled.expect('_');
  }
  const index = mangled.parameterIndex();
  if (mangled.permitsForwardReferences && level === 0) return forwardReference(mangled, index);
  const known = mangled.templateParameters[level]?.[index];
  if (known) return known;
  if (mangled.lambdaLevel === level && level <= mangled.templateParameters.length) {
    if (level === mangled.templateParameters.length) mangled.templateParameters.push(null);
    return new Name('auto');
  }
  throw new NotMangled();
}

function forwardReference(mangled: Mangled, index: number): Node {
  const reference = new ForwardReference(index);
  mangled.forwardReferences.push(reference);
  return reference;
}

/** Section 5.1.5.8, "Template Arguments". With `tagged` they are what the function's own parameters refer to. */
export function readTemplateArguments(mangled: Mangled, tagged: boolean): Node {
  mangled.expect('I');
  if (tagged) {
    mangled.outerTemplateParameters = [];
    mangled.templateParameters = [mangled.outerTemplateParameters];
    mangled.argumentLevels.push(mangled.outerTemplateParameters);
  }
  const values: Node[] = [];
  while (!mangled.takes('E')) {
    const { templateParameters, outerTemplateParameters } = mangled;
    const value = readTemplateArgument(mangled);
    values.push(value);
    if (tagged) {
      mangled.templateParameters = templateParameters;
      mangled.outerTemplateParameters = outerTemplateParameters;
      outerTemplateParameters.push(value instanceof ArgumentPack ? new Pack(value.elements) : value);
    }
    if (mangled.takes('Q')) {
      // Part of the template's head, where nobody looks for it in the name of a function.
      readRequirement(mangled);
      mangled.expect('E');
      break;
    }
  }
  return new TemplateArguments(values);
}

export function readTemplateArgument(mangled: Mangled): Node {
  return mangled.nested(() => {
    if (mangled.takes('X')) {
      const expression = readExpression(mangled);
      mangled.expect('E');
      return expression;
    }
    // "I" is how a pack was written before the grammar had a letter for it.
    if (mangled.takes('J') || mangled.takes('I')) {
      const elements: Node[] = [];
      while (!mangled.takes('E')) elements.push(readTemplateArgument(mangled));
      return new ArgumentPack(elements);
    }
    if (mangled.look() === 'L') {
      if (mangled.look(1) !== 'Z') return readExpression(mangled);
      mangled.position += 2;
      const encoded = readEncoding(mangled);
      mangled.expect('E');
      return encoded;
    }
    if (isParameterDeclaration(mangled)) {
      readParameterDeclaration(mangled, []);
      return readTemplateArgument(mangled);
    }
    return readType(mangled);
  });
}

/** Section 5.1.8, "Compression". */
export function readSubstitution(mangled: Mangled): Node {
  mangled.expect('S');
  const standard = standardNames[mangled.look()];
  if (standard) {
    mangled.position++;
    const name = new StandardName(...standard);
    const tagged = readAbiTags(mangled, name);
    return tagged === name ? name : mangled.remember(tagged);
  }
  const known = mangled.substitutions[mangled.sequenceId()];
  if (!known) throw new NotMangled();
  return known;
}
