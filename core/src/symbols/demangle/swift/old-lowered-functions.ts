import { node, type SwiftNode, textNode } from './node.ts';
import type { OldReader } from './old-mangling.ts';
import { wanted } from './reader.ts';

const calleeConventions: Readonly<Record<string, string>> = {
  d: '@callee_unowned',
  g: '@callee_guaranteed',
  o: '@callee_owned',
  t: '@convention(thin)',
};
const functionConventions: Readonly<Record<string, string>> = { b: 'block', c: 'c', m: 'method', O: 'objc_method', w: 'witness_method' };
const parameterConventions: Readonly<Record<string, string>> = {
  d: '@unowned',
  g: '@guaranteed',
  e: '@deallocating',
  i: '@in',
  l: '@inout',
  o: '@owned',
};
const resultConventions: Readonly<Record<string, string>> = {
  a: '@autoreleased',
  d: '@unowned',
  D: '@unowned_inner_pointer',
  i: '@out',
  o: '@owned',
};

/** The convention of each value of a function, as the compiler lowers it. */
export function readOldLoweredFunction(reader: OldReader): SwiftNode {
  const attributes = [wanted(calleeConventions[reader.next()] ?? null, 'a calling convention')];
  if (reader.takes('C')) attributes.push(`@convention(${wanted(functionConventions[reader.next()] ?? null, 'a convention')})`);
  const signature = reader.takes('G') || reader.takes('g') ? [reader.genericSignature()] : [];
  reader.expect('_');
  const values: SwiftNode[] = [];
  const value = (kind: string, conventions: Readonly<Record<string, string>>, mark = '') => {
    const convention = wanted(conventions[reader.next()] ?? null, 'a convention');
    values.push(node(kind, textNode('LoweredAttribute', `${mark}${convention}`), reader.type()));
  };
  while (!reader.takes('_')) value('LoweredParameter', parameterConventions);
  while (!reader.takes('_')) value('LoweredResult', resultConventions, reader.takes('z') ? '@error ' : '');
  return node('LoweredFunctionType', ...attributes.map((text) => textNode('LoweredAttribute', text)), ...signature, ...values);
}
