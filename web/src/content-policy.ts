import { createHash } from 'node:crypto';
import { ColorSchemeScript } from '@mantine/core';
import loadDirective from 'astro/runtime/client/load.prebuilt.js';
import island from 'astro/runtime/server/astro-island.prebuilt.js';
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';

/** What every page begins with: it sets the colours before anything is shown. */
const colorScheme = /<script[^>]*>([\s\S]*)<\/script>/.exec(
  renderToStaticMarkup(createElement(ColorSchemeScript, { defaultColorScheme: 'auto' })),
)?.[1] as string;

/** The inline scripts of pages, known when the pages are built; whatever else stands in a page does not run. */
const inlineScripts = [colorScheme, loadDirective, island];

const hashOf = (script: string): string => `'sha256-${createHash('sha256').update(script).digest('base64')}'`;

/** Content Security Policy Level 3 of every page: only our own scripts, the inline ones by their hash. */
export const contentPolicy = [
  "default-src 'self'",
  `script-src 'self' ${inlineScripts.map(hashOf).join(' ')}`,
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data:",
  "object-src 'none'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
  "form-action 'self'",
].join('; ');
