// @vitest-environment jsdom
import { expect, it } from 'vitest';
import { startCollector } from './index';
import type { Item } from './item';
import { memoryStorage } from './storage';
import { base64Of, viewTree } from './view-tree';

const page = () => {
  document.body.innerHTML = `<main id="map"><button role="switch" aria-label="Night">Anna’s nest</button><input value="secret"><ul><li>robin</li></ul></main>`;
};

it('names the elements of a page by what lies in what, and nothing that stands in them', () => {
  page();
  expect(viewTree()).toBe(['body', '  main#map', '    button switch', '    input', '    ul', '      li'].join('\n'));
});

it('is bounded', () => {
  document.body.innerHTML = '<p></p>'.repeat(2_500);
  expect(viewTree()?.split('\n')).toHaveLength(2_001);
  document.body.innerHTML = '<div>'.repeat(300);
  expect(viewTree()?.split('\n')).toHaveLength(41);
});

it('goes with a report when it is switched on, and else not', () => {
  page();
  const kept: Item[] = [];
  const common = { server: 'http://127.0.0.1:9', key: 'intake_test', version: '1', build: '1', uncaught: false, sessions: false };
  for (const viewTree of [true, false])
    startCollector({
      ...common,
      storage: memoryStorage(),
      viewTree,
      beforeSend: (item) => {
        kept.push(item);
        return null;
      },
    }).report(new Error('no perch'));
  expect(kept.map((item) => item.type)).toEqual(['report', 'attachment', 'report']);
  expect(kept[1]).toMatchObject({ reportId: kept[0]?.id, kind: 'view-hierarchy', mediaType: 'text/plain' });
  expect(atob(String(kept[1]?.data))).toContain('main#map');
});

it('is written in base64 whatever its letters', () =>
  expect(new TextDecoder().decode(Uint8Array.from(atob(base64Of('Ånnas øre')), (letter) => letter.charCodeAt(0)))).toBe('Ånnas øre'));
