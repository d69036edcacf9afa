import type { MappingIndex } from '../symbols/mapping/lookup.ts';

/** The method at the top of the stack, as printed: whose fields `this` means, and whose parameters. */
export interface ThrowingMethod {
  readonly class: string;
  readonly method: string;
  readonly line: number | null;
}

/**
 * Restores names that a JVM printed, by one mapping. Printed names are obfuscated ones; types inside a mapping are
 * original ones.
 */
export class JvmNames {
  constructor(
    private readonly mapping: MappingIndex,
    private readonly thrower: ThrowingMethod | null,
  ) {}

  /**
   * A class in any spelling of the runtime: `a.b`, `a/b`, `a.b[]`, `[La.b;`, `La/b;`. What is not in the mapping stays.
   * `separator`: what the runtime puts between packages at this place; without it as in the name, or as usual for its form.
   */
  class(printed: string, separator?: '/' | '.'): string {
    const [, before = '', name = '', behind = ''] = /^(\[*L)(.+)(;)$/.exec(printed) ?? /^()(.+?)((?:\[\])*)$/.exec(printed) ?? [];
    const original = this.mapping.className(name.replaceAll('/', '.'));
    if (original === null) return printed;
    const usual = name.includes('/') || (before === 'L' && !name.includes('.')) ? '/' : '.';
    return `${before}${original.replaceAll('.', separator ?? usual)}${behind}`;
  }

  /** The method that a name means in its class, by its types where the runtime printed them; what stays open stays. */
  method(owner: string, method: string, { parameters, result }: { parameters?: string | undefined; result?: string | undefined }): string {
    const wanted = parameters === undefined ? null : this.types(parameters);
    const wantedResult = result === undefined ? null : short(this.class(result));
    const all = this.mapping.methodsNamed(owner, method);
    const fitting = all
      .filter((one) => wanted === null || one.parameters.split(',').map(short).join() === wanted)
      .filter((one) => wantedResult === null || one.result === '' || short(one.result) === wantedResult);
    // An optimiser takes parameters away, of which the mapping tells those that were written.
    return only((fitting.length > 0 ? fitting : all).map((one) => one.name)) ?? method;
  }

  /** The field that a name means in its class. */
  field(owner: string, field: string): string {
    return only(this.mapping.fieldsNamed(owner, field).map((one) => one.name)) ?? field;
  }

  /** The same where only the original type is known whose field it is. */
  fieldOfType(type: string, field: string): string {
    const owner = this.mapping.obfuscatedName(type);
    return owner === null ? field : this.field(owner, field);
  }

  /** Parameter types as printed, separated by ", "; short and restored. */
  private types(printed: string): string {
    return printed
      .split(', ')
      .map((one) => short(this.class(one)))
      .join();
  }

  /** `result Class.method(parameters)` or `Class.field`, with or without what stands before the name. */
  member(printed: string): string {
    const [, before = '', name = '', parameters] = /^(.*? )??([^\s(]+)(?:\((.*)\))?$/.exec(printed) ?? [];
    const dot = name.lastIndexOf('.');
    if (dot < 0) return printed;
    const words = before.trimEnd().split(' ');
    const result = words.at(-1) as string;
    const owner = name.slice(0, dot);
    const member = name.slice(dot + 1);
    const restored =
      parameters === undefined ? this.field(owner, member) : this.method(owner, member, { parameters, result: result || undefined });
    const types =
      parameters === undefined
        ? ''
        : `(${parameters
            .split(', ')
            .map((one) => this.class(one))
            .join(', ')})`;
    return `${before === '' ? '' : `${[...words.slice(0, -1), this.class(result)].join(' ')} `}${this.class(owner)}.${restored}${types}`;
  }

  /** The same where the class stands elsewhere in the sentence. */
  ownedMember(printed: string, owner: string): string {
    const restored = this.member(printed.replace(/([^\s(]+)(?=\(|$)/, `${owner}.$1`));
    return restored.replace(`${this.class(owner)}.`, '');
  }

  /** A method with its descriptor, `name(La;I)Lb;`. */
  describedMethod(printed: string, owner: string): string {
    const [, name = '', parameters = '', result = ''] = /^([^(]*)\((.*)\)(.+)$/.exec(printed) ?? [];
    const words = (list: string) => [...list.matchAll(descriptorType)].map(([one]) => wordDescriptor(one)).join(', ');
    return `${this.method(owner, name, { parameters: words(parameters), result: words(result) })}(${this.descriptors(parameters)})${this.descriptors(result)}`;
  }

  descriptors(printed: string): string {
    return printed.replace(descriptorType, (one) => this.class(one, '/'));
  }

  /**
   * What a helpful message quotes: `this.a`, `<parameter1>.b[0]`, `a.b(int).c`. A step is restored where the type before it is
   * known. Source: JEP 358, "Helpful NullPointerExceptions".
   */
  expression(printed: string): string {
    return this.steps(printed).text;
  }

  /** The type, by its original name, that an expression has, as far as it is known. */
  typeOf(printed: string): string | null {
    return this.steps(printed).type;
  }

  private steps(printed: string): { text: string; type: string | null } {
    const head = /^(?:<\w+>|[^.[(]*)/.exec(printed)?.[0] ?? '';
    let type = this.typeOfVariable(head);
    let text = head;
    let at = head.length;
    if (type === null && !head.startsWith('<')) {
      const member = this.memberAtHead(printed);
      if (member) ({ text, type, at } = member);
    }
    for (const [step, name, index] of printed.slice(at).matchAll(/\.([^.[(]+)|\[([^\]]*)\]|./gs)) {
      if (name !== undefined) {
        const owner = type === null ? null : this.mapping.obfuscatedName(type);
        const field = owner === null ? undefined : onlyOne(this.mapping.fieldsNamed(owner, name));
        text += `.${field?.name ?? name}`;
        type = field?.type ?? null;
      } else if (index !== undefined) {
        text += `[${this.expression(index)}]`;
        type = type?.endsWith('[]') ? type.slice(0, -2) : null;
      } else {
        text += step;
        type = null;
      }
    }
    return { text, type };
  }

  private typeOfVariable(name: string): string | null {
    if (!this.thrower) return null;
    if (name === 'this') return this.mapping.className(this.thrower.class);
    const number = /^<parameter(\d+)>$/.exec(name)?.[1];
    if (number === undefined) return null;
    const match = this.mapping.retrace(this.thrower.class, this.thrower.method, this.thrower.line);
    const parameters = match.state === 'found' ? match.alternatives.map((frames) => frames.at(-1)?.parameters.split(',')) : [];
    return only(parameters.map((list) => list?.[Number(number) - 1] ?? '')) || null;
  }

  /** A static field or the result of a method: the longest beginning that is a class, and the name behind it. */
  private memberAtHead(printed: string): { text: string; type: string | null; at: number } | null {
    const names = (/^[^[(]*/.exec(printed)?.[0] ?? '').split('.');
    const behind = printed.slice(names.join('.').length);
    const parameters = /^\(([^()]*)\)/.exec(behind)?.[1];
    for (let count = names.length - 1; count > 0; count--) {
      const owner = names.slice(0, count).join('.');
      const original = this.mapping.className(owner);
      const member = names[count] as string;
      if (original === null) continue;
      if (parameters !== undefined && count === names.length - 1) {
        const name = this.method(owner, member, { parameters });
        const types = parameters.split(', ').map((one) => this.class(one));
        const known = this.mapping
          .methodsNamed(owner, member)
          .filter((one) => one.parameters.split(',').map(short).join() === this.types(parameters));
        return {
          text: `${original}.${name}(${types.join(', ')})`,
          type: only(known.map((one) => one.result)) ?? null,
          at: names.join('.').length + parameters.length + 2,
        };
      }
      const field = onlyOne(this.mapping.fieldsNamed(owner, member));
      return { text: `${original}.${field?.name ?? member}`, type: field?.type ?? null, at: owner.length + member.length + 1 };
    }
    return null;
  }
}

const descriptorType = /\[*(?:[BCDFIJSZV]|L[^;]+;)/g;
const primitives: Readonly<Record<string, string>> = {
  B: 'byte',
  C: 'char',
  D: 'double',
  F: 'float',
  I: 'int',
  J: 'long',
  S: 'short',
  Z: 'boolean',
  V: 'void',
};

/** `[La/b;` → `a.b[]` */
function wordDescriptor(descriptor: string): string {
  const element = descriptor.replace(/^\[*/, '');
  const name = primitives[element] ?? element.slice(1, -1).replaceAll('/', '.');
  return name + '[]'.repeat(descriptor.length - element.length);
}

/** Helpful messages leave out the package of these two. */
const short = (type: string): string => type.replace(/^java\.lang\.(Object|String)(?=$|\[)/, '$1');

/** The value that all of a list are; undefined when they differ or there are none. */
function only(values: readonly string[]): string | undefined {
  const [first, ...others] = new Set(values);
  return others.length === 0 ? first : undefined;
}

const onlyOne = (fields: readonly { readonly name: string; readonly type: string }[]) => (fields.length === 1 ? fields[0] : undefined);
