/** A mapping as large release builds have: `classes` classes with fields, overloads, line ranges and inlined calls. */
export function generateMapping(classes: number): { text: string; frames: readonly { class: string; method: string; line: number }[] } {
  const lines: string[] = ['# compiler: R8', '# compiler_version: 8.5.35', '# pg_map_id: 7f3a9c1'];
  const frames: { class: string; method: string; line: number }[] = [];
  for (let number = 0; number < classes; number++) {
    const obfuscated = `${(number % 676).toString(26)}.${number.toString(36)}`;
    lines.push(`com.larkfield.generated.area${number % 97}.Component${number} -> ${obfuscated}:`);
    lines.push(`# {"id":"sourceFile","fileName":"Component${number}.kt"}`);
    lines.push(`    java.util.Map index${number % 7} -> a`, '    int count -> b');
    for (let method = 0; method < 6; method++) {
      const start = method * 10 + 1;
      lines.push(`    ${start}:${start + 4}:void load${method}(java.lang.String,int):${100 + start}:${104 + start} -> a`);
      lines.push(
        `    ${start + 5}:${start + 6}:java.lang.Object com.larkfield.generated.text.Require.present(java.lang.Object):31:32 -> a`,
      );
      lines.push(`    ${start + 5}:${start + 6}:void load${method}(java.lang.String,int):${110 + start} -> a`);
    }
    lines.push('    1:3:void <init>():20:22 -> <init>');
    // Lines of all six methods, within and without the inlined call.
    frames.push({ class: obfuscated, method: 'a', line: (number % 6) * 10 + 1 + (number % 7) });
  }
  return { text: `${lines.join('\n')}\n`, frames };
}
