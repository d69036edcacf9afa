import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readViewHierarchy, type ViewNode } from './view-hierarchy.ts';

const written = (node: ViewNode | null, depth = 0): string =>
  node === null ? '' : [`${'  '.repeat(depth)}${node.label}`, ...node.children.map((child) => written(child, depth + 1))].join('\n');

describe('a view hierarchy', () => {
  it('is read from JSON', () => {
    const tree = {
      type: 'DecorView',
      children: [{ class: 'MapView', id: 'map', visible: true, frame: { x: 1 }, children: [{ type: 'Button', text: 'Offline' }] }],
    };
    expect(written(readViewHierarchy(JSON.stringify(tree)))).toBe('DecorView\n  MapView id=map visible=true\n    Button text=Offline');
  });

  it('is read from indented text', () => {
    expect(written(readViewHierarchy('Window\n  Map\n    Tile 1\n    Tile 2\n  Bar\n'))).toBe(
      'Window\n  Map\n    Tile 1\n    Tile 2\n  Bar',
    );
    expect(written(readViewHierarchy('One\nTwo'))).toBe('views\n  One\n  Two');
  });

  it('is nothing where there is none', () => {
    expect(readViewHierarchy('  ')).toBeNull();
    expect(readViewHierarchy('{"type": "Win')).toBeNull();
  });

  it('is bounded in size and depth, whatever comes', () => {
    const count = (node: ViewNode | null): number => (node === null ? 0 : 1 + node.children.reduce((sum, child) => sum + count(child), 0));
    const deep = `${'{"type":"level","children":['.repeat(3_000)}{}${']}'.repeat(3_000)}`;
    expect(count(readViewHierarchy(deep))).toBeLessThan(300);
    expect(count(readViewHierarchy('view\n'.repeat(20_000)))).toBeLessThan(5_100);
    fc.assert(fc.property(fc.string(), (text) => void readViewHierarchy(text)));
    fc.assert(fc.property(fc.json(), (text) => void readViewHierarchy(text)));
  });
});
