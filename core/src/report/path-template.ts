/** A path as a template: numbers and ids stand for themselves, and a query is never kept. */
export const pathTemplate = (path: string): string =>
  (path.split(/[?#]/, 1)[0] as string)
    .split('/')
    .map((part) => (/^\d+$/.test(part) ? '{number}' : /^[0-9a-f]{8}-?[0-9a-f-]{8,}$/i.test(part) ? '{id}' : part))
    .join('/');
