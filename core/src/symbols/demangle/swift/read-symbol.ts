import {
  readConformance,
  readExtension,
  readFunction,
  readFunctionEntity,
  readLocalName,
  readOperatorName,
  readRetroactive,
  readStatic,
  readSubscript,
  readVariable,
} from './entities.ts';
import { readLoweredFunction } from './lowered-functions.ts';
import { genericParameter, NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import type { SwiftReader } from './reader.ts';
import { readBuiltIn, readStandard } from './standard-types.ts';
import { readMetadata, readThunk, readValueWitness, readWitness } from './thunks.ts';
import {
  popFunctionType,
  popProtocolList,
  popTuple,
  readArchetype,
  readBoundGeneric,
  readGenericParameter,
  readGenericSignature,
  readNominal,
  readRequirement,
  readSpecialType,
  readTypeMark,
} from './types.ts';

const wrapped = (kind: string) => (reader: SwiftReader) => typeNode(node(kind, reader.want('Type')));
const mark = (kind: string) => () => node(kind);

/** What each letter of a mangled name reads, with operands on the stack. */
const operators: Readonly<Record<string, (reader: SwiftReader) => SwiftNode>> = {
  A: (reader) => reader.substitution(),
  B: readBuiltIn,
  C: (reader) => readNominal(reader, 'Class'),
  D: (reader) => node('TypeMangling', reader.want('Type')),
  E: readExtension,
  F: readFunction,
  G: readBoundGeneric,
  H: readConformance,
  I: readLoweredFunction,
  K: mark('ThrowsAnnotation'),
  L: readLocalName,
  M: readMetadata,
  N: (reader) => node('TypeMetadata', reader.want('Type')),
  O: (reader) => readNominal(reader, 'Enum'),
  P: (reader) => readNominal(reader, 'Protocol'),
  Q: readArchetype,
  R: readRequirement,
  S: readStandard,
  T: readThunk,
  V: (reader) => readNominal(reader, 'Structure'),
  W: readWitness,
  X: readSpecialType,
  Y: readTypeMark,
  Z: readStatic,
  a: (reader) => readNominal(reader, 'TypeAlias'),
  c: (reader) => popFunctionType(reader),
  d: mark('VariadicMarker'),
  f: readFunctionEntity,
  g: readRetroactive,
  h: wrapped('Shared'),
  i: readSubscript,
  l: (reader) => readGenericSignature(reader, false),
  m: wrapped('Metatype'),
  n: wrapped('Owned'),
  o: readOperatorName,
  p: (reader) => typeNode(popProtocolList(reader)),
  q: readGenericParameter,
  r: (reader) => readGenericSignature(reader, true),
  s: () => textNode('Module', 'Swift'),
  t: popTuple,
  u: (reader) => {
    const signature = reader.want('DependentGenericSignature');
    return typeNode(node('DependentGenericType', signature, reader.want('Type')));
  },
  v: readVariable,
  w: readValueWitness,
  x: () => genericParameter(0, 0),
  y: mark('EmptyList'),
  z: wrapped('InOut'),
  _: mark('FirstElementMarker'),
};

const attributeKinds = [
  'AsyncAwaitResumePartialFunction',
  'AsyncFunctionPointer',
  'AsyncSuspendResumePartialFunction',
  'AccessibleFunctionRecord',
  'BackDeploymentFallback',
  'BackDeploymentThunk',
  'DirectMethodReferenceAttribute',
  'DistributedAccessor',
  'DistributedThunk',
  'DynamicAttribute',
  'DynamicallyReplaceableFunctionImpl',
  'DynamicallyReplaceableFunctionKey',
  'DynamicallyReplaceableFunctionVar',
  'FunctionSignatureSpecialization',
  'GenericPartialSpecialization',
  'GenericPartialSpecializationNotReAbstracted',
  'GenericSpecialization',
  'GenericSpecializationInResilienceDomain',
  'GenericSpecializationNotReAbstracted',
  'GenericSpecializationPrespecialized',
  'HasSymbolQuery',
  'InlinedGenericFunction',
  'MergedFunction',
  'NonObjCAttribute',
  'ObjCAttribute',
  'OutlinedBridgedMethod',
  'OutlinedReadOnlyObject',
  'OutlinedVariable',
  'PartialApplyForwarder',
  'PartialApplyObjCForwarder',
];

/** A whole symbol: its attributes, outermost first, and what they are about. */
export interface SwiftSymbol {
  readonly attributes: readonly SwiftNode[];
  readonly parts: readonly SwiftNode[];
}

/** Reads a mangled name to its end; throws NotSwift. */
export function readSymbol(reader: SwiftReader): SwiftSymbol {
  let suffix: SwiftNode | null = null;
  while (!reader.atEnd) {
    const letter = reader.peek();
    if (letter === '.') {
      suffix = textNode('Suffix', reader.text.slice(reader.position));
      break;
    }
    if (letter >= '0' && letter <= '9') {
      reader.push(reader.identifier());
      continue;
    }
    const read = operators[reader.next()];
    if (!read) throw new NotSwift('not an operator');
    reader.push(read(reader));
  }
  const attributes: SwiftNode[] = [];
  for (let one = reader.pop(...attributeKinds); one; one = reader.pop(...attributeKinds)) attributes.push(one);
  const parts = [...reader.stack, ...(suffix ? [suffix] : [])];
  if (attributes.length + parts.length === 0) throw new NotSwift('an empty name');
  return { attributes, parts };
}
