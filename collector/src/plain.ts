const deepest = 12;
const mostEntries = 500;
const mostCharacters = 65_536;

/**
 * A copy of a value that JSON can hold, whatever an app gives: values that lie within themselves, numbers that are none, functions,
 * getters that throw. What a server would put right is left to it; this is only what would stop the item from being kept at all.
 */
export function plain(value: unknown, depth = 0, around: readonly object[] = []): unknown {
  switch (typeof value) {
    case 'string':
      return value.length > mostCharacters ? value.slice(0, mostCharacters) : value;
    case 'number':
      return Number.isFinite(value) ? value : String(value);
    case 'boolean':
      return value;
    case 'bigint':
      return value.toString();
    case 'object':
      return value === null ? null : plainObject(value, depth, around);
    default:
      return undefined;
  }
}

function plainObject(value: object, depth: number, around: readonly object[]): unknown {
  if (depth > deepest || around.includes(value)) return '…';
  const inside = [...around, value];
  try {
    if (value instanceof Date) return Number.isFinite(value.getTime()) ? value.toISOString() : 'no date';
    if (value instanceof Error) return String(value);
    if (value instanceof Map) return plain(Object.fromEntries(value), depth, around);
    if (value instanceof Set) return plain([...value], depth, around);
    if (Array.isArray(value)) return value.slice(0, mostEntries).map((one) => plain(one, depth + 1, inside) ?? null);
    const copy: Record<string, unknown> = {};
    for (const name of Object.keys(value).slice(0, mostEntries))
      copy[name] = plainMember(value as Record<string, unknown>, name, depth, inside);
    return copy;
  } catch {
    return '…';
  }
}

function plainMember(value: Record<string, unknown>, name: string, depth: number, inside: readonly object[]): unknown {
  try {
    return plain(value[name], depth + 1, inside);
  } catch {
    return '…';
  }
}
