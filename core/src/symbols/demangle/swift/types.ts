import {
  child,
  childOfKind,
  genericParameter,
  indexNode,
  isDeclarationName,
  isNominal,
  NotSwift,
  node,
  type SwiftNode,
  textNode,
  typeNode,
} from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';

/** A declared type: its name and what holds it. */
export function readNominal(reader: SwiftReader, kind: string): SwiftNode {
  const name = reader.wantIf(isDeclarationName, 'the name of a type');
  return reader.remember(typeNode(node(kind, reader.popContext(), name)));
}

const before = (kind: string, text: string, type: SwiftNode): SwiftNode => ({ kind, text, index: 0, children: [type] });

const functionMarks = [
  ['SelfLifetimeDependence'],
  ['SendingResultFunctionType'],
  ['GlobalActorFunctionType', 'IsolatedAnyFunctionType', 'NonIsolatedCallerFunctionType'],
  ['DifferentiableFunctionType'],
  ['ThrowsAnnotation', 'TypedThrowsAnnotation'],
  ['ConcurrentFunctionType'],
  ['AsyncAnnotation'],
] as const;

/** A function type: its marks, arguments and result from the top of the stack. */
export function popFunctionType(reader: SwiftReader, kind = 'FunctionType'): SwiftNode {
  const marks = functionMarks.map((kinds) => reader.pop(...kinds)).filter((one) => one !== null);
  const parameters = node('ArgumentTuple', popParameters(reader));
  const result = node('ReturnType', popParameters(reader));
  return typeNode(node(kind, ...marks, parameters, result));
}

const popParameters = (reader: SwiftReader): SwiftNode => (reader.pop('EmptyList') ? typeNode(node('Tuple')) : reader.want('Type'));

/** The argument labels of a function, which stand before its type; null where the name keeps none. */
export function popLabels(reader: SwiftReader, type: SwiftNode): SwiftNode | null {
  if (!reader.labelsInTypes && reader.pop('EmptyList')) return node('LabelList');
  let inner = type.children[0];
  if (inner?.kind === 'DependentGenericType') inner = inner.children[1]?.children[0];
  if (!inner || (inner.kind !== 'FunctionType' && inner.kind !== 'NoEscapeFunctionType')) return null;
  const tuple = childOfKind(inner, 'ArgumentTuple')?.children[0]?.children[0];
  const elements = tuple?.kind === 'Tuple' ? tuple.children : [tuple];
  if (elements.length === 0) return null;
  if (reader.labelsInTypes) {
    if (tuple?.kind !== 'Tuple') return node('LabelList');
    const labels = elements.map((one) => (one && childOfKind(one, 'TupleElementName')) ?? node('FirstElementMarker'));
    return node('LabelList', ...(labels.some(({ text }) => text !== '') ? labels.map(({ text }) => labelOf(text)) : []));
  }
  const labels = elements.map(() => reader.want('Identifier', 'FirstElementMarker')).reverse();
  return node('LabelList', ...(labels.some(({ kind }) => kind === 'Identifier') ? labels : []));
}

const labelOf = (text: string): SwiftNode => (text === '' ? node('FirstElementMarker') : textNode('Identifier', text));

export function popTuple(reader: SwiftReader): SwiftNode {
  const elements = reader.popList(() => {
    const variadic = reader.pop('VariadicMarker');
    const name = reader.pop('Identifier');
    const type = reader.want('Type');
    return node('TupleElement', ...(variadic ? [variadic] : []), ...(name ? [textNode('TupleElementName', name.text)] : []), type);
  });
  return typeNode(node('Tuple', ...elements));
}

export const popTypeList = (reader: SwiftReader): SwiftNode => node('TypeList', ...reader.popList(() => reader.want('Type')));

export const popProtocolList = (reader: SwiftReader): SwiftNode =>
  node('ProtocolList', node('TypeList', ...reader.popList(() => reader.popProtocol())));

/** The arguments of a generic type at each level of its nesting, innermost first. */
export function popGenericArguments(reader: SwiftReader): SwiftNode[] {
  while (reader.pop('RetroactiveConformance'));
  const levels: SwiftNode[] = [];
  for (;;) {
    const types: SwiftNode[] = [];
    for (let type = reader.pop('Type'); type; type = reader.pop('Type')) types.push(type);
    levels.push(node('TypeList', ...types.reverse()));
    if (reader.pop('EmptyList')) return levels;
    reader.want('FirstElementMarker');
  }
}

export function readBoundGeneric(reader: SwiftReader): SwiftNode {
  const levels = popGenericArguments(reader);
  return reader.remember(typeNode(bindArguments(reader.popNominal(), levels, 0)));
}

/** What is no level of its own when arguments are handed to the types and functions around a declaration. */
const withoutArguments = new Set(
  `DefaultArgumentInitializer ExplicitClosure Extension ImplicitClosure Initializer PropertyWrapperBackingInitializer Static Subscript
  Variable`.split(/\s+/),
);

function bindArguments(nominal: SwiftNode, levels: readonly SwiftNode[], level: number): SwiftNode {
  const list = levels[level];
  if (!list) return nominal;
  const takesArguments = !withoutArguments.has(nominal.kind);
  const nextLevel = takesArguments ? level + 1 : level;
  let bound = nominal;
  if (nextLevel < levels.length) {
    const [context, ...rest] = nominal.children;
    if (!context || context.kind === 'Module') throw new NotSwift('more levels of arguments than types');
    const outer =
      context.kind === 'Extension'
        ? node('Extension', child(context, 0), bindArguments(child(context, 1), levels, nextLevel), ...context.children.slice(2))
        : bindArguments(context, levels, nextLevel);
    bound = node(nominal.kind, outer, ...rest);
  }
  if (!takesArguments || list.children.length === 0) return bound;
  if (!isNominal(nominal) && nominal.kind !== 'Function' && nominal.kind !== 'Constructor')
    throw new NotSwift('arguments of what takes none');
  return node(isNominal(nominal) ? `BoundGeneric${nominal.kind}` : 'BoundGenericFunction', typeNode(bound), list);
}

/** A generic parameter by depth and index. */
export function readGenericParameter(reader: SwiftReader): SwiftNode {
  if (reader.takes('d')) {
    const depth = reader.index() + 1;
    return genericParameter(depth, reader.index());
  }
  if (reader.takes('z')) return genericParameter(0, 0);
  if (reader.takes('s')) return typeNode(textNode('DependentGenericParamType', 'Self'));
  return genericParameter(0, reader.index() + 1);
}

/** What stands behind `Q`: associated types, opaque results, packs. */
export function readArchetype(reader: SwiftReader): SwiftNode {
  switch (reader.next()) {
    case 'a': {
      const name = reader.want('Identifier');
      return reader.remember(typeNode(node('AssociatedTypeRef', reader.wantInnerType(), name)));
    }
    case 'O':
      return node('OpaqueReturnTypeOf', reader.popContext());
    case 'o': {
      const index = reader.index();
      popGenericArguments(reader);
      return reader.remember(typeNode(node('OpaqueType', reader.want(), indexNode('Number', index))));
    }
    case 'r':
      return typeNode(node('OpaqueReturnType'));
    case 'R':
      reader.index();
      return typeNode(node('OpaqueReturnType'));
    case 'x':
      return reader.remember(popAssociatedType(reader, null));
    case 'X':
      return reader.remember(popAssociatedPath(reader, null));
    case 'y':
      return reader.remember(popAssociatedType(reader, readGenericParameter(reader)));
    case 'Y':
      return reader.remember(popAssociatedPath(reader, readGenericParameter(reader)));
    case 'z':
      return reader.remember(popAssociatedType(reader, genericParameter(0, 0)));
    case 'Z':
      return reader.remember(popAssociatedPath(reader, genericParameter(0, 0)));
    case 'p': {
      reader.want('Type');
      return typeNode(node('PackExpansion', reader.want('Type')));
    }
    case 'P':
      return typeNode(node('Pack', ...popTypeList(reader).children));
    default:
      throw new NotSwift('not an archetype');
  }
}

export function popAssociatedName(reader: SwiftReader): SwiftNode {
  const protocol = reader.pop('Type');
  const name = reader.want('Identifier');
  return node('DependentAssociatedTypeRef', name, ...(protocol ? [protocol] : []));
}

function popAssociatedType(reader: SwiftReader, base: SwiftNode | null): SwiftNode {
  const name = popAssociatedName(reader);
  return typeNode(node('DependentMemberType', base ?? reader.want('Type'), name));
}

function popAssociatedPath(reader: SwiftReader, base: SwiftNode | null): SwiftNode {
  const names = reader.popList(() => popAssociatedName(reader));
  return names.reduce((type, name) => typeNode(node('DependentMemberType', type, name)), base ?? reader.want('Type'));
}

/** The requirement of a generic signature behind `R`: what it is about, and what is asked of it. */
const requirementForms: Readonly<Record<string, readonly [constraint: string, subject: string]>> = {
  c: ['base', 'member'],
  C: ['base', 'path'],
  b: ['base', 'parameter'],
  B: ['base', 'type'],
  t: ['same', 'member'],
  T: ['same', 'path'],
  s: ['same', 'parameter'],
  S: ['same', 'type'],
  m: ['layout', 'member'],
  M: ['layout', 'path'],
  l: ['layout', 'parameter'],
  L: ['layout', 'type'],
  p: ['protocol', 'member'],
  P: ['protocol', 'path'],
  Q: ['protocol', 'type'],
  v: ['pack', 'parameter'],
  h: ['shape', 'parameter'],
  i: ['inverse', 'parameter'],
  j: ['inverse', 'member'],
  J: ['inverse', 'path'],
  I: ['inverse', 'type'],
};

export function readRequirement(reader: SwiftReader): SwiftNode {
  const form = requirementForms[reader.peek()];
  if (form) reader.next();
  const [constraint, subject] = form ?? ['protocol', 'parameter'];
  const inverse = constraint === 'inverse' ? reader.index() : 0;
  const about = popSubject(reader, subject);
  switch (constraint) {
    case 'protocol':
      return node('ConformanceRequirement', about, reader.popProtocol());
    case 'base':
      return node('ConformanceRequirement', about, reader.want('Type'));
    case 'same':
      return node('SameTypeRequirement', about, reader.want('Type'));
    case 'shape':
      return node('SameShapeRequirement', about, reader.want('Type'));
    case 'pack':
      return node('ParameterPackMarker', about);
    case 'inverse':
      return node('InverseRequirement', about, indexNode('Number', inverse));
    default:
      return readLayout(reader, about);
  }
}

function popSubject(reader: SwiftReader, subject: string): SwiftNode {
  switch (subject) {
    case 'parameter':
      return readGenericParameter(reader);
    case 'member':
      return reader.remember(popAssociatedType(reader, readGenericParameter(reader)));
    case 'path':
      return reader.remember(popAssociatedPath(reader, readGenericParameter(reader)));
    default:
      return reader.want('Type');
  }
}

/** What a type must be like in memory, by letter. */
export const layouts: Readonly<Record<string, string>> = {
  U: '_UnknownLayout',
  R: '_RefCountedObject',
  N: '_NativeRefCountedObject',
  C: 'AnyObject',
  D: '_NativeClass',
  T: '_Trivial',
  E: '_Trivial',
  e: '_Trivial',
  M: '_TrivialAtMost',
  m: '_TrivialAtMost',
  B: '_BridgeObject',
};

function readLayout(reader: SwiftReader, about: SwiftNode): SwiftNode {
  const letter = reader.next();
  const name = wanted(layouts[letter] ?? null, 'a layout');
  const sizes = 'EM'.includes(letter) ? [reader.index(), reader.index()] : 'em'.includes(letter) ? [reader.index()] : [];
  return node('LayoutRequirement', about, textNode('Identifier', sizes.length > 0 ? `${name}(${sizes.join(', ')})` : name));
}

const requirementKinds = [
  'ConformanceRequirement',
  'SameTypeRequirement',
  'SameShapeRequirement',
  'LayoutRequirement',
  'ParameterPackMarker',
  'InverseRequirement',
];

/** A generic signature: how many parameters each depth has, then what is required of them. */
export function readGenericSignature(reader: SwiftReader, hasCounts: boolean): SwiftNode {
  const counts: SwiftNode[] = [];
  if (hasCounts) while (!reader.takes('l')) counts.push(indexNode('ParameterCount', reader.takes('z') ? 0 : reader.index() + 1));
  else counts.push(indexNode('ParameterCount', 1));
  const requirements: SwiftNode[] = [];
  for (let one = reader.pop(...requirementKinds); one; one = reader.pop(...requirementKinds)) requirements.push(one);
  return node('DependentGenericSignature', ...counts, ...requirements.reverse());
}

const wrappers: Readonly<Record<string, string>> = { o: 'Unowned', u: 'Unmanaged', w: 'Weak', b: 'BoxType', D: 'DynamicSelf' };
const functionForms: Readonly<Record<string, string>> = {
  E: 'NoEscapeFunctionType',
  A: 'EscapingAutoClosureType',
  f: 'ThinFunctionType',
  K: 'AutoClosureType',
  U: 'UncurriedFunctionType',
  L: 'EscapingObjCBlock',
  B: 'ObjCBlock',
  C: 'CFunctionPointer',
};
const representations: Readonly<Record<string, string>> = { t: '@thin', T: '@thick', o: '@objc_metatype' };

/** What stands behind `X`: types that no one declares. */
export function readSpecialType(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  const form = functionForms[letter];
  if (form !== undefined) return popFunctionType(reader, form);
  const wrapper = wrappers[letter];
  if (wrapper !== undefined) return typeNode(node(wrapper, reader.want('Type')));
  switch (letter) {
    case 'M':
    case 'm': {
      const representation = textNode('Representation', wanted(representations[reader.next()] ?? null, 'a representation'));
      return typeNode(node(letter === 'M' ? 'Metatype' : 'ExistentialMetatype', reader.want('Type'), representation));
    }
    case 'p':
      return typeNode(node('ExistentialMetatype', reader.want('Type')));
    case 'x':
      return typeNode(node('BoxWithLayout', popTypeList(reader)));
    case 'X': {
      const signature = reader.want('DependentGenericSignature');
      const bound = popTypeList(reader);
      return typeNode(node('BoxWithLayout', popTypeList(reader), signature, bound));
    }
    case 'P': {
      const requirements = reader.popList(() => reader.want(...requirementKinds));
      return typeNode(node('ConstrainedExistential', reader.want('Type'), ...requirements));
    }
    case 'c': {
      const base = reader.want('Type');
      return typeNode(node('ProtocolListWithClass', popProtocolList(reader), base));
    }
    case 'l':
      return typeNode(node('ProtocolListWithAnyObject', popProtocolList(reader)));
    case 'Y':
      return readNominal(reader, 'OtherNominalType');
    case 'Z': {
      const types = popTypeList(reader);
      const name = reader.want('Identifier');
      return node('AnonymousContext', name, reader.popContext(), types);
    }
    case 'e':
      return typeNode(node('ErrorType'));
    case 'S': {
      const sugar = reader.next();
      if (sugar === 'D') {
        const value = reader.want('Type');
        return typeNode(node('SugaredDictionary', reader.want('Type'), value));
      }
      const kind = { q: 'SugaredOptional', a: 'SugaredArray', p: 'SugaredParen' }[sugar];
      return typeNode(node(wanted(kind ?? null, 'sugar'), reader.want('Type')));
    }
    default:
      throw new NotSwift('not a special type');
  }
}

/** Functions that can be derived, by how. */
export const differentiableWords: Readonly<Record<string, string>> = {
  d: '@differentiable',
  f: '@differentiable(_forward)',
  r: '@differentiable(reverse)',
  l: '@differentiable(_linear)',
};
const lifetimes: Readonly<Record<string, string>> = { s: 'scope', i: 'inherit' };

/** What stands behind `Y`: marks of function types and parameters. */
export function readTypeMark(reader: SwiftReader): SwiftNode {
  switch (reader.next()) {
    case 'a':
      return node('AsyncAnnotation');
    case 'A':
      return node('IsolatedAnyFunctionType');
    case 'b':
      return node('ConcurrentFunctionType');
    case 'c':
      return node('GlobalActorFunctionType', reader.want('Type'));
    case 'C':
      return node('NonIsolatedCallerFunctionType');
    case 'i':
      return typeNode(node('Isolated', reader.want('Type')));
    case 'j':
      return textNode('DifferentiableFunctionType', wanted(differentiableWords[reader.next()] ?? null, 'a derivative'));
    case 'l':
      return typeNode(before('LifetimeDependence', wanted(lifetimes[reader.next()] ?? null, 'a lifetime'), reader.want('Type')));
    case 'L':
      return textNode('SelfLifetimeDependence', wanted(lifetimes[reader.next()] ?? null, 'a lifetime'));
    case 'k':
      return typeNode(node('NoDerivative', reader.want('Type')));
    case 'K':
      return node('TypedThrowsAnnotation', reader.want('Type'));
    case 't':
      return typeNode(node('CompileTimeLiteral', reader.want('Type')));
    case 'g':
      return typeNode(node('ConstantValue', reader.want('Type')));
    case 'T':
      return node('SendingResultFunctionType');
    case 'u':
      return typeNode(node('Sending', reader.want('Type')));
    default:
      throw new NotSwift('not a mark of a type');
  }
}
