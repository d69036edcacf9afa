import { describe, expect, it } from 'vitest';
import { linkNote } from './link-note';

const people = ['ines@larkfield.example', 'tom@larkfield.example'];

describe('a note', () => {
  it.each([
    ['see https://git.larkfield.example/guide/commit/4f2a.', 'see <https://git.larkfield.example/guide/commit/4f2a>.'],
    ['[here](https://a.example/b)', '[here](https://a.example/b)'],
    ['@tom please look', '[@tom](mailto:tom@larkfield.example) please look'],
    ['@nobody and ines@larkfield.example', '@nobody and ines@larkfield.example'],
    ['`@tom https://a.example`', '`@tom https://a.example`'],
  ])('links %s', (text, linked) => {
    expect(linkNote(text, people)).toBe(linked);
  });
});
