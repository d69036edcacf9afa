import { type ParserOptions, parse } from '@babel/parser';

/** From here on, up to the next one, code belongs to the function of this name. Line from 1, column from 0. */
export interface ScopeStart {
  readonly line: number;
  readonly column: number;
  readonly name: string;
}

export const topLevel = '(top level)';
const anonymous = '<anonymous>';
const maximumCharacters = 4_000_000;
const maximumNodes = 2_000_000;

/**
 * Which function each place of a JavaScript or TypeScript source lies in. Null when the source cannot be parsed, as of
 * files that only a bundler's own loader understands.
 */
export function findFunctionScopes(source: string, fileName: string): ScopeStart[] | null {
  if (source.length > maximumCharacters) return null;
  let program: SyntaxNode;
  try {
    program = parse(source, parserOptions(fileName)) as unknown as SyntaxNode;
  } catch {
    // Not this language; or nested so deeply that the parser's own recursion gave up.
    return null;
  }
  return scopesOf(program, source);
}

function parserOptions(fileName: string): ParserOptions {
  const path = fileName.replace(/[?#].*$/, '');
  const isTypeScript = /\.[cm]?tsx?$/.test(path);
  return {
    sourceType: 'unambiguous',
    errorRecovery: true,
    allowReturnOutsideFunction: true,
    allowSuperOutsideMethod: true,
    allowUndeclaredExports: true,
    plugins: isTypeScript
      ? /\.tsx$/.test(path)
        ? ['typescript', 'jsx', 'decorators']
        : ['typescript', 'decorators']
      : [['flow', { all: false }], 'jsx', 'decorators'],
  };
}

interface Position {
  readonly line: number;
  readonly column: number;
}

interface SyntaxNode {
  readonly type: string;
  readonly start?: number | null;
  readonly end?: number | null;
  readonly loc?: { readonly start: Position; readonly end: Position } | null;
  readonly [key: string]: unknown;
}

const isNode = (value: unknown): value is SyntaxNode =>
  typeof value === 'object' && value !== null && typeof (value as SyntaxNode).type === 'string';

const functionTypes: ReadonlySet<string> = new Set([
  'FunctionDeclaration',
  'FunctionExpression',
  'ArrowFunctionExpression',
  'ObjectMethod',
  'ClassMethod',
  'ClassPrivateMethod',
  'StaticBlock',
]);

/** What stands around a node: enough to name a function that has no name of its own. */
interface Surroundings {
  /** Name that the place gives to a function or class written there. */
  readonly given: string | null;
  /** Where the name stands, from which on code belongs to a function written there. */
  readonly givenFrom: Position | null;
  readonly className: string | null;
  readonly functionName: string | null;
}

interface Range {
  readonly start: Position;
  readonly end: Position;
  readonly name: string;
}

/** The name of what runs when a class is made into an object: its constructor, also one that nobody wrote, and its fields. */
const constructorOf = (className: string): string => `new ${className}`;
/** The name of what runs once for a class: its static blocks and static fields. */
const staticPartOf = (className: string): string => `${className}.<static>`;

function scopesOf(program: SyntaxNode, source: string): ScopeStart[] {
  const ranges: Range[] = [];
  const add = (node: SyntaxNode, name: string, from?: Position | null) => {
    if (node.loc) ranges.push({ start: from ?? node.loc.start, end: endOfCode(node, node.loc.end), name });
  };
  const nothing = { given: null, givenFrom: null };
  const waiting: { node: SyntaxNode; around: Surroundings }[] = [
    { node: program, around: { ...nothing, className: null, functionName: null } },
  ];
  let visited = 0;
  for (let next = waiting.pop(); next && visited++ < maximumNodes; next = waiting.pop()) {
    const { node, around } = next;
    let inside: Surroundings = { ...around, ...nothing };
    if (functionTypes.has(node.type)) {
      const name = functionName(node, around, source);
      add(node, name, around.givenFrom);
      inside = { ...nothing, className: null, functionName: name };
    } else if (node.type === 'ClassDeclaration' || node.type === 'ClassExpression') {
      const className = nameOf(node.id) ?? around.given ?? 'class';
      add(node, constructorOf(className));
      // What a class extends, and what stands before it, is looked at where the class is written.
      for (const outside of [node.superClass, ...decorators(node)]) if (isNode(outside)) add(outside, around.functionName ?? topLevel);
      inside = { ...inside, className };
    } else if (isClassProperty(node) && around.className) {
      if (isNode(node.value) && !functionTypes.has(node.value.type))
        add(node.value, node.static === true ? staticPartOf(around.className) : constructorOf(around.className));
      inside = { ...inside, given: `${around.className}.${keyName(node, source) ?? anonymous}` };
    } else if (node.type === 'ClassBody') inside = around;
    for (const { child, given, givenFrom = null } of childrenOf(node, { ...around, given: inside.given }, around.given, source))
      waiting.push({ node: child, around: { ...inside, given, givenFrom } });
    // A computed key is worked out where the class is written.
    if (around.className !== null && isNode(node.key) && node.computed === true) add(node.key, around.functionName ?? topLevel);
  }
  return flatten(ranges);
}

/** A closing brace stands in a map for what follows the function, such as the call of one that is called where it is written. */
const endOfCode = ({ body }: SyntaxNode, end: Position): Position =>
  isNode(body) && body.type === 'BlockStatement' ? { line: end.line, column: end.column - 1 } : end;

const isClassProperty = ({ type }: SyntaxNode): boolean =>
  type === 'ClassProperty' || type === 'ClassPrivateProperty' || type === 'ClassAccessorProperty';

const decorators = (node: SyntaxNode): unknown[] => (Array.isArray(node.decorators) ? node.decorators : []);

function functionName(node: SyntaxNode, { given, className, functionName: outer }: Surroundings, source: string): string {
  const owner = className ?? 'class';
  if (node.type === 'ClassMethod' || node.type === 'ClassPrivateMethod') {
    if (node.kind === 'constructor') return constructorOf(owner);
    const accessor = node.kind === 'get' || node.kind === 'set' ? `${node.kind} ` : '';
    return `${accessor}${owner}.${keyName(node, source) ?? anonymous}`;
  }
  if (node.type === 'StaticBlock') return staticPartOf(owner);
  if (node.type === 'ObjectMethod') return keyName(node, source) ?? anonymous;
  const own = nameOf(node.id) ?? given;
  if (own) return own;
  return outer === null || outer.endsWith(anonymous) ? (outer ?? anonymous) : `${outer}.${anonymous}`;
}

/** The nodes inside a node, each with the name that its place gives to a function there. */
function* childrenOf(
  node: SyntaxNode,
  { given }: Surroundings,
  givenToCall: string | null,
  source: string,
): Generator<{ child: SyntaxNode; given: string | null; givenFrom?: Position | null }> {
  const names = new Map<unknown, string | null>();
  let givenFrom: Position | null = null;
  switch (node.type) {
    case 'VariableDeclarator':
      names.set(node.init, nameOf(node.id));
      givenFrom = node.loc?.start ?? null;
      break;
    case 'AssignmentExpression':
    case 'AssignmentPattern':
      names.set(node.right, nameOf(node.left));
      break;
    case 'ObjectProperty':
      names.set(node.value, keyName(node, source));
      if (node.computed !== true) givenFrom = node.loc?.start ?? null;
      break;
    case 'ClassProperty':
    case 'ClassPrivateProperty':
    case 'ClassAccessorProperty':
      names.set(node.value, given);
      break;
    case 'ExportDefaultDeclaration':
      names.set(node.declaration, 'default');
      break;
    case 'CallExpression':
    case 'OptionalCallExpression':
      // As in `const List = memo(() => …)`: what is wrapped is known by the name it gets.
      if (givenToCall !== null && Array.isArray(node.arguments) && isWrapper(node.callee)) names.set(node.arguments[0], givenToCall);
      break;
    case 'ParenthesizedExpression':
    case 'TSAsExpression':
    case 'TSNonNullExpression':
    case 'TSSatisfiesExpression':
    case 'TypeCastExpression':
    case 'AwaitExpression':
      names.set(node.expression, givenToCall);
      break;
  }
  for (const key of Object.keys(node)) {
    if (key === 'loc' || key === 'tokens' || key === 'comments' || key === 'errors' || key === 'extra' || key.endsWith('Comments'))
      continue;
    const value = node[key];
    for (const one of Array.isArray(value) ? value : [value])
      if (isNode(one)) yield { child: one, given: names.get(one) ?? null, givenFrom: names.has(one) ? givenFrom : null };
  }
}

/** `memo(…)` and `React.memo(…)` wrap a function; `list.map(…)` calls it. */
const isWrapper = (callee: unknown): boolean =>
  isNode(callee) && (callee.type === 'Identifier' || (callee.type === 'MemberExpression' && /^\p{Lu}/u.test(nameOf(callee.object) ?? '')));

/** The name that an identifier, or the last part of a member, stands for. */
function nameOf(value: unknown): string | null {
  if (!isNode(value)) return null;
  if (value.type === 'Identifier') return value.name as string;
  if (value.type === 'MemberExpression' && value.computed !== true) return nameOf(value.property);
  if (value.type === 'PrivateName') return `#${nameOf(value.id)}`;
  return null;
}

const longestKey = 60;

/** The name of a property as it is written; a computed one in its brackets. */
function keyName(node: SyntaxNode, source: string): string | null {
  const { key } = node;
  if (!isNode(key)) return null;
  if (key.type === 'StringLiteral' || key.type === 'NumericLiteral') return String(key.value);
  if (node.computed !== true) return nameOf(key);
  const written = source.slice(key.start ?? 0, key.end ?? 0);
  return written === '' || written.length > longestKey || written.includes('\n') ? null : `[${written}]`;
}

const before = (a: Position, b: Position): boolean => a.line < b.line || (a.line === b.line && a.column < b.column);

/** Nested ranges as places from which on a name holds; functions lie wholly inside one another. */
function flatten(ranges: readonly Range[]): ScopeStart[] {
  const sorted = [...ranges].sort(
    (a, b) => a.start.line - b.start.line || a.start.column - b.start.column || (before(a.end, b.end) ? 1 : -1),
  );
  const starts: ScopeStart[] = [{ line: 1, column: 0, name: topLevel }];
  const add = ({ line, column }: Position, name: string) => {
    const last = starts.at(-1);
    if (last && last.line === line && last.column === column) starts.pop();
    if (starts.at(-1)?.name !== name) starts.push({ line, column, name });
  };
  const open: Range[] = [];
  const closeUpTo = (place: Position | null) => {
    for (let top = open.at(-1); top && (place === null || !before(place, top.end)); top = open.at(-1)) {
      open.pop();
      add(top.end, open.at(-1)?.name ?? topLevel);
    }
  };
  for (const range of sorted) {
    closeUpTo(range.start);
    add(range.start, range.name);
    open.push(range);
  }
  closeUpTo(null);
  return starts;
}
