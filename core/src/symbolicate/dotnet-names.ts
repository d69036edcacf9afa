const longestName = 2_000;

/**
 * The method a developer wrote, for names that compilers made (Roslyn, "GeneratedNames"; mcs for `m__0`; the compiler of Visual Basic):
 * state machines of async methods and iterators, lambdas, which are the method that holds them, local functions as `Method.Local`,
 * constructors and type initialisers, generic arguments.
 *
 * @example writtenDotnetMethod('Survey.Store.<LoadAsync>d__5.MoveNext') === 'Survey.Store.LoadAsync'
 */
export function writtenDotnetMethod(printed: string): string {
  if (printed.length > longestName) return printed;
  return (
    withoutTypeArguments(printed)
      .replaceAll('+', '.')
      // Mono's own dumps put a colon between type and method.
      .replace(/:(?=[^:]*$)/, '.')
      .replace(/\.<>c(?:__DisplayClass\w*)?(?=\.)/g, '')
      // An asynchronous local function or lambda: the state machine of one.
      .replace(/<(<[^<>]+>[bg]__[\w|]*)>d(?:__\d+)?\.MoveNext$/, '$1')
      .replace(/<([^<>]+)>d(?:__\d+)?\.(?:MoveNext|<>m__Finally\d*)$/, '$1')
      .replace(/<([^<>]+)>c__(?:Iterator|async)\w*\.(?:MoveNext|<>m__\w*)$/, '$1')
      .replace(/<([^<>]+)>c__AnonStorey\w*\.<>m__\w*$/, '$1')
      .replace(/\bVB\$StateMachine_\d+_(\w+)\.MoveNext$/, '$1')
      .replace(/<([^<>]+)>g__(\w+)\|\w*$/, '$1.$2')
      .replace(/<([^<>]+)>(?:b__\w*|m__\w*)$/, '$1')
      // The entry that a compiler makes around a program's own, or around its statements.
      .replace(/<(\w+)>\$?$/, '$1')
      .replace(/\.\.cctor(?=\.|$)/, '.static constructor')
      .replace(/\.\.ctor(?=\.|$)/, '.constructor')
  );
}

/** Without "`2" and "[TKey,TValue]", which may hold brackets of their own. */
function withoutTypeArguments(printed: string): string {
  let name = printed.replace(/`\d+/g, '');
  for (let shorter = name.replace(/\[[^[\]]*\]/g, ''); shorter !== name; shorter = name.replace(/\[[^[\]]*\]/g, '')) name = shorter;
  return name;
}
