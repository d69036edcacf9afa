import type { SwiftNode } from './node.ts';
import type { Print, SwiftPrinter } from './printer.ts';

/** Words in front of the one thing a symbol is about; a second child is its generic signature or another type. */
const prefixes: Readonly<Record<string, string>> = {
  CurryThunk: 'curry thunk of ',
  DispatchThunk: 'dispatch thunk of ',
  MethodDescriptor: 'method descriptor for ',
  ProtocolSelfConformanceWitness: 'protocol self-conformance witness for ',
  TypeMetadataAccessFunction: 'type metadata accessor for ',
  CanonicalSpecializedGenericTypeMetadataAccessFunction: 'canonical specialized generic type metadata accessor for ',
  TypeMetadata: 'type metadata for ',
  TypeMetadataDemanglingCache: 'demangling cache variable for type metadata for ',
  FullTypeMetadata: 'full type metadata for ',
  TypeMetadataInstantiationFunction: 'type metadata instantiation function for ',
  TypeMetadataInstantiationCache: 'type metadata instantiation cache for ',
  TypeMetadataSingletonInitializationCache: 'type metadata singleton initialization cache for ',
  TypeMetadataLazyCache: 'lazy cache variable for type metadata for ',
  TypeMetadataCompletionFunction: 'type metadata completion function for ',
  NoncanonicalSpecializedGenericTypeMetadata: 'noncanonical specialized generic type metadata for ',
  Metaclass: 'metaclass for ',
  CanonicalSpecializedGenericMetaclass: 'canonical specialized generic metaclass for ',
  NominalTypeDescriptor: 'nominal type descriptor for ',
  MethodLookupFunction: 'method lookup function for ',
  ClassMetadataBaseOffset: 'class metadata base offset for ',
  GenericTypeMetadataPattern: 'generic type metadata pattern for ',
  ObjCResilientClassStub: 'ObjC resilient class stub for ',
  FullObjCResilientClassStub: 'full ObjC resilient class stub for ',
  ObjCMetadataUpdateFunction: 'ObjC metadata update function for ',
  PropertyDescriptor: 'property descriptor for ',
  ProtocolDescriptor: 'protocol descriptor for ',
  ProtocolRequirementsBaseDescriptor: 'protocol requirements base descriptor for ',
  ProtocolSelfConformanceDescriptor: 'protocol self-conformance descriptor for ',
  ProtocolSelfConformanceWitnessTable: 'protocol self-conformance witness table for ',
  ProtocolConformanceDescriptor: 'protocol conformance descriptor for ',
  ProtocolConformanceDescriptorRecord: 'protocol conformance descriptor runtime record for ',
  ProtocolDescriptorRecord: 'protocol descriptor runtime record for ',
  NominalTypeDescriptorRecord: 'nominal type descriptor runtime record for ',
  OpaqueTypeDescriptorRecord: 'opaque type descriptor runtime record for ',
  OpaqueTypeDescriptor: 'opaque type descriptor for ',
  OpaqueTypeDescriptorAccessor: 'opaque type descriptor accessor for ',
  AssociatedTypeDescriptor: 'associated type descriptor for ',
  ReflectionMetadataFieldDescriptor: 'reflection metadata field descriptor ',
  ReflectionMetadataBuiltinDescriptor: 'reflection metadata builtin descriptor ',
  ReflectionMetadataAssociatedTypeDescriptor: 'reflection metadata associated type descriptor ',
  ReflectionMetadataSuperclassDescriptor: 'reflection metadata superclass descriptor ',
  ModuleDescriptor: 'module descriptor ',
  ExtensionDescriptor: 'extension descriptor ',
  AnonymousDescriptor: 'anonymous descriptor ',
  MetadataInstantiationCache: 'metadata instantiation cache for ',
  ValueWitnessTable: 'value witness table for ',
  ProtocolWitnessTable: 'protocol witness table for ',
  ProtocolWitnessTablePattern: 'protocol witness table pattern for ',
  GenericProtocolWitnessTable: 'generic protocol witness table for ',
  GenericProtocolWitnessTableInstantiationFunction: 'instantiation function for generic protocol witness table for ',
  ResilientProtocolWitnessTable: 'resilient protocol witness table for ',
  ProtocolWitnessTableAccessor: 'protocol witness table accessor for ',
  CoroutineContinuationPrototype: 'coroutine continuation prototype for ',
  EnumCase: 'enum case for ',
  OutlinedCopy: 'outlined copy of ',
  OutlinedConsume: 'outlined consume of ',
  OutlinedRetain: 'outlined retain of ',
  OutlinedRelease: 'outlined release of ',
  OutlinedInitializeWithTake: 'outlined init with take of ',
  OutlinedInitializeWithCopy: 'outlined init with copy of ',
  OutlinedAssignWithTake: 'outlined assign with take of ',
  OutlinedAssignWithCopy: 'outlined assign with copy of ',
  OutlinedDestroy: 'outlined destroy of ',
  OutlinedEnumGetTag: 'outlined enum get tag of ',
  OutlinedEnumTagStore: 'outlined enum tag store of ',
  OutlinedEnumProjectDataForLoad: 'outlined enum project data for load of ',
};

/** Attributes print in front of whatever follows them: in full, and short where that differs. */
const attributes: Readonly<Record<string, string | readonly [full: string, short: string]>> = {
  ObjCAttribute: '@objc ',
  NonObjCAttribute: '@nonobjc ',
  DynamicAttribute: 'dynamic ',
  DirectMethodReferenceAttribute: 'super ',
  DistributedThunk: 'distributed thunk ',
  DistributedAccessor: 'distributed accessor for ',
  PartialApplyForwarder: ['partial apply forwarder for ', 'partial apply for '],
  PartialApplyObjCForwarder: ['partial apply ObjC forwarder for ', 'partial apply for '],
  MergedFunction: ['merged ', ''],
  DynamicallyReplaceableFunctionVar: 'dynamically replaceable variable for ',
  DynamicallyReplaceableFunctionKey: 'dynamically replaceable key for ',
  DynamicallyReplaceableFunctionImpl: 'dynamically replaceable thunk for ',
  AsyncFunctionPointer: 'async function pointer to ',
  BackDeploymentThunk: 'back deployment thunk for ',
  BackDeploymentFallback: 'back deployment fallback for ',
  HasSymbolQuery: '#_hasSymbol query for ',
  AccessibleFunctionRecord: 'accessible function runtime record for ',
};

const specializations: Readonly<Record<string, string>> = {
  GenericSpecialization: 'generic specialization',
  GenericSpecializationNotReAbstracted: 'generic not re-abstracted specialization',
  GenericSpecializationPrespecialized: 'generic pre-specialization',
  GenericSpecializationInResilienceDomain: 'generic specialization',
  InlinedGenericFunction: 'inlined generic function',
  GenericPartialSpecialization: 'generic partial specialization',
  GenericPartialSpecializationNotReAbstracted: 'generic not-reabstracted partial specialization',
};

const printSpecialization =
  (words: string): Print =>
  (printer, { kind, children }) => {
    if (printer.isShort) {
      if (!printer.text.endsWith('specialized ')) printer.add('specialized ');
      return;
    }
    printer
      .add(`${words} <${kind.includes('Partial') ? 'Signature = ' : ''}`)
      .list(children)
      .add('> of ');
  };

const resumed =
  (words: string): Print =>
  (printer, { index }) => {
    if (!printer.isShort) printer.add(`(${index}) ${words} partial function for `);
  };

const inConformance =
  (words: string, between: readonly string[]): Print =>
  (printer, { children }) => {
    printer.add(words).print(children[1]);
    if (children[2]) printer.add(between[0] ?? '').print(children[2]);
    printer.add(between.at(-1) ?? '').print(children[0]);
  };

const printRequirement =
  (words: string, between: string): Print =>
  (printer, { children }) => {
    const [protocol, ...rest] = children;
    printer.add(words).print(protocol).add(between).list(rest, ': ');
  };

const printReabstraction =
  (words: string): Print =>
  (printer, { children }) => {
    const [from, to, signature] = children;
    if (printer.isShort) {
      printer.add('thunk for ').print(from);
      return;
    }
    printer.add(words);
    if (signature) printer.print(signature).add(' ');
    printer.add('from ').print(from).add(' to ').print(to);
  };

const printKeyPath =
  (words: string): Print =>
  (printer, { children }) => {
    printer.add(`key path ${words} for `).print(children[0]).add(' : ');
    for (const one of children.slice(1)) printer.print(one);
  };

/** How thunks, witnesses, metadata and attributes print. */
export const thunkPrinters: readonly (readonly [string, Print])[] = [
  ...Object.entries(prefixes).map(
    ([kind, words]) =>
      [
        kind,
        (printer: SwiftPrinter, { children }: SwiftNode) => {
          printer.add(words).print(children[0]);
          if (children[1] && !printer.isShort) printer.add(' ').print(children[1]);
        },
      ] as const,
  ),
  ...Object.entries(attributes).map(
    ([kind, words]) =>
      [kind, (printer: SwiftPrinter) => void printer.add(typeof words === 'string' ? words : words[printer.isShort ? 1 : 0])] as const,
  ),
  ...Object.entries(specializations).map(([kind, words]) => [kind, printSpecialization(words)] as const),
  ['FunctionSignatureSpecialization', printSpecialization('function signature specialization')],
  ['Change', (printer, { children }) => void printer.list(children, '')],
  ['Words', (printer, { text }) => void printer.add(text)],
  ['AsyncSuspendResumePartialFunction', resumed('suspend resume')],
  ['AsyncAwaitResumePartialFunction', resumed('await resume')],
  ['OutlinedVariable', (printer, { index }) => void printer.add(`outlined variable #${index} of `)],
  ['OutlinedReadOnlyObject', (printer, { index }) => void printer.add(`outlined read-only object #${index} of `)],
  ['OutlinedBridgedMethod', (printer, { text }) => void printer.add(`outlined bridged method (${text}) of `)],
  [
    'VTableThunk',
    (printer, { children }) => void printer.add('vtable thunk for ').print(children[1]).add(' dispatching to ').print(children[0]),
  ],
  [
    'ProtocolWitness',
    (printer, { children }) => void printer.add('protocol witness for ').print(children[1]).add(' in conformance ').print(children[0]),
  ],
  ['ReabstractionThunk', printReabstraction('reabstraction thunk ')],
  ['ReabstractionThunkHelper', printReabstraction('reabstraction thunk helper ')],
  ['KeyPathGetterThunkHelper', printKeyPath('getter')],
  ['KeyPathSetterThunkHelper', printKeyPath('setter')],
  [
    'KeyPathEqualsThunkHelper',
    (printer, { children }) => void printer.add('key path index equality operator for (').list(children).add(')'),
  ],
  ['KeyPathHashThunkHelper', (printer, { children }) => void printer.add('key path index hash operator for (').list(children).add(')')],
  ['FieldOffset', (printer, { children }) => void printer.print(children[0]).add(' field offset for ').print(children[1])],
  ['Directness', (printer, { text }) => void printer.add(text)],
  [
    'LazyProtocolWitnessTableAccessor',
    (printer, { children }) =>
      void printer.add('lazy protocol witness table accessor for type ').print(children[0]).add(' and conformance ').print(children[1]),
  ],
  [
    'LazyProtocolWitnessTableCacheVariable',
    (printer, { children }) =>
      void printer
        .add('lazy protocol witness table cache variable for type ')
        .print(children[0])
        .add(' and conformance ')
        .print(children[1]),
  ],
  ['AssociatedTypeMetadataAccessor', inConformance('associated type metadata accessor for ', [' in '])],
  ['AssociatedTypeWitnessTableAccessor', inConformance('associated type witness table accessor for ', [' : ', ' in '])],
  ['AssociatedConformanceDescriptor', printRequirement('associated conformance descriptor for ', '.')],
  ['DefaultAssociatedConformanceAccessor', printRequirement('default associated conformance accessor for ', '.')],
  ['BaseConformanceDescriptor', printRequirement('base conformance descriptor for ', ': ')],
  ['BaseWitnessTableAccessor', inConformance('base witness table accessor for ', [' in '])],
  [
    'ProtocolConformance',
    (printer, { children }) => {
      printer.print(children[0]);
      if (!printer.isShort) printer.add(' : ').print(children[1]).add(' in ').print(children[2]);
    },
  ],
  [
    'ValueWitness',
    (printer, { children }) =>
      void printer
        .print(children[0])
        .add(printer.isShort ? ' for ' : ' value witness for ')
        .print(children[1]),
  ],
  ['GlobalVariableOnceFunction', once('function')],
  ['GlobalVariableOnceToken', once('token')],
  ['Suffix', (printer, { text }) => void (printer.isShort || printer.add(` with unmangled suffix "${text}"`))],
];

function once(what: string): Print {
  return (printer, { children }) => {
    const [context, ...names] = children;
    printer.add(`one-time initialization ${what} for `);
    if (context && !(context.kind === 'Module' && printer.isShort)) printer.print(context).add('.');
    if (names.length === 1) printer.print(names[0]);
    else printer.add('(').list(names).add(')');
  };
}
