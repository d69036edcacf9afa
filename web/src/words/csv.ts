type CsvValue = string | number | null;

const written = (value: CsvValue): string =>
  value === null ? '' : typeof value === 'number' ? String(value) : `"${asText(value).replaceAll('"', '""')}"`;

/** Spreadsheets run a cell that begins like a formula; behind an apostrophe it is the text that it was. */
const asText = (value: string): string => (/^[\s\p{C}]*[=+\-@|%]/u.test(value) || /^[\t\r]/.test(value) ? `'${value}` : value);

/** Lines of values as comma-separated text (RFC 4180); texts are quoted, so that a comma in them is none of ours. */
export const printCsv = (lines: readonly (readonly CsvValue[])[]): string => lines.map((line) => line.map(written).join(',')).join('\r\n');

/** Lets the browser save a text as a file. */
export function saveCsv(name: string, lines: readonly (readonly CsvValue[])[]): void {
  const address = URL.createObjectURL(new Blob([printCsv(lines)], { type: 'text/csv' }));
  Object.assign(document.createElement('a'), { href: address, download: name }).click();
  URL.revokeObjectURL(address);
}
