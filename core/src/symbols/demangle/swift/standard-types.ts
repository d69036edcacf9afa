import { NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';

/** Types of the standard library that have a letter of their own behind `S`, by kind. */
const standard: Readonly<Record<string, readonly [kind: string, name: string]>> = {
  A: ['Structure', 'AutoreleasingUnsafeMutablePointer'],
  a: ['Structure', 'Array'],
  b: ['Structure', 'Bool'],
  D: ['Structure', 'Dictionary'],
  d: ['Structure', 'Double'],
  f: ['Structure', 'Float'],
  h: ['Structure', 'Set'],
  I: ['Structure', 'DefaultIndices'],
  i: ['Structure', 'Int'],
  J: ['Structure', 'Character'],
  N: ['Structure', 'ClosedRange'],
  n: ['Structure', 'Range'],
  O: ['Structure', 'ObjectIdentifier'],
  P: ['Structure', 'UnsafePointer'],
  p: ['Structure', 'UnsafeMutablePointer'],
  R: ['Structure', 'UnsafeBufferPointer'],
  r: ['Structure', 'UnsafeMutableBufferPointer'],
  S: ['Structure', 'String'],
  s: ['Structure', 'Substring'],
  u: ['Structure', 'UInt'],
  V: ['Structure', 'UnsafeRawPointer'],
  v: ['Structure', 'UnsafeMutableRawPointer'],
  W: ['Structure', 'UnsafeRawBufferPointer'],
  w: ['Structure', 'UnsafeMutableRawBufferPointer'],
  q: ['Enum', 'Optional'],
  B: ['Protocol', 'BinaryFloatingPoint'],
  E: ['Protocol', 'Encodable'],
  e: ['Protocol', 'Decodable'],
  F: ['Protocol', 'FloatingPoint'],
  G: ['Protocol', 'RandomNumberGenerator'],
  H: ['Protocol', 'Hashable'],
  j: ['Protocol', 'Numeric'],
  K: ['Protocol', 'BidirectionalCollection'],
  k: ['Protocol', 'RandomAccessCollection'],
  L: ['Protocol', 'Comparable'],
  l: ['Protocol', 'Collection'],
  M: ['Protocol', 'MutableCollection'],
  m: ['Protocol', 'RangeReplaceableCollection'],
  Q: ['Protocol', 'Equatable'],
  T: ['Protocol', 'Sequence'],
  t: ['Protocol', 'IteratorProtocol'],
  U: ['Protocol', 'UnsignedInteger'],
  X: ['Protocol', 'RangeExpression'],
  x: ['Protocol', 'Strideable'],
  Y: ['Protocol', 'RawRepresentable'],
  y: ['Protocol', 'StringProtocol'],
  Z: ['Protocol', 'SignedInteger'],
  z: ['Protocol', 'BinaryInteger'],
};

/** The same behind `Sc`: types of concurrency. */
const concurrency: Readonly<Record<string, readonly [kind: string, name: string]>> = {
  A: ['Protocol', 'Actor'],
  C: ['Structure', 'CheckedContinuation'],
  c: ['Structure', 'UnsafeContinuation'],
  E: ['Structure', 'CancellationError'],
  e: ['Structure', 'UnownedSerialExecutor'],
  F: ['Protocol', 'Executor'],
  f: ['Protocol', 'SerialExecutor'],
  G: ['Structure', 'TaskGroup'],
  g: ['Structure', 'ThrowingTaskGroup'],
  h: ['Protocol', 'TaskExecutor'],
  I: ['Protocol', 'AsyncIteratorProtocol'],
  i: ['Protocol', 'AsyncSequence'],
  J: ['Structure', 'UnownedJob'],
  M: ['Class', 'MainActor'],
  P: ['Structure', 'TaskPriority'],
  S: ['Structure', 'AsyncStream'],
  s: ['Structure', 'AsyncThrowingStream'],
  T: ['Structure', 'Task'],
  t: ['Structure', 'UnsafeCurrentTask'],
};

const swiftModule = textNode('Module', 'Swift');

const swiftType = (kind: string, name: string): SwiftNode => typeNode(node(kind, swiftModule, textNode('Identifier', name)));

/** The declaration that a letter behind `S` stands for; null when none does. */
export function standardDeclaration(letter: string): SwiftNode | null {
  const found = standard[letter];
  return found ? node(found[0], swiftModule, textNode('Identifier', found[1])) : null;
}

/** What stands behind `S`. */
export function readStandard(reader: SwiftReader): SwiftNode {
  if (reader.takes('o')) return textNode('Module', '__C');
  if (reader.takes('C')) return textNode('Module', '__C_Synthesized');
  if (reader.takes('g'))
    return reader.remember(typeNode(node('BoundGenericEnum', swiftType('Enum', 'Optional'), node('TypeList', reader.want('Type')))));
  const repetitions = reader.natural();
  const table = reader.takes('c') ? concurrency : standard;
  const found = table[reader.next()];
  if (!found) throw new NotSwift('not a standard type');
  const type = swiftType(...found);
  reader.pushRepeated(type, repetitions);
  return type;
}

const builtIn: Readonly<Record<string, string>> = {
  A: 'ImplicitActor',
  b: 'BridgeObject',
  B: 'UnsafeValueBuffer',
  c: 'RawUnsafeContinuation',
  D: 'DefaultActorStorage',
  d: 'NonDefaultDistributedActorStorage',
  e: 'Executor',
  I: 'IntLiteral',
  j: 'Job',
  o: 'NativeObject',
  O: 'UnknownObject',
  p: 'RawPointer',
  P: 'PackIndex',
  t: 'SILToken',
  w: 'Word',
};

/** What stands behind `B`: types of the compiler itself. */
export function readBuiltIn(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  const named = (name: string) => typeNode(textNode('BuiltinTypeName', `Builtin.${name}`));
  if (letter === 'i') return named(`Int${reader.index() - 1}`);
  if (letter === 'f') return named(`FPIEEE${reader.index() - 1}`);
  if (letter === 'v') {
    const size = reader.index() - 1;
    return named(`Vec${size}x${reader.wantInnerType().text.replace('Builtin.', '')}`);
  }
  return named(wanted(builtIn[letter] ?? null, 'a built-in type'));
}
