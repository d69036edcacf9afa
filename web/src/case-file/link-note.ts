/**
 * Makes links of what a note names: bare addresses become ones to follow, `@ines` one to the colleague whose mail address begins
 * so. What stands in code stays as it is.
 */
export function linkNote(text: string, people: readonly string[]): string {
  return text
    .split(/(```[\s\S]*?```|`[^`]*`)/)
    .map((part, at) => (at % 2 === 1 ? part : linkPart(part, people)))
    .join('');
}

const linkPart = (text: string, people: readonly string[]): string =>
  text
    .replace(/(?<![(<\w[])https?:\/\/[^\s<>()\]]*[^\s<>()\].,;:!?]/g, (address) => `<${address}>`)
    .replace(/(?<![\w@.])@([\w.-]*\w)/g, (written, name: string) => {
      const person = people.find((one) => one === name || one.split('@', 1)[0] === name);
      return person ? `[@${name}](mailto:${person})` : written;
    });
