import { childOfKind, NotSwift, type SwiftNode } from './node.ts';

/** In full as the compiler's own demangler prints it, or short as crash reports and titles show it. */
export type SwiftForm = 'full' | 'short';

const maximumCharacters = 32 * 1024;
const deepestNode = 400;

export type Print = (printer: SwiftPrinter, one: SwiftNode) => void;

/** The text of a name while it is printed. What prints each kind of node is handed in, as kinds lie in several files. */
export class SwiftPrinter {
  text = '';
  private depth = 0;

  constructor(
    readonly form: SwiftForm,
    private readonly kinds: ReadonlyMap<string, Print>,
  ) {}

  get isShort(): boolean {
    return this.form === 'short';
  }

  add(text: string): this {
    this.text += text;
    if (this.text.length > maximumCharacters) throw new NotSwift('the name would print too long');
    return this;
  }

  print(one: SwiftNode | undefined): this {
    if (!one) throw new NotSwift('a part is missing');
    const print = this.kinds.get(one.kind);
    if (!print || this.depth > deepestNode) throw new NotSwift(`${one.kind} cannot be printed`);
    this.depth++;
    print(this, one);
    this.depth--;
    return this;
  }

  list(nodes: readonly SwiftNode[], separator = ', '): this {
    nodes.forEach((one, at) => {
      if (at > 0) this.add(separator);
      this.print(one);
    });
    return this;
  }
}

export const innerType = (one: SwiftNode | undefined): SwiftNode | undefined => (one?.kind === 'Type' ? one.children[0] : one);
export const typeOf = (entity: SwiftNode): SwiftNode | null => childOfKind(entity, 'Type');
