import { readDerivative, readDifferentiabilityWitness } from './autodiff.ts';
import { popConformance } from './entities.ts';
import { indexNode, isDeclarationName, isEntity, NotSwift, node, type SwiftNode, textNode } from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';
import { popAssociatedName, popTypeList } from './types.ts';

/** Attributes of a whole symbol, printed before the entity they are about. */
const attributes: Readonly<Record<string, string>> = {
  o: 'ObjCAttribute',
  O: 'NonObjCAttribute',
  D: 'DynamicAttribute',
  d: 'DirectMethodReferenceAttribute',
  E: 'DistributedThunk',
  F: 'DistributedAccessor',
  a: 'PartialApplyObjCForwarder',
  A: 'PartialApplyForwarder',
  m: 'MergedFunction',
  X: 'DynamicallyReplaceableFunctionVar',
  x: 'DynamicallyReplaceableFunctionKey',
  I: 'DynamicallyReplaceableFunctionImpl',
  u: 'AsyncFunctionPointer',
};

const ofEntity: Readonly<Record<string, string>> = {
  c: 'CurryThunk',
  j: 'DispatchThunk',
  q: 'MethodDescriptor',
  S: 'ProtocolSelfConformanceWitness',
};

const ofAvailability: Readonly<Record<string, string>> = {
  b: 'BackDeploymentThunk',
  B: 'BackDeploymentFallback',
  S: 'HasSymbolQuery',
};

const specializations: Readonly<Record<string, string>> = {
  g: 'GenericSpecialization',
  G: 'GenericSpecializationNotReAbstracted',
  s: 'GenericSpecializationPrespecialized',
  i: 'InlinedGenericFunction',
  p: 'GenericPartialSpecialization',
  P: 'GenericPartialSpecializationNotReAbstracted',
  B: 'GenericSpecializationInResilienceDomain',
};

/** What stands behind `T`: thunks, witnesses and specializations. */
export function readThunk(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  const entity = () => reader.wantIf(isEntity, 'an entity');
  const attribute = attributes[letter];
  if (attribute !== undefined) return node(attribute);
  const thunk = ofEntity[letter];
  if (thunk !== undefined) return node(thunk, entity());
  const specialization = specializations[letter];
  if (specialization !== undefined) return readSpecialization(reader, specialization);
  switch (letter) {
    case 'w':
      return node(wanted(ofAvailability[reader.next()] ?? null, 'a thunk of availability'));
    case 't':
      return readNarrowedSpecialization(reader);
    case 'Y':
      return indexNode('AsyncSuspendResumePartialFunction', reader.index());
    case 'Q':
      return indexNode('AsyncAwaitResumePartialFunction', reader.index());
    case 'v': {
      const index = reader.index();
      return indexNode(reader.takes('r') ? 'OutlinedReadOnlyObject' : 'OutlinedVariable', index);
    }
    case 'C':
      return node('CoroutineContinuationPrototype', reader.want('Type'));
    case 'J':
      return readDerivative(reader);
    case 'n':
      return popAssociatedConformance(reader, 'AssociatedConformanceDescriptor');
    case 'N':
      return popAssociatedConformance(reader, 'DefaultAssociatedConformanceAccessor');
    case 'b':
      return withLast(reader.popProtocol(), (protocol) => node('BaseConformanceDescriptor', reader.want('Type'), protocol));
    case 'V':
      return withLast(entity(), (base) => node('VTableThunk', entity(), base));
    case 'W':
      return withLast(entity(), (requirement) => node('ProtocolWitness', popConformance(reader), requirement));
    case 'R':
      return popReabstraction(reader, 'ReabstractionThunkHelper');
    case 'r':
      return popReabstraction(reader, 'ReabstractionThunk');
    case 'y':
      return popReabstraction(reader, 'ReabstractionThunkHelper', { hasSelf: true });
    case 'K':
    case 'k':
      return readKeyPath(reader, letter === 'K' ? 'KeyPathGetterThunkHelper' : 'KeyPathSetterThunkHelper');
    case 'H':
    case 'h':
      return readKeyPathOfTypes(reader, letter === 'H' ? 'KeyPathEqualsThunkHelper' : 'KeyPathHashThunkHelper');
    case 'e':
      return textNode('OutlinedBridgedMethod', bridgedParameters(reader));
    case 'f':
      return readSignatureSpecialization(reader);
    case 'L':
      return node('ProtocolRequirementsBaseDescriptor', reader.popProtocol());
    case 'l':
      return node('AssociatedTypeDescriptor', popAssociatedName(reader));
    default:
      throw new NotSwift('not a thunk');
  }
}

/** What is printed last was pushed last, so it is popped before the rest. */
const withLast = (last: SwiftNode, make: (last: SwiftNode) => SwiftNode): SwiftNode => make(last);

/** Specialization with which parameters went. */
function readNarrowedSpecialization(reader: SwiftReader): SwiftNode {
  const dropped: SwiftNode[] = [];
  do {
    const number = reader.natural();
    dropped.push(textNode('Words', `param${number === null ? 0 : number + 1}-removed`));
  } while (reader.takes('t'));
  return readSpecialization(reader, wanted(specializations[reader.next()] ?? null, 'a specialization'), dropped);
}

function popAssociatedConformance(reader: SwiftReader, kind: string): SwiftNode {
  const requirement = reader.popProtocol();
  const path = node('AssociatedPath', ...reader.popList(() => popAssociatedName(reader)));
  return node(kind, reader.want('Type'), path, requirement);
}

function popReabstraction(reader: SwiftReader, kind: string, { hasSelf = false } = {}): SwiftNode {
  const signature = reader.pop('DependentGenericSignature');
  if (hasSelf) reader.want('Type');
  const to = reader.want('Type');
  return node(kind, reader.want('Type'), to, ...(signature ? [signature] : []));
}

function readKeyPathOfTypes(reader: SwiftReader, kind: string): SwiftNode {
  reader.takes('q');
  const signature = reader.pop('DependentGenericSignature');
  const types = [];
  for (let type = reader.pop('Type'); type; type = reader.pop('Type')) types.push(type);
  return node(kind, ...types.reverse(), ...(signature ? [signature] : []));
}

/** Specialization for the types on the stack; some parameters may have gone with it. */
function readSpecialization(reader: SwiftReader, kind: string, dropped: readonly SwiftNode[] = []): SwiftNode {
  readPass(reader);
  return node(kind, ...dropped, ...popTypeList(reader).children);
}

/** Number of the optimiser's pass, behind marks that no printed name shows. */
function readPass(reader: SwiftReader): void {
  for (const mark of ['m', 'q', 'a']) reader.takes(mark);
  if (!/\d/.test(reader.next())) throw new NotSwift('a pass has no number');
}

function readKeyPath(reader: SwiftReader, kind: string): SwiftNode {
  const marks = reader.takes('q') ? [textNode('Words', ', serialized')] : [];
  const types: SwiftNode[] = [];
  let below = reader.want('Type') as SwiftNode | null;
  while (below?.kind === 'Type') {
    types.push(below);
    below = reader.pop();
  }
  if (!below) throw new NotSwift('a key path of nothing');
  if (below.kind !== 'DependentGenericSignature') return node(kind, below, ...types, ...marks);
  return node(kind, reader.want(), below, ...types, ...marks);
}

function bridgedParameters(reader: SwiftReader): string {
  let letters = '';
  while (!reader.takes('_')) {
    const letter = reader.next();
    if (!/[a-zA-Z]/.test(letter)) throw new NotSwift('not a bridged parameter');
    letters += letter;
  }
  return letters;
}

const flags: Readonly<Record<string, string>> = {
  G: 'Owned To Guaranteed',
  O: 'Guaranteed To Owned',
  X: 'Exploded',
};

/** What the optimiser did to each parameter of a function. */
function readSignatureSpecialization(reader: SwiftReader): SwiftNode {
  readPass(reader);
  const parameters: SwiftNode[] = [];
  while (!reader.takes('_')) parameters.push(readParameterChange(reader));
  const result = reader.takes('n') ? null : readParameterChange(reader);
  const changes = [...parameters.map((one, at) => ({ one, label: `Arg[${at}]` })), ...(result ? [{ one: result, label: 'Return' }] : [])];
  // Constants and closures stand before all of it, in reverse.
  const named = changes.reverse().map(({ one, label }) => {
    const [wants] = one.children;
    return node('Change', textNode('Words', one.text === '' ? '' : `${label} = ${one.text}`), ...(wants ? popDetail(reader, wants) : []));
  });
  return node('FunctionSignatureSpecialization', ...named.reverse().filter(({ children }) => children[0]?.text !== ''));
}

/** What stands before a specialization of what became of a parameter: a name or a text, behind it types. */
function popDetail(reader: SwiftReader, { kind, text }: SwiftNode): SwiftNode[] {
  const types: SwiftNode[] = [];
  if (kind === 'WantsClosure' || kind === 'WantsKeyPath')
    for (let type = reader.pop('Type'); type; type = reader.pop('Type')) types.push(type);
  const name = reader.want('Identifier').text;
  const list = (separator: string, written: readonly SwiftNode[]) =>
    written.flatMap((type, at) => (at === 0 ? [type] : [textNode('Words', separator), type]));
  switch (kind) {
    case 'WantsClosure':
      return [textNode('Words', ` : ${name}, Argument Types : [`), ...list(', ', types.reverse()), textNode('Words', ']')];
    case 'WantsKeyPath':
      return [textNode('Words', ` : ${name}<`), ...list(',', types.reverse()), textNode('Words', '>]')];
    case 'WantsText':
      // A "_" stands before a digit and before another.
      return [textNode('Words', ` : ${text}'${name.replace(/^_/, '')}']`)];
    default:
      return [textNode('Words', ` : ${name}]`)];
  }
}

function readParameterChange(reader: SwiftReader): SwiftNode {
  const changed = (text: string, ...children: SwiftNode[]): SwiftNode => ({ kind: 'Change', text, index: 0, children });
  const withFlags = (first: string, letters: string): SwiftNode =>
    changed([first, ...[...letters].filter((letter) => reader.takes(letter)).map((letter) => flags[letter])].join(' and '));
  switch (reader.next()) {
    case 'n':
      return changed('');
    case 'c':
      return changed('[Closure Propagated', node('WantsClosure'));
    case 'C':
      return changed('[Closure Propagated', node('WantsName'));
    case 'p':
      return readConstant(reader, changed);
    case 'e': {
      const dead = reader.takes('D') ? ' and Dead' : '';
      const rest = [...'GOX'].filter((letter) => reader.takes(letter)).map((letter) => ` and ${flags[letter]}`);
      return changed(`Existential To Protocol Constrained Generic${dead}${rest.join('')}`);
    }
    case 'd':
      return withFlags('Dead', 'GOX');
    case 'g':
      return withFlags('Owned To Guaranteed', 'X');
    case 'o':
      return withFlags('Guaranteed To Owned', 'X');
    case 'x':
      return changed('Exploded');
    case 'i':
      return changed('Value Promoted from Box');
    case 's':
      return changed('Stack Promoted from Box');
    case 'r':
      return changed('InOut Converted to Out');
    default:
      throw new NotSwift('not a change of a parameter');
  }
}

function readConstant(reader: SwiftReader, changed: (text: string, ...children: SwiftNode[]) => SwiftNode): SwiftNode {
  switch (reader.next()) {
    case 'f':
      return changed('[Constant Propagated Function', node('WantsName'));
    case 'g':
      return changed('[Constant Propagated Global', node('WantsName'));
    case 'i':
      return changed(`[Constant Propagated Integer : ${reader.index() - 1}]`);
    case 'd':
      return changed(`[Constant Propagated Float : ${reader.index() - 1}]`);
    case 's':
      return changed(
        '[Constant Propagated String',
        textNode('WantsText', wanted({ b: 'u8', w: 'u16', c: 'objc' }[reader.next()] ?? null, 'an encoding')),
      );
    case 'k':
      return changed('[Constant Propagated KeyPath', node('WantsKeyPath'));
    default:
      throw new NotSwift('not a constant');
  }
}

const metadata: Readonly<Record<string, string>> = {
  a: 'TypeMetadataAccessFunction',
  b: 'CanonicalSpecializedGenericTypeMetadataAccessFunction',
  D: 'TypeMetadataDemanglingCache',
  f: 'FullTypeMetadata',
  F: 'ReflectionMetadataFieldDescriptor',
  B: 'ReflectionMetadataBuiltinDescriptor',
  i: 'TypeMetadataInstantiationFunction',
  I: 'TypeMetadataInstantiationCache',
  l: 'TypeMetadataSingletonInitializationCache',
  L: 'TypeMetadataLazyCache',
  m: 'Metaclass',
  M: 'CanonicalSpecializedGenericMetaclass',
  n: 'NominalTypeDescriptor',
  u: 'MethodLookupFunction',
  o: 'ClassMetadataBaseOffset',
  P: 'GenericTypeMetadataPattern',
  r: 'TypeMetadataCompletionFunction',
  s: 'ObjCResilientClassStub',
  t: 'FullObjCResilientClassStub',
  U: 'ObjCMetadataUpdateFunction',
  N: 'NoncanonicalSpecializedGenericTypeMetadata',
  C: 'ReflectionMetadataSuperclassDescriptor',
};

/** What stands behind `M`: functions and data by which the runtime knows a type. */
export function readMetadata(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  const kind = metadata[letter];
  if (kind !== undefined) return node(kind, reader.want('Type'));
  switch (letter) {
    case 'c':
      return node('ProtocolConformanceDescriptor', popConformance(reader));
    case 'A':
      return node('ReflectionMetadataAssociatedTypeDescriptor', popConformance(reader));
    case 'p':
      return node('ProtocolDescriptor', reader.popProtocol());
    case 'S':
      return node('ProtocolSelfConformanceDescriptor', reader.popProtocol());
    case 'K':
      return node('MetadataInstantiationCache', reader.want());
    case 'X':
      if (reader.takes('M')) return node('ModuleDescriptor', wanted(reader.popModule(), 'a module'));
      if (reader.takes('E')) return node('ExtensionDescriptor', reader.popContext());
      if (reader.takes('Y')) return node('AnonymousDescriptor', reader.popContext());
      throw new NotSwift('not a descriptor');
    case 'V':
      return node('PropertyDescriptor', reader.wantIf(isEntity, 'an entity'));
    case 'Q':
      return node('OpaqueTypeDescriptor', reader.want());
    case 'g':
      return node('OpaqueTypeDescriptorAccessor', reader.want());
    default:
      throw new NotSwift('not metadata');
  }
}

const tables: Readonly<Record<string, string>> = {
  P: 'ProtocolWitnessTable',
  p: 'ProtocolWitnessTablePattern',
  G: 'GenericProtocolWitnessTable',
  I: 'GenericProtocolWitnessTableInstantiationFunction',
  r: 'ResilientProtocolWitnessTable',
  a: 'ProtocolWitnessTableAccessor',
};

const outlined: Readonly<Record<string, string>> = {
  y: 'OutlinedCopy',
  e: 'OutlinedConsume',
  r: 'OutlinedRetain',
  s: 'OutlinedRelease',
  b: 'OutlinedInitializeWithTake',
  c: 'OutlinedInitializeWithCopy',
  d: 'OutlinedAssignWithTake',
  f: 'OutlinedAssignWithCopy',
  h: 'OutlinedDestroy',
  B: 'OutlinedInitializeWithTake',
  C: 'OutlinedInitializeWithCopy',
  D: 'OutlinedAssignWithTake',
  F: 'OutlinedAssignWithCopy',
  H: 'OutlinedDestroy',
  g: 'OutlinedEnumGetTag',
  i: 'OutlinedEnumTagStore',
  j: 'OutlinedEnumProjectDataForLoad',
};

/** What stands behind `W`: witness tables, offsets, and pieces of code that several places share. */
export function readWitness(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  const table = tables[letter];
  if (table !== undefined) return node(table, popConformance(reader));
  switch (letter) {
    case 'C':
      return node('EnumCase', reader.wantIf(isEntity, 'a case'));
    case 'V':
      return node('ValueWitnessTable', reader.want('Type'));
    case 'v': {
      const directness = { d: 'direct', i: 'indirect' }[reader.next()];
      return node('FieldOffset', textNode('Directness', wanted(directness ?? null, 'an offset')), reader.wantIf(isEntity, 'a field'));
    }
    case 'S':
      return node('ProtocolSelfConformanceWitnessTable', reader.popProtocol());
    case 'l':
    case 'L': {
      const conformance = popConformance(reader);
      return node(
        letter === 'l' ? 'LazyProtocolWitnessTableAccessor' : 'LazyProtocolWitnessTableCacheVariable',
        reader.want('Type'),
        conformance,
      );
    }
    case 't': {
      const name = reader.wantIf(isDeclarationName, 'a name');
      return node('AssociatedTypeMetadataAccessor', popConformance(reader), name);
    }
    case 'T': {
      const protocol = reader.want('Type');
      const names = reader.popList(() => popAssociatedName(reader));
      return node('AssociatedTypeWitnessTableAccessor', popConformance(reader), node('AssociatedPath', ...names), protocol);
    }
    case 'b': {
      const protocol = reader.want('Type');
      return node('BaseWitnessTableAccessor', popConformance(reader), protocol);
    }
    case 'O': {
      const kind = wanted(outlined[reader.next()] ?? null, 'a shared piece');
      const signature = reader.pop('DependentGenericSignature');
      if (kind === 'OutlinedEnumTagStore' || kind === 'OutlinedEnumProjectDataForLoad') reader.index();
      return node(kind, reader.want('Type'), ...(signature ? [signature] : []));
    }
    case 'J':
      return readDifferentiabilityWitness(reader);
    case 'Z':
    case 'z': {
      const names: SwiftNode[] = [];
      while (reader.pop('FirstElementMarker')) names.push(reader.wantIf(isDeclarationName, 'a variable'));
      return node(letter === 'Z' ? 'GlobalVariableOnceFunction' : 'GlobalVariableOnceToken', reader.popContext(), ...names.reverse());
    }
    default:
      throw new NotSwift('not a witness');
  }
}

/** What the runtime does with values of a type, by two letters. */
export const valueWitnesses: Readonly<Record<string, string>> = {
  al: 'allocateBuffer',
  ca: 'assignWithCopy',
  ta: 'assignWithTake',
  de: 'deallocateBuffer',
  xx: 'destroy',
  XX: 'destroyBuffer',
  Xx: 'destroyArray',
  CP: 'initializeBufferWithCopyOfBuffer',
  Cp: 'initializeBufferWithCopy',
  cp: 'initializeWithCopy',
  Tk: 'initializeBufferWithTake',
  tk: 'initializeWithTake',
  pr: 'projectBuffer',
  TK: 'initializeBufferWithTakeOfBuffer',
  Cc: 'initializeArrayWithCopy',
  Tt: 'initializeArrayWithTakeFrontToBack',
  tT: 'initializeArrayWithTakeBackToFront',
  xs: 'storeExtraInhabitant',
  xg: 'getExtraInhabitantIndex',
  ug: 'getEnumTag',
  up: 'destructiveProjectEnumData',
  ui: 'destructiveInjectEnumTag',
  et: 'getEnumTagSinglePayload',
  st: 'storeEnumTagSinglePayload',
};

export function readValueWitness(reader: SwiftReader): SwiftNode {
  const name = wanted(valueWitnesses[reader.next() + reader.next()] ?? null, 'a value witness');
  return node('ValueWitness', textNode('Identifier', name), reader.want('Type'));
}
