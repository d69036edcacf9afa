/** A view of a screen with those inside it. */
export interface ViewNode {
  /** Type, id and the like, in one line. */
  readonly label: string;
  readonly children: readonly ViewNode[];
}

const mostNodes = 5_000;
const deepest = 200;

/**
 * Reads an attached view hierarchy: JSON whose objects have their views under `children`, or text in which views inside another
 * are indented deeper. Null when it is neither; what is beyond the limits is left out.
 */
export function readViewHierarchy(text: string): ViewNode | null {
  const trimmed = text.trim();
  if (trimmed === '') return null;
  if (!/^[[{]/.test(trimmed)) return fromIndentation(text);
  try {
    return fromJson(JSON.parse(trimmed), { left: mostNodes }, 0);
  } catch {
    return null;
  }
}

function fromJson(value: unknown, budget: { left: number }, depth: number): ViewNode | null {
  if (Array.isArray(value)) return { label: 'views', children: childrenOf(value, budget, depth) };
  if (typeof value !== 'object' || value === null || budget.left-- <= 0 || depth > deepest) return null;
  const { children, ...own } = value as Record<string, unknown>;
  const facts = Object.entries(own).filter(([, one]) => one !== null && typeof one !== 'object' && one !== '');
  const type = facts.find(([name]) => name === 'type' || name === 'class')?.[1];
  const rest = facts.filter(([name]) => name !== 'type' && name !== 'class').map(([name, one]) => `${name}=${String(one).slice(0, 120)}`);
  return {
    label: [type ?? 'view', ...rest].join(' ').slice(0, 500),
    children: Array.isArray(children) ? childrenOf(children, budget, depth) : [],
  };
}

const childrenOf = (values: readonly unknown[], budget: { left: number }, depth: number): ViewNode[] =>
  values.map((value) => fromJson(value, budget, depth + 1)).filter((node) => node !== null);

function fromIndentation(text: string): ViewNode {
  const root = { label: 'views', children: [] as ViewNode[] };
  const open: { indent: number; children: ViewNode[] }[] = [{ indent: -1, children: root.children }];
  for (const line of text.split('\n').slice(0, mostNodes)) {
    if (line.trim() === '') continue;
    const indent = line.search(/\S/);
    while (open.length > 1 && (open.at(-1) as { indent: number }).indent >= indent) open.pop();
    const node = { label: line.trim().slice(0, 500), children: [] as ViewNode[] };
    (open.at(-1) as { children: ViewNode[] }).children.push(node);
    if (open.length < deepest) open.push({ indent, children: node.children });
  }
  return root.children.length === 1 ? (root.children[0] as ViewNode) : root;
}
