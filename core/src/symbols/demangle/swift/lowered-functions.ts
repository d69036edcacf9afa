import { NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';
import { differentiableWords, popGenericArguments } from './types.ts';

const callConventions: Readonly<Record<string, string>> = {
  y: '@callee_unowned',
  g: '@callee_guaranteed',
  x: '@callee_owned',
  t: '@convention(thin)',
};
const functionConventions: Readonly<Record<string, string>> = {
  B: 'block',
  C: 'c',
  M: 'method',
  J: 'objc_method',
  K: 'closure',
  W: 'witness_method',
};
const parameterMarks: Readonly<Record<string, string>> = {
  w: '@noDerivative',
  T: 'sending',
  I: 'isolated',
  L: 'sil_implicit_leading_param',
};
const marksOf = (reader: SwiftReader): string[] =>
  Object.entries(parameterMarks).flatMap(([mark, words]) => (reader.takes(mark) ? [words] : []));

const coroutines: Readonly<Record<string, string>> = { A: '@yield_once', I: '@yield_once_2', G: '@yield_many' };
const parameterConventions: Readonly<Record<string, string>> = {
  i: '@in',
  c: '@in_constant',
  l: '@inout',
  b: '@inout_aliasable',
  n: '@in_guaranteed',
  X: '@in_cxx',
  x: '@owned',
  g: '@guaranteed',
  e: '@deallocating',
  y: '@unowned',
  v: '@pack_owned',
  p: '@pack_guaranteed',
  m: '@pack_inout',
};
const resultConventions: Readonly<Record<string, string>> = {
  r: '@out',
  o: '@owned',
  d: '@unowned',
  u: '@unowned_inner_pointer',
  a: '@autoreleased',
  k: '@pack_out',
};

const typesOf = (levels: readonly SwiftNode[]): readonly SwiftNode[] => levels[0]?.children ?? [];

/** A function type as the compiler lowers it, with the convention of each value; thunks are named by these. */
export function readLoweredFunction(reader: SwiftReader): SwiftNode {
  const patterns = reader.takes('s') ? { types: popGenericArguments(reader), signature: reader.want('DependentGenericSignature') } : null;
  const invoked = reader.takes('I') ? popGenericArguments(reader) : null;
  const signature = reader.pop('DependentGenericSignature');
  if (signature) reader.takes('P');
  const attributes: string[] = [];
  if (reader.takes('e')) attributes.push('@escaping');
  if (reader.takes('A')) attributes.push('@isolated(any)');
  const differentiable = differentiableWords[reader.peek()];
  if (differentiable !== undefined) {
    reader.next();
    attributes.push(differentiable);
  }
  attributes.push(wanted(callConventions[reader.next()] ?? null, 'a calling convention'));
  const convention = functionConventions[reader.peek()];
  if (convention !== undefined) {
    reader.next();
    attributes.push(`@convention(${convention})`);
  }
  const coroutine = coroutines[reader.peek()];
  if (coroutine !== undefined) {
    reader.next();
    attributes.push(coroutine);
  }
  if (reader.takes('h')) attributes.push('@Sendable');
  if (reader.takes('H')) attributes.push('@async');
  const sends = reader.takes('T');
  const values: { kind: string; convention: string }[] = [];
  for (let one = parameterConventions[reader.peek()]; one !== undefined; one = parameterConventions[reader.peek()]) {
    reader.next();
    values.push({ kind: 'LoweredParameter', convention: [one, ...marksOf(reader)].join(' ') });
  }
  for (let one = resultConventions[reader.peek()]; one !== undefined; one = resultConventions[reader.peek()]) {
    reader.next();
    values.push({ kind: 'LoweredResult', convention: reader.takes('w') ? `${one} @noDerivative` : one });
  }
  while (reader.takes('Y'))
    values.push({ kind: 'LoweredYield', convention: `@yields ${wanted(parameterConventions[reader.next()] ?? null, 'a convention')}` });
  if (reader.takes('z'))
    values.push({ kind: 'LoweredResult', convention: `@error ${wanted(resultConventions[reader.next()] ?? null, 'a convention')}` });
  if (!reader.takes('_')) throw new NotSwift('a lowered function is not closed');
  const types = values.map(() => reader.want('Type')).reverse();
  return typeNode(
    node(
      'LoweredFunctionType',
      ...(patterns ? [node('PatternSubstitutions', patterns.signature, ...typesOf(patterns.types))] : []),
      ...(invoked ? [node('InvocationSubstitutions', ...typesOf(invoked))] : []),
      ...(sends ? [node('SendingLoweredResult')] : []),
      ...attributes.map((text) => textNode('LoweredAttribute', text)),
      ...(signature ? [signature] : []),
      ...values.map(({ kind, convention: how }, at) => node(kind, textNode('LoweredAttribute', how), types[at] as SwiftNode)),
    ),
  );
}
