import { readdirSync } from 'node:fs';
import { expect, it } from 'vitest';
import { places } from './places';

it('every page of an app that asks for nothing more is a place, and every place a page', () => {
  const pages = readdirSync(new URL('../pages/apps/[app]/', import.meta.url), { withFileTypes: true }).map(({ name }) =>
    name.replace(/\.astro$/, ''),
  );
  // Two reports are compared from their case; a report's own address leads to its case.
  expect(pages.filter((name) => name !== 'compare' && name !== 'reports').sort()).toEqual(places.map(({ path }) => path).sort());
});
