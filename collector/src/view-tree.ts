const mostElements = 2_000;
const deepest = 40;
const longestName = 120;

/**
 * The elements of the page, each on a line by its name, id and role, indented by what it lies in; never a text or a value. Null where there is
 * no page.
 */
export function viewTree(): string | null {
  const { document } = globalThis as { document?: Document };
  if (!document?.body) return null;
  const lines: string[] = [];
  const add = (element: Element, depth: number) => {
    if (lines.length >= mostElements || depth > deepest) return;
    lines.push('  '.repeat(depth) + nameOf(element));
    for (let child = element.firstElementChild; child && lines.length < mostElements; child = child.nextElementSibling)
      add(child, depth + 1);
  };
  add(document.body, 0);
  if (lines.length >= mostElements) lines.push('…');
  return lines.join('\n');
}

function nameOf(element: Element): string {
  const role = element.getAttribute('role');
  return `${element.tagName.toLowerCase()}${element.id ? `#${element.id}` : ''}${role ? ` ${role}` : ''}`.slice(0, longestName);
}

/** Base64 of a text in UTF-8 (RFC 4648, section 4). */
export function base64Of(text: string): string {
  const bytes = new TextEncoder().encode(text);
  let binary = '';
  for (const byte of Array.from(bytes)) binary += String.fromCharCode(byte);
  return btoa(binary);
}
