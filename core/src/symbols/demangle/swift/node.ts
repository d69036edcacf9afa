/** Thrown when a name is none of this grammar. It never leaves the folder: such a name stays as it is. */
export class NotSwift extends Error {}

/** One construct of a mangled name; kinds are called as in the compiler's description of its mangling. */
export interface SwiftNode {
  readonly kind: string;
  readonly text: string;
  readonly index: number;
  readonly children: readonly SwiftNode[];
}

export const node = (kind: string, ...children: readonly SwiftNode[]): SwiftNode => ({ kind, text: '', index: 0, children });
export const textNode = (kind: string, text: string): SwiftNode => ({ kind, text, index: 0, children: [] });
export const indexNode = (kind: string, index: number): SwiftNode => ({ kind, text: '', index, children: [] });

/** A type in its wrapper, by which types are told from the entities and names on the stack. */
export const typeNode = (of: SwiftNode): SwiftNode => node('Type', of);

export const childOfKind = ({ children }: SwiftNode, kind: string): SwiftNode | null => children.find((one) => one.kind === kind) ?? null;

export function child(of: SwiftNode, at: number): SwiftNode {
  const found = of.children[at];
  if (!found) throw new NotSwift(`${of.kind} lacks a part`);
  return found;
}

/** Generic parameters are called A, B, … Z, AB, BB, … with their depth behind them: A1. */
export function genericParameterName(depth: number, index: number): string {
  let name = '';
  let rest = index;
  do {
    name += String.fromCharCode(65 + (rest % 26));
    rest = Math.floor(rest / 26);
  } while (rest > 0);
  return depth === 0 ? name : `${name}${depth}`;
}

export const genericParameter = (depth: number, index: number): SwiftNode =>
  typeNode(textNode('DependentGenericParamType', genericParameterName(depth, index)));

const contextKinds = new Set(
  `AccessorMacroExpansion Allocator AnonymousContext Class Constructor Deallocator DefaultArgumentInitializer BodyMacroExpansion ConformanceMacroExpansion Derivative DerivativeVTableThunk Destructor DidSet Enum ExplicitClosure
  Extension ExtensionMacroExpansion FreestandingMacroExpansion Function Getter GlobalGetter IVarDestroyer IVarInitializer ImplicitClosure InitAccessor Initializer IsolatedDeallocator
  Macro MacroExpansionPlace MacroExpansionUniqueName MaterializeForSet MemberAttributeMacroExpansion MemberMacroExpansion ModifyAccessor Modify2Accessor Module NativeOwningAddressor NativeOwningMutableAddressor
  NativePinningAddressor NativePinningMutableAddressor OtherNominalType OwningAddressor OwningMutableAddressor PeerMacroExpansion PreambleMacroExpansion
  PropertyWrapperBackingInitializer PropertyWrapperInitFromProjectedValue Protocol Read2Accessor ReadAccessor Setter Static
  Structure Subscript TypeAlias UnsafeAddressor UnsafeMutableAddressor Variable WillSet`.split(/\s+/),
);
export const isContext = ({ kind }: SwiftNode): boolean => contextKinds.has(kind);
export const isEntity = (one: SwiftNode): boolean => one.kind === 'Type' || isContext(one);

const declarationNames = new Set([
  'Identifier',
  'InfixOperator',
  'LocalDeclName',
  'PostfixOperator',
  'PrefixOperator',
  'PrivateDeclName',
  'RelatedEntityDeclName',
]);
export const isDeclarationName = ({ kind }: SwiftNode): boolean => declarationNames.has(kind);

const nominalKinds = new Set(['Class', 'Structure', 'Enum', 'Protocol', 'OtherNominalType', 'TypeAlias']);
export const isNominal = ({ kind }: SwiftNode): boolean => nominalKinds.has(kind);
