import { type ApiError, errorList } from '../errors.ts';

/** Such a page holds nothing but itself. */
export const problemPageHeaders = {
  'content-type': 'text/html; charset=utf-8',
  'cache-control': 'no-store',
  'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
} as const;

/** A page for people where no page could be made: what is wrong, what to do, and, where it may pass, that it looks again by itself. */
export function problemPage(error: ApiError): string {
  const mayPass = error.status === 503;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
${mayPass ? '<meta http-equiv="refresh" content="5">\n' : ''}<title>Rough Ember: ${mayPass ? 'not at the moment' : 'no page'}</title>
<style>
:root { color-scheme: light dark; }
body { max-width: 34em; margin: 15vh auto 0; padding: 0 16px; font: 16px/1.5 system-ui, sans-serif; background: light-dark(#f6f3ee, #1c1a18); color: light-dark(#2a2724, #e8e2d9); }
h1 { font-size: 20px; }
</style>
</head>
<body>
<h1>${escapeHtml(error.message)}</h1>
<p>${escapeHtml(errorList[error.code].remedy)}${mayPass ? ' What apps send meanwhile they keep, and send again. This page looks again every five seconds.' : ''}</p>
</body>
</html>
`;
}

const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
