import type { DeskSettings } from '@rough-ember/core/cases/desk-settings';

/** Folders of sources as one writes them: a line each, the revision behind an @. */
export const writeSourcePlaces = (places: DeskSettings['sources']): string =>
  places.map(({ folder, revision }) => (revision === null ? folder : `${folder} @ ${revision}`)).join('\n');

export const readSourcePlaces = (text: string): DeskSettings['sources'] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const [, folder = line, revision = null] = /^(.+?)\s+@\s*(\S.*)$/.exec(line) ?? [];
      return { folder, revision };
    });
