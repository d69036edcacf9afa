/**
 * The method a developer wrote, for names that the C# compiler made (Roslyn, "GeneratedNames"; mcs for `m__0`): state
 * machines of async methods and iterators, lambdas, local functions, generic arguments.
 *
 * @example writtenDotnetMethod('Survey.Store.<LoadAsync>d__5.MoveNext') === 'Survey.Store.LoadAsync'
 */
export function writtenDotnetMethod(printed: string): string {
  return printed
    .replace(/`\d+/g, '')
    .replace(/\[[^\]]*\]/g, '')
    .replaceAll('+', '.')
    .replace(/\.<>c(?:__DisplayClass[\w]*)?(?=\.)/g, '')
    .replace(/<<([^<>]+)>[bg]__[\w|]*>d(?:__\d+)?\.MoveNext$/, '$1')
    .replace(/<([^<>]+)>d(?:__\d+)?\.MoveNext$/, '$1')
    .replace(/<([^<>]+)>c__(?:Iterator|async)\w*\.MoveNext$/, '$1')
    .replace(/<([^<>]+)>g__(\w+)\|[\w]*$/, '$1.$2')
    .replace(/<([^<>]+)>(?:b__[\w]*|m__[\w]*)$/, '$1')
    .replace(/\.\.cctor$/, '.static constructor')
    .replace(/\.\.ctor$/, '.constructor');
}
