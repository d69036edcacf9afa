/** A value that is made when it is first asked for, and kept: what costs a moment is paid neither at every start nor at every request. */
export function madeOnce<Value>(make: () => Value): () => Value {
  let made: { readonly value: Value } | null = null;
  return () => {
    made ??= { value: make() };
    return made.value;
  };
}
