import { attachedMacroWords } from './macros.ts';
import { childOfKind, type SwiftNode } from './node.ts';
import { needsSpace, printSignature } from './print-types.ts';
import { innerType, type Print, type SwiftPrinter, typeOf } from './printer.ts';

interface EntityForm {
  /** How its type is shown: not at all, behind a colon, or as the signature of a function. */
  readonly type: 'none' | 'colon' | 'signature';
  /** It has a name of its own, in place 1. */
  readonly named?: boolean;
  /** What stands for the name, or behind it. */
  readonly extra?: string;
  /** Number behind that. */
  readonly index?: number;
}

/**
 * Prints `context.name` with its type. A name of several words cannot follow a dot, so its context comes behind it:
 * `closure #1 (Swift.Int) -> () in Module.function() -> ()`. Gives the context that is still to be printed when the
 * entity is itself a context of something whose own type comes first.
 */
function printEntity(
  printer: SwiftPrinter,
  one: SwiftNode,
  form: EntityForm,
  asContext: boolean,
  handed: SwiftNode | null = null,
): SwiftNode | null {
  const { named = false, extra = '', index } = form;
  const [context] = one.children;
  const name = named ? one.children[1] : undefined;
  const hasWords = extra.includes(' ') || name?.kind === 'LocalDeclName';
  const showsType = form.type === 'signature' ? !printer.isShort || !extra.includes(' ') : form.type === 'colon' && !printer.isShort;
  if (asContext && ((form.type !== 'none' && showsTypeInContext(printer, form)) || hasWords)) return one;
  let later: SwiftNode | null = null;
  if (context && showsContext(printer, context)) {
    if (hasWords) later = context;
    else {
      const length = printer.text.length;
      later = printContext(printer, context);
      if (printer.text.length > length) printer.add('.');
    }
  }
  let pendingExtra = index === undefined ? extra : `${extra}${index}`;
  if (named) {
    if (pendingExtra !== '' && hasWords) {
      printer.add(`${pendingExtra} of `);
      pendingExtra = '';
    }
    const length = printer.text.length;
    if (name && name.kind !== 'PrivateDeclName') printer.print(name);
    const privateName = childOfKind(one, 'PrivateDeclName');
    if (privateName) printer.print(privateName);
    if (printer.text.length > length && pendingExtra !== '') printer.add('.');
  }
  const unnamed = !named && !printer.isShort ? childOfKind(one, 'PrivateDeclName') : null;
  if (unnamed && pendingExtra !== '' && !hasWords) printer.print(unnamed).add('.');
  printer.add(pendingExtra);
  if (showsType && form.type !== 'none') printEntityType(printer, one, { shown: form.type, hasWords, handed });
  if (!asContext && later) {
    printer.add(/^(?:DefaultArgumentInitializer|Initializer|PropertyWrapper)/.test(one.kind) ? ' of ' : ' in ');
    printer.print(later);
    later = null;
  }
  return later;
}

/** A context that would print its type is postponed in full; short, only what has words is. */
const showsTypeInContext = (printer: SwiftPrinter, form: EntityForm): boolean => !printer.isShort || form.type === 'signature';

function showsContext(printer: SwiftPrinter, context: SwiftNode): boolean {
  return !(context.kind === 'Module' && printer.isShort);
}

/** Prints an entity as the context of another; gives what is still to be printed behind that one. */
function printContext(printer: SwiftPrinter, context: SwiftNode): SwiftNode | null {
  const form = entityForms.get(context.kind);
  if (form) return printEntity(printer, context, form(context), true);
  if (accessorNames.has(context.kind)) return context;
  printer.print(context);
  return null;
}

function printEntityType(
  printer: SwiftPrinter,
  one: SwiftNode,
  { shown, hasWords, handed }: { shown: 'colon' | 'signature'; hasWords: boolean; handed: SwiftNode | null },
): void {
  const labels = childOfKind(one, 'LabelList');
  const type = innerType(typeOf(one) ?? undefined);
  if (!type) return;
  let plain: SwiftNode | undefined = type;
  if (plain.kind === 'DependentGenericType') plain = innerType(plain.children[1]);
  const isFunction = plain?.kind === 'FunctionType' || plain?.kind === 'NoEscapeFunctionType' || plain?.kind === 'UncurriedFunctionType';
  if (shown === 'colon' || !isFunction) {
    printer.add(' : ');
    if (!isFunction || !labels) {
      printer.print(type);
      return;
    }
  } else if (hasWords) printer.add(' ');
  // Arguments that were handed to it stand for the parameters.
  if (handed) printer.add('<').list(handed.children).add('>');
  else if (type.kind === 'DependentGenericType') {
    printer.print(type.children[0]);
    if (needsSpace(type.children[1])) printer.add(' ');
  }
  printSignature(printer, plain as SwiftNode, labels ?? { kind: 'LabelList', text: '', index: 0, children: [] });
}

const isClass = (one: SwiftNode): boolean => one.children[0]?.kind === 'Class';

/** Numbers of expansions begin at 1. */
const indexOf = (one: SwiftNode): number => (one.children[2]?.index ?? 0) + 1;

const nominal: EntityForm = { type: 'none', named: true };

const entityForms = new Map<string, (one: SwiftNode) => EntityForm>([
  ...['Class', 'Structure', 'Enum', 'Protocol', 'TypeAlias', 'OtherNominalType'].map((kind) => [kind, () => nominal] as const),
  ['Function', () => ({ type: 'signature', named: true })],
  ['Variable', () => ({ type: 'colon', named: true })],
  ['Macro', () => ({ type: 'signature', named: true })],
  ['FreestandingMacroExpansion', (one) => ({ type: 'none', named: true, extra: 'freestanding macro expansion #', index: indexOf(one) })],
  ['MacroExpansionUniqueName', (one) => ({ type: 'none', named: true, extra: 'unique name #', index: indexOf(one) })],
  ...attachedMacroWords.map(
    ([kind, words]) =>
      [
        kind,
        (one: SwiftNode): EntityForm => ({
          type: 'none',
          named: true,
          extra: `${words} @${one.children[3]?.text} expansion #`,
          index: indexOf(one),
        }),
      ] as const,
  ),
  ['Subscript', () => ({ type: 'signature', extra: 'subscript' })],
  ['Allocator', (one) => ({ type: 'signature', extra: isClass(one) ? '__allocating_init' : 'init' })],
  ['Constructor', () => ({ type: 'signature', extra: 'init' })],
  ['Destructor', () => ({ type: 'none', extra: 'deinit' })],
  ['Deallocator', (one) => ({ type: 'none', extra: isClass(one) ? '__deallocating_deinit' : 'deinit' })],
  ['IsolatedDeallocator', (one) => ({ type: 'none', extra: isClass(one) ? '__isolated_deallocating_deinit' : 'deinit' })],
  ['IVarInitializer', () => ({ type: 'none', extra: '__ivar_initializer' })],
  ['IVarDestroyer', () => ({ type: 'none', extra: '__ivar_destroyer' })],
  ['ExplicitClosure', (one) => ({ type: 'signature', extra: 'closure #', index: (one.children[1]?.index ?? 0) + 1 })],
  ['ImplicitClosure', (one) => ({ type: 'signature', extra: 'implicit closure #', index: (one.children[1]?.index ?? 0) + 1 })],
  ['DefaultArgumentInitializer', (one) => ({ type: 'none', extra: 'default argument ', index: one.children[1]?.index ?? 0 })],
  ['Initializer', () => ({ type: 'none', extra: 'variable initialization expression' })],
  ['PropertyWrapperBackingInitializer', () => ({ type: 'none', extra: 'property wrapper backing initializer' })],
  ['PropertyWrapperInitFromProjectedValue', () => ({ type: 'none', extra: 'property wrapper init from projected value' })],
]);

const accessorNames = new Map([
  ['Getter', 'getter'],
  ['GlobalGetter', 'getter'],
  ['Setter', 'setter'],
  ['WillSet', 'willset'],
  ['DidSet', 'didset'],
  ['ReadAccessor', 'read'],
  ['Read2Accessor', 'read2'],
  ['ModifyAccessor', 'modify'],
  ['Modify2Accessor', 'modify2'],
  ['InitAccessor', 'init'],
  ['MaterializeForSet', 'materializeForSet'],
  ['UnsafeAddressor', 'unsafeAddressor'],
  ['UnsafeMutableAddressor', 'unsafeMutableAddressor'],
  ['OwningAddressor', 'owningAddressor'],
  ['OwningMutableAddressor', 'owningMutableAddressor'],
  ['NativeOwningAddressor', 'nativeOwningAddressor'],
  ['NativeOwningMutableAddressor', 'nativeOwningMutableAddressor'],
  ['NativePinningAddressor', 'nativePinningAddressor'],
  ['NativePinningMutableAddressor', 'nativePinningMutableAddressor'],
]);

const printAccessor =
  (accessor: string): Print =>
  (printer, { children }) => {
    const [storage] = children;
    if (!storage) return;
    if (storage.kind === 'Subscript') printEntity(printer, storage, { type: 'colon', extra: `subscript.${accessor}` }, false);
    else printEntity(printer, storage, { type: 'colon', named: true, extra: accessor }, false);
  };

const printText: Print = (printer, { text }) => {
  printer.add(text);
};

/** How each kind of declaration and name prints. */
export const entityPrinters: readonly (readonly [string, Print])[] = [
  ...[...entityForms].map(
    ([kind, form]) => [kind, (printer: SwiftPrinter, one: SwiftNode) => void printEntity(printer, one, form(one), false)] as const,
  ),
  ...[...accessorNames].map(([kind, accessor]) => [kind, printAccessor(accessor)] as const),
  [
    'MacroExpansionPlace',
    (printer, { children: [module, file, line, column] }) =>
      void printer.add(`module ${module?.text} file ${file?.text} line ${line?.index} column ${column?.index}`),
  ],
  [
    'BoundGenericFunction',
    (printer, { children: [type, handed] }) => {
      const bound = innerType(type);
      const form = bound && entityForms.get(bound.kind);
      if (bound && form && handed) printEntity(printer, bound, form(bound), false, handed);
    },
  ],
  ['Static', (printer, { children }) => void printer.add('static ').print(children[0])],
  ['Module', printText],
  ['Identifier', printText],
  ['InfixOperator', (printer, { text }) => void printer.add(`${text} infix`)],
  ['PrefixOperator', (printer, { text }) => void printer.add(`${text} prefix`)],
  ['PostfixOperator', (printer, { text }) => void printer.add(`${text} postfix`)],
  [
    'Extension',
    (printer, { children }) => {
      if (!printer.isShort) printer.add('(extension in ').print(children[0]).add('):');
      printer.print(children[1]);
      // Short, an extension with conditions shows that it has some: "Array<>.sum()".
      if (children[2]) printer.print(children[2]);
    },
  ],
  [
    'LocalDeclName',
    (printer, { children }) => {
      printer.print(children[1]);
      printer.add(` #${(children[0]?.index ?? 0) + 1}`);
    },
  ],
  [
    'PrivateDeclName',
    (printer, { children }) => {
      const [discriminator, name] = children;
      if (printer.isShort) {
        if (name) printer.print(name);
      } else if (name) printer.add('(').print(name).add(` in ${discriminator?.text})`);
      else printer.add(`(in ${discriminator?.text})`);
    },
  ],
  ['RelatedEntityDeclName', (printer, { children }) => void printer.add(`related decl '${children[0]?.text}' for `).print(children[1])],
  [
    'AnonymousContext',
    (printer, { children }) => {
      if (!printer.isShort) printer.print(children[1]).add('.(unknown context at ').print(children[0]).add(')');
    },
  ],
];
