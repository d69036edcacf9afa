const base = 'http://this-server.invalid';

/** Where to go after signing in: a path of this server, or its beginning when what was asked for is anything else. */
export function nextPath(wanted: string | null): string {
  if (wanted === null || !wanted.startsWith('/') || wanted.length > 4_000) return '/';
  // Browsers take tabs and line ends out of an address, and read a backslash as a slash.
  if (/[\\\p{C}\s]/u.test(wanted) || !URL.canParse(wanted, base)) return '/';
  const url = new URL(wanted, base);
  return url.origin === base && !url.pathname.startsWith('//') ? url.pathname + url.search + url.hash : '/';
}
