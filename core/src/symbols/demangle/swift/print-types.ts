import { childOfKind, genericParameterName, type SwiftNode } from './node.ts';
import { innerType, type Print, type SwiftPrinter } from './printer.ts';

/** `prefix T`. */
const before =
  (prefix: string): Print =>
  (printer, { children }) => {
    printer.add(prefix).print(children[0]);
  };

const printText: Print = (printer, { text }) => {
  printer.add(text);
};

const standardName = (one: SwiftNode | undefined): string | null => {
  const nominal = innerType(one);
  const [context, name] = nominal?.children ?? [];
  return context?.kind === 'Module' && context.text === 'Swift' ? (name?.text ?? null) : null;
};

/** Sugar binds to the one type before it, so a function or a composition needs parentheses. */
function printOperand(printer: SwiftPrinter, type: SwiftNode | undefined): void {
  const inner = innerType(type);
  const isSimple =
    inner !== undefined &&
    !/FunctionType$|Block$|^CFunctionPointer$|^Existential|^OpaqueType$|^ProtocolListWith/.test(inner.kind) &&
    !(inner.kind === 'ProtocolList' && (inner.children[0]?.children.length ?? 0) > 1);
  if (isSimple) printer.print(type);
  else printer.add('(').print(type).add(')');
}

const printBound: Print = (printer, one) => {
  const [nominal, list] = one.children;
  const [first, second] = list?.children ?? [];
  const name = standardName(nominal);
  if (name === 'Optional' && first) {
    printOperand(printer, first);
    printer.add('?');
  } else if (name === 'ImplicitlyUnwrappedOptional' && first && printer.isShort) {
    printOperand(printer, first);
    printer.add('!');
  } else if (name === 'Array' && first) printer.add('[').print(first).add(']');
  else if (name === 'Dictionary' && first && second) printer.add('[').print(first).add(' : ').print(second).add(']');
  else
    printer
      .print(nominal)
      .add('<')
      .list(list?.children ?? [])
      .add('>');
};

const functionMarks = new Set([
  'SendingResultFunctionType',
  'GlobalActorFunctionType',
  'IsolatedAnyFunctionType',
  'NonIsolatedCallerFunctionType',
  'DifferentiableFunctionType',
  'ConcurrentFunctionType',
  'SelfLifetimeDependence',
]);

/** A function type; with labels it is the signature of a function, whose short form has nothing but them. */
export function printSignature(printer: SwiftPrinter, type: SwiftNode, labels: SwiftNode | null): void {
  const isEntity = labels !== null;
  if (!printer.isShort || !isEntity) for (const mark of type.children) if (functionMarks.has(mark.kind)) printer.print(mark);
  const shows = !(printer.isShort && isEntity);
  printParameters(printer, childOfKind(type, 'ArgumentTuple'), labels, shows);
  if (!shows) return;
  if (childOfKind(type, 'AsyncAnnotation')) printer.add(' async');
  if (childOfKind(type, 'ThrowsAnnotation')) printer.add(' throws');
  const thrown = childOfKind(type, 'TypedThrowsAnnotation');
  if (thrown) printer.add(' throws(').print(thrown.children[0]).add(')');
  const result = childOfKind(type, 'ReturnType');
  printer.add(childOfKind(type, 'SendingResultFunctionType') ? ' -> sending ' : ' -> ').print(result?.children[0]);
}

function printParameters(printer: SwiftPrinter, tuple: SwiftNode | null, labels: SwiftNode | null, showsTypes: boolean): void {
  const parameters = innerType(tuple?.children[0]);
  const labelAt = (at: number): string => {
    const label = labels?.children[at];
    return label?.kind === 'Identifier' ? label.text : '_';
  };
  const hasLabels = (labels?.children.length ?? 0) > 0;
  if (parameters?.kind !== 'Tuple') {
    if (!showsTypes) printer.add(hasLabels ? `(${labelAt(0)}:)` : '(_:)');
    else {
      printer.add(hasLabels ? `(${labelAt(0)}: ` : '(');
      printer.print(parameters).add(')');
    }
    return;
  }
  printer.add('(');
  parameters.children.forEach((element, at) => {
    if (at > 0 && showsTypes) printer.add(', ');
    if (hasLabels) printer.add(`${labelAt(at)}:${showsTypes ? ' ' : ''}`);
    else if (!showsTypes) printer.add(`${childOfKind(element, 'TupleElementName')?.text ?? '_'}:`);
    if (showsTypes) printElement(printer, element, !hasLabels);
  });
  printer.add(')');
}

function printElement(printer: SwiftPrinter, element: SwiftNode, showsName: boolean): void {
  const name = childOfKind(element, 'TupleElementName');
  if (name && showsName) printer.add(`${name.text}: `);
  printer.print(element.children.at(-1));
  if (childOfKind(element, 'VariadicMarker')) printer.add('...');
}

/** The parameters of each depth, A, B…, then what is required of them. */
const printGenericSignature: Print = (printer, { children }) => {
  const counts = children.filter(({ kind }) => kind === 'ParameterCount');
  const requirements = children.filter(({ kind }) => kind !== 'ParameterCount' && kind !== 'ParameterPackMarker');
  printer.add('<');
  counts.forEach(({ index: count }, depth) => {
    if (depth > 0) printer.add('><');
    const shown = Math.min(count, 128);
    printer.add(Array.from({ length: shown }, (_, at) => genericParameterName(depth, at)).join(', '));
    if (count > shown) printer.add(', ...');
  });
  if (requirements.length > 0 && !printer.isShort) printer.add(' where ').list(requirements);
  printer.add('>');
};

const both =
  (between: string): Print =>
  (printer, { children }) => {
    printer.print(children[0]).add(between).print(children[1]);
  };

/** Whether a space stands between a generic signature and what it is for. */
export function needsSpace(type: SwiftNode | undefined): boolean {
  const inner = innerType(type);
  return !(inner?.kind === 'FunctionType' || inner?.kind === 'NoEscapeFunctionType' || inner?.kind === 'UncurriedFunctionType');
}

const printFunctionType =
  (prefix: string): Print =>
  (printer, one) => {
    printer.add(prefix);
    printSignature(printer, one, null);
  };

const printLowered: Print = (printer, { children }) => {
  const of = (kind: string) => children.filter((one) => one.kind === kind);
  const [patterns] = of('PatternSubstitutions');
  const [invoked] = of('InvocationSubstitutions');
  for (const one of of('LoweredAttribute')) printer.add(`${one.text} `);
  for (const one of of('DependentGenericSignature')) printer.print(one).add(' ');
  if (patterns) printer.add('@substituted ').print(patterns.children[0]).add(' ');
  printer
    .add('(')
    .list(of('LoweredParameter'))
    .add(of('SendingLoweredResult').length > 0 ? ') -> sending ' : ') -> ');
  printer
    .add('(')
    .list([...of('LoweredYield'), ...of('LoweredResult')])
    .add(')');
  // The compiler prints no commas here.
  if (patterns) printer.add(' for <').list(patterns.children.slice(1), '').add('>');
  if (invoked) printer.add(' for <').list(invoked.children, '').add('>');
};

const printProtocols = (printer: SwiftPrinter, list: SwiftNode | undefined): number => {
  const protocols = list?.children[0]?.children ?? [];
  printer.list(protocols, ' & ');
  return protocols.length;
};

/** How each kind of type prints. */
export const typePrinters: readonly (readonly [string, Print])[] = [
  ['Type', (printer, { children }) => void printer.print(children[0])],
  ['TypeMangling', (printer, { children }) => void printer.print(children[0])],
  ...['Class', 'Structure', 'Enum', 'TypeAlias', 'OtherNominalType'].map((kind) => [`BoundGeneric${kind}`, printBound] as const),
  [
    'BoundGenericProtocol',
    (printer, { children }) =>
      void printer
        .list(children[1]?.children ?? [])
        .add(' as ')
        .print(children[0]),
  ],
  ['Tuple', (printer, { children }) => void printer.add('(').list(children).add(')')],
  ['TupleElement', (printer, one) => printElement(printer, one, true)],
  ['FunctionType', printFunctionType('')],
  ['NoEscapeFunctionType', printFunctionType('')],
  ['UncurriedFunctionType', printFunctionType('')],
  ['AutoClosureType', printFunctionType('@autoclosure ')],
  ['EscapingAutoClosureType', printFunctionType('@autoclosure ')],
  ['ThinFunctionType', printFunctionType('@convention(thin) ')],
  ['CFunctionPointer', printFunctionType('@convention(c) ')],
  ['ObjCBlock', printFunctionType('@convention(block) ')],
  ['EscapingObjCBlock', printFunctionType('@escaping @convention(block) ')],
  ['ConcurrentFunctionType', (printer) => void printer.add('@Sendable ')],
  ['GlobalActorFunctionType', (printer, { children }) => void printer.add('@').print(children[0]).add(' ')],
  ['IsolatedAnyFunctionType', (printer) => void printer.add('@isolated(any) ')],
  ['NonIsolatedCallerFunctionType', (printer) => void printer.add('nonisolated(nonsending) ')],
  ['DifferentiableFunctionType', (printer, { text }) => void printer.add(`${text} `)],
  ['SelfLifetimeDependence', (printer, { text }) => void printer.add(`(self lifetime dependence: ${text}) `)],
  ['LifetimeDependence', (printer, { text, children }) => void printer.add(`lifetime dependence: ${text} `).print(children[0])],
  [
    'BoxWithLayout',
    (printer, { children: [fields, signature, bound] }) => {
      if (signature) printer.print(signature).add(' ');
      printer.add('{ ');
      fields?.children.forEach((field, at) => {
        const isVariable = innerType(field)?.kind === 'InOut';
        printer.add(`${at > 0 ? ', ' : ''}${isVariable ? 'var' : 'let'} `).print(isVariable ? innerType(field)?.children[0] : field);
      });
      printer.add(' }');
      if (bound) printer.add(' <').list(bound.children).add('>');
    },
  ],
  ['SendingResultFunctionType', () => {}],
  [
    'Metatype',
    (printer, { children }) => {
      if (children[1]) printer.print(children[1]).add(' ');
      printOperand(printer, children[0]);
      const inner = innerType(children[0]);
      printer.add(/^ProtocolList/.test(inner?.kind ?? '') ? '.Protocol' : '.Type');
    },
  ],
  [
    'ExistentialMetatype',
    (printer, { children }) => {
      if (children[1]) printer.print(children[1]).add(' ');
      printOperand(printer, children[0]);
      printer.add('.Type');
    },
  ],
  ['Representation', printText],
  [
    'ProtocolList',
    (printer, one) => {
      if (printProtocols(printer, one) === 0) printer.add('Any');
    },
  ],
  [
    'ProtocolListWithClass',
    (printer, { children }) => {
      printer.print(children[1]).add(' & ');
      printProtocols(printer, children[0]);
    },
  ],
  [
    'ProtocolListWithAnyObject',
    (printer, { children }) => {
      if (printProtocols(printer, children[0]) > 0) printer.add(' & ');
      printer.add(printer.isShort ? 'AnyObject' : 'Swift.AnyObject');
    },
  ],
  [
    'ConstrainedExistential',
    (printer, { children }) => void printer.add('any ').print(children[0]).add('<').list(children.slice(1)).add('>'),
  ],
  ['InOut', before('inout ')],
  ['Shared', before('__shared ')],
  ['Owned', before('__owned ')],
  ['Weak', before('weak ')],
  ['Unowned', before('unowned ')],
  ['Unmanaged', before('unowned(unsafe) ')],
  ['Isolated', before('isolated ')],
  ['Sending', before('sending ')],
  ['NoDerivative', before('@noDerivative ')],
  ['CompileTimeLiteral', before('_const ')],
  ['ConstantValue', before('@const ')],
  ['BoxType', before('@box ')],
  ['DynamicSelf', (printer) => void printer.add('Self')],
  ['ErrorType', (printer) => void printer.add('<ERROR TYPE>')],
  ['BuiltinTypeName', printText],
  ['DependentGenericParamType', printText],
  ['DependentMemberType', both('.')],
  [
    'DependentAssociatedTypeRef',
    (printer, { children }) => {
      if (children[1] && !printer.isShort) printer.print(children[1]).add('.');
      printer.print(children[0]);
    },
  ],
  ['AssociatedTypeRef', both('.')],
  ['AssociatedPath', (printer, { children }) => void printer.list(children, '.')],
  ['OpaqueReturnType', (printer) => void printer.add('some')],
  ['OpaqueReturnTypeOf', (printer, { children }) => void printer.add('<<opaque return type of ').print(children[0]).add('>>')],
  ['OpaqueType', (printer, { children }) => void printer.print(children[0]).add(`.${children[1]?.index ?? 0}`)],
  ['PackExpansion', (printer, { children }) => void printer.add('repeat ').print(children[0])],
  ['Pack', (printer, { children }) => void printer.add('Pack{').list(children).add('}')],
  [
    'DependentGenericType',
    (printer, { children }) => {
      printer.print(children[0]);
      if (needsSpace(children[1])) printer.add(' ');
      printer.print(children[1]);
    },
  ],
  ['DependentGenericSignature', printGenericSignature],
  ['ConformanceRequirement', both(': ')],
  ['SameTypeRequirement', both(' == ')],
  ['SameShapeRequirement', both('.shape == ')],
  ['LayoutRequirement', both(': ')],
  [
    'InverseRequirement',
    (printer, { children }) =>
      void printer
        .print(children[0])
        .add(`: ~Swift.${['Copyable', 'Escapable'][children[1]?.index ?? 0] ?? `<bit ${children[1]?.index}>`}`),
  ],
  ['LoweredFunctionType', printLowered],
  ['LoweredAttribute', printText],
  ...['LoweredParameter', 'LoweredResult', 'LoweredYield'].map((kind) => [kind, both(' ')] as const),
  [
    'SugaredOptional',
    (printer, { children }) => {
      printOperand(printer, children[0]);
      printer.add('?');
    },
  ],
  ['SugaredArray', (printer, { children }) => void printer.add('[').print(children[0]).add(']')],
  ['SugaredDictionary', (printer, { children }) => void printer.add('[').print(children[0]).add(' : ').print(children[1]).add(']')],
  ['SugaredParen', (printer, { children }) => void printer.add('(').print(children[0]).add(')')],
];
