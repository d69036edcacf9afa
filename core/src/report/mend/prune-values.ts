/** More values than this are not looked at one by one: a report of twenty thousand frames has fewer. */
const mostValues = 400_000;
const mostElements = 20_000;
const mostNames = 2_000;
/** No item has values that lie deeper; those of an app's attributes may, down to where they are flattened. */
const deepest = 24;

/**
 * Cuts what no item has out of a parsed JSON value, in place, before anything looks at each of its parts: endless lists, objects
 * of endless names, and depth without end. Gives how many values went, where that is known.
 */
export function pruneValues(root: unknown): number {
  let left = mostValues;
  let gone = 0;
  const prune = (value: unknown, depth: number): unknown => {
    left--;
    if (typeof value !== 'object' || value === null) return value;
    if (depth > deepest) {
      gone++;
      return null;
    }
    if (Array.isArray(value)) {
      const kept = Math.min(value.length, mostElements);
      for (let at = 0; at < kept; at++) {
        if (left <= 0) {
          gone += value.length - at;
          value.length = at;
          return value;
        }
        value[at] = prune(value[at], depth + 1);
      }
      gone += value.length - kept;
      value.length = kept;
      return value;
    }
    const object = value as Record<string, unknown>;
    let names = 0;
    for (const name in object) {
      if (left <= 0 || ++names > mostNames) {
        gone++;
        delete object[name];
      } else {
        const inner = object[name];
        if (typeof inner === 'object' && inner !== null) object[name] = prune(inner, depth + 1);
        else left--;
      }
    }
    return object;
  };
  prune(root, 0);
  return gone;
}
