const whole = new Intl.NumberFormat('en-GB');

/** `1284` → `1,284`; the same on the server and in the browser. */
export const wordNumber = (value: number): string => whole.format(value);

/** `1 report`, `2 reports`. */
export const wordCount = (count: number, one: string, many: string): string => `${wordNumber(count)} ${count === 1 ? one : many}`;
