/** Thrown when a name would print too long; substitutions can double a name again and again. */
export class NameTooLong extends Error {}

const maximumCharacters = 64 * 1024;
const unset = -1;

/** The text of a name while it is printed, and which element of a parameter pack is being printed. */
export class Output {
  text = '';
  packIndex = unset;
  packSize = unset;
  /** Levels of parentheses since the innermost template argument list; at 0 a ">" would close that list. */
  private parentheses = 1;

  add(text: string): this {
    this.text += text;
    if (this.text.length > maximumCharacters) throw new NameTooLong();
    return this;
  }

  get last(): string {
    return this.text.at(-1) ?? '';
  }

  open(bracket = '('): void {
    this.parentheses++;
    this.add(bracket);
  }

  close(bracket = ')'): void {
    this.parentheses--;
    this.add(bracket);
  }

  get isGreaterAmbiguous(): boolean {
    return this.parentheses === 0;
  }

  insideTemplateArguments(print: () => void): void {
    const before = this.parentheses;
    this.parentheses = 0;
    print();
    this.parentheses = before;
  }

  get hasPack(): boolean {
    return this.packSize !== unset;
  }

  /** Prints with no pack chosen yet, and puts back the one chosen before. */
  withFreshPack(print: () => void): void {
    const { packIndex, packSize } = this;
    this.packIndex = this.packSize = unset;
    print();
    this.packIndex = packIndex;
    this.packSize = packSize;
  }

  list(nodes: readonly { print(out: Output): void }[]): void {
    let isFirst = true;
    for (const node of nodes) {
      const before = this.text;
      if (!isFirst) this.add(', ');
      const afterComma = this.text.length;
      node.print(this);
      // An empty pack prints nothing, and then there is no comma either.
      if (this.text.length === afterComma) this.text = before;
      else isFirst = false;
    }
  }
}
