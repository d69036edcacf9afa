import type { JvmFrame } from '../report/frames.ts';
import type { ReportedException } from '../report/report.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import { JvmNames } from './jvm-expression.ts';

/** What a part of a runtime's sentence is; `owner` is the class of the parts that name a member without its class. */
type Part = 'class' | 'owner' | 'member' | 'owned' | 'described' | 'descriptors' | 'expression' | 'step' | 'plain';

// A name may be any that a compiler writes: letters of all languages, digits, "$" and "-".
const name = String.raw`[\p{L}_$][\p{L}\p{N}_$-]*`;
const className = String.raw`(?:\[+L)?${name}(?:[./]${name})*(?:\[\])*;?`;
const patterns: Readonly<Record<Part, string>> = {
  class: className,
  owner: className,
  member: `[^'"]{1,2000}?`,
  owned: `[^'"]{1,2000}?`,
  described: String.raw`[^\s'"()]{1,500}\([^\s'"()]{0,2000}\)[^\s'"]{1,500}?`,
  descriptors: String.raw`\[*(?:L[^\s;]+;|[BCDFIJSZV])`,
  expression: '[^"]{1,2000}?',
  step: name,
  plain: name,
};

/**
 * Sentences in which a runtime names classes and members, so that even the word "a" is known to be one. Sources: HotSpot
 * (`bytecodeUtils.cpp`, `linkResolver.cpp`, `verifier.cpp`, `sharedRuntime.cpp`), ART (`common_throws.cc`, `class_linker.cc`), and the
 * null checks of Kotlin's compiler. `^` binds a sentence to the beginning of the message, `$` to its end.
 */
const sentences: readonly string[] = [
  // Helpful messages of null pointers.
  'Cannot invoke "{member}"',
  'Cannot (?:read|assign) field "{step}" because "{expression}" is null',
  'because (?:the return value of )?"{expression}" is null',
  // Casts and arrays.
  '^(?:class )?{class} cannot be cast to (?:class )?{class}',
  '\\({class} and {class} are in ',
  '\\({class} is in [^;()]*; {class} is in ',
  '^Cannot cast {class} to {class}$',
  '^null cannot be cast to non-null type {class}',
  '^{class} cannot be stored in an array of type {class}',
  'to the type of the destination array, {class}$',
  // Methods and fields that are missing, inaccessible or without a body.
  "(?:virtual|interface|direct|static|super) method '{member}'",
  "(?:read from|write to) field '{member}'",
  " in method '{member}'",
  "resolved method '{owned}' of (?:interface|class|abstract class) {owner}",
  "(?:method|field|constructor) '{member}' \\(",
  "^'{member}'$",
  'abstract method "{member}"',
  '(?:virtual|interface|direct|static|super) method {described} in (?:class|interface) {owner}',
  '(?:static |instance )?field {plain} of type {descriptors} in class {owner}',
  "does not have member field '{member}'",
  "(?:Method|Field) '{member}' is inaccessible to class '{class}'",
  '^{member} is not accessible from java\\.lang\\.Class<{class}>',
  'No implementation found for {member} \\(tried ',
  '(?:[Cc]lass|[Ii]nterface) {class} does not have ',
  'method {owner}\\.{plain}, parameter ',
  // Classes that are missing, changed or refused.
  'Receiver class {class} does not define',
  'Could not initialize class {class}$',
  '^Found (?:class|interface) {class}, but (?:interface|class) was expected',
  '^[Cc]lass {class} does not implement (?:the requested )?interface {class}',
  '^class {class} tried to access (?:private |protected )?(?:method|field|constructor)',
  '^tried to access (?:method|field|class) {owner}\\.{plain}.* from class {class}$',
  "^Illegal class access: '{class}' attempting to access '{class}'",
  '^class {class} cannot (?:access|inherit from|implement) .*?(?:class|interface|superinterface) {class}',
  '^{class} is not an (?:enum class|interface)',
  '^No enum constant {class}\\.',
  'java\\.lang\\.Class<{class}>',
  "\\(declaration of '{class}' appears in",
  'Verifier rejected class {class}: {member} failed to verify: {member}: ',
  '^Didn\'t find class "{class}" on path',
  '\\(name = {class}\\)',
];

/** Exceptions of the runtime whose whole message may be the name of a class. */
const namesClass =
  /^java\.(?:lang\.(?:ClassNotFoundException|NoClassDefFoundError|Instantiation(?:Error|Exception)|ArrayStoreException|IncompatibleClassChangeError|VerifyError|ClassCastException)|io\.(?:NotSerializableException|InvalidClassException))$/;
const wholeClass = new RegExp(`^${className}$`, 'u');

interface Sentence {
  readonly pattern: RegExp;
  readonly parts: readonly Part[];
}

const known: readonly Sentence[] = sentences.map((text) => {
  const parts: Part[] = [];
  const source = text.replace(/\{(\w+)\}/g, (_, part: Part) => {
    parts.push(part);
    return `(${patterns[part]})`;
  });
  return { pattern: new RegExp(source, 'dgu'), parts };
});

/** What is written alike wherever it stands: a descriptor, an object with its hash, a name with dots or slashes. */
const descriptor = new RegExp(String.raw`(?<![\p{L}\p{N}_$.])\[*L${name}(?:[./]${name})*;`, 'gu');
const withHash = new RegExp(
  String.raw`(?<![\p{L}\p{N}_$./@:-])(${name}(?:\.${name})*(?:\[\])*)(?=@[0-9a-f]{1,8}(?![\p{L}\p{N}_.@-]))`,
  'gu',
);
const qualified = new RegExp(String.raw`(?<![\p{L}\p{N}_$./@:-])${name}(?:\.${name})+(?:\[\])*(?![\p{L}\p{N}_$@]|/|:\d)`, 'gu');
const withSlashes = new RegExp(String.raw`(?<![\p{L}\p{N}_$./@:-])${name}(?:/${name})+(?![\p{L}\p{N}_$@]|[/.]|:\d)`, 'gu');

type Replacement = readonly [from: number, to: number, text: string];

const longestMessage = 20_000;

/**
 * Restores the names that a JVM wrote into the message of an exception, which its runtime explains in sentences of its own. A name with
 * dots is a class if the mapping says so; a word without is one only where the sentence says so, since "a" is a word too.
 * `causes` are the exceptions behind it, nearest first: `new RuntimeException(cause)` copies the header of its cause.
 */
export function restoreMessage(
  { type, message, frames }: Pick<ReportedException, 'type' | 'message' | 'frames'>,
  mapping: MappingIndex,
  causes: readonly ReportedException[] = [],
): string {
  const text = message ?? '';
  if (text.length > longestMessage) return text;
  const [cause, ...further] = causes;
  if (cause && (text === cause.type || text.startsWith(`${cause.type}: `))) {
    const copied = text.slice(cause.type.length).replace(/^: /, '');
    const header = mapping.className(cause.type) ?? cause.type;
    return text === cause.type ? header : `${header}: ${restoreMessage({ ...cause, message: copied }, mapping, further)}`;
  }
  const [top] = frames;
  const names = new JvmNames(mapping, top?.runtime === 'jvm' ? (top as JvmFrame) : null);
  if (namesClass.test(type) && wholeClass.test(text)) return names.class(text, type.endsWith('NoClassDefFoundError') ? '/' : undefined);
  const replacements = [...ofSentences(text, names), ...(text.includes('\nException Details:\n') ? ofVerifier(text, names) : [])];
  for (const [pattern, restore] of [
    [descriptor, names.class],
    [withHash, names.class],
    [qualified, names.class],
    [withSlashes, names.class],
  ] as const)
    for (const found of text.matchAll(pattern))
      replacements.push([found.index, found.index + found[0].length, restore.call(names, found[0])]);
  return replaced(text, replacements);
}

function ofSentences(text: string, names: JvmNames): Replacement[] {
  const replacements: Replacement[] = [];
  for (const { pattern, parts } of known)
    for (const found of text.matchAll(pattern)) {
      const printed = (part: Part) => found[parts.indexOf(part) + 1] ?? '';
      for (const [at, part] of parts.entries()) {
        const [from, to] = found.indices?.[at + 1] ?? [0, 0];
        const step = () => fieldOf(found[at + 1] as string, printed('expression'), names);
        replacements.push([from, to, part === 'step' ? step() : restorePart(part, found[at + 1] as string, printed('owner'), names)]);
      }
    }
  return replacements;
}

function restorePart(part: Exclude<Part, 'step'>, printed: string, owner: string, names: JvmNames): string {
  const plainOwner = owner.replace(/^L(.*);$/, '$1').replaceAll('/', '.');
  switch (part) {
    case 'class':
    case 'owner':
      return names.class(printed);
    case 'member':
      return printed.startsWith('"') ? printed : names.member(printed);
    case 'owned':
      return names.ownedMember(printed, plainOwner);
    case 'described':
      return names.describedMethod(printed, plainOwner);
    case 'descriptors':
      return names.descriptors(printed);
    case 'expression':
      return names.expression(printed);
    case 'plain': {
      const field = names.field(plainOwner, printed);
      return field === printed ? names.method(plainOwner, printed, {}) : field;
    }
  }
}

/** `Cannot read field "a" because "this.b" is null`: the type of the second says whose field the first is. */
function fieldOf(field: string, expression: string, names: JvmNames): string {
  const type = names.typeOf(expression);
  return type === null ? field : names.fieldOfType(type, field);
}

/** What HotSpot's verifier says of a method: its place, and types in single quotes. */
function ofVerifier(text: string, names: JvmNames): Replacement[] {
  const replacements: Replacement[] = [];
  for (const found of text.matchAll(new RegExp(`'(${className})'`, 'dgu'))) {
    const [from, to] = found.indices?.[1] ?? [0, 0];
    replacements.push([from, to, names.class(found[1] as string, '/')]);
  }
  const place = new RegExp(`\\n {2}Location:\\n {4}(${className})\\.(${patterns.described}) @`, 'du').exec(text);
  for (const [at, part] of (['owner', 'described'] as const).entries()) {
    const [from, to] = place?.indices?.[at + 1] ?? [0, 0];
    if (place)
      replacements.push([
        from,
        to,
        part === 'owner' ? names.class(place[1] as string, '/') : restorePart(part, place[2] as string, place[1] as string, names),
      ]);
  }
  return replacements;
}

/** Of replacements that overlap the first holds: what a sentence says goes before what a name looks like. */
function replaced(text: string, replacements: readonly Replacement[]): string {
  const held: Replacement[] = [];
  for (const one of replacements) if (!held.some(([from, to]) => one[0] < to && from < one[1])) held.push(one);
  let restored = '';
  let at = 0;
  for (const [from, to, words] of held.sort((a, b) => a[0] - b[0])) {
    restored += text.slice(at, from) + words;
    at = to;
  }
  return restored + text.slice(at);
}
