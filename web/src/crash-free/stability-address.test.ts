import { defaultScope } from '@rough-ember/core/scope/scope';
import { expect, it } from 'vitest';
import { readActivityView, readStabilityView, type StabilityView, writeActivityView, writeStabilityView } from './stability-address';

const usual: StabilityView = {
  scope: defaultScope,
  badEnds: { hangs: false, kills: false },
  down: { field: 'device.model', key: '' },
  across: { field: 'version', key: '' },
  cell: null,
  form: 'matrix',
};
const again = (view: StabilityView) => readStabilityView(new URLSearchParams(writeStabilityView(view)));

it('the usual view has an empty address', () => {
  expect(writeStabilityView(usual)).toBe('');
  expect(again(usual)).toEqual(usual);
});

it.each<[string, Partial<StabilityView>]>([
  ['what counts', { badEnds: { hangs: true, kills: true } }],
  ['fields', { down: { field: 'flags', key: 'night.map' }, across: { field: 'os.version', key: '' } }],
  ['a cell', { cell: { down: 'Tarn Go 3', across: '4.3.0' } }],
  ['lines', { form: 'lines' }],
  ['a cell of what is not told', { cell: { down: '', across: '4.3.0' } }],
  ['a scope', { scope: { ...defaultScope, days: 7, versions: { match: 'from', version: '4.2.0' } } }],
])('%s survives the address', (_, more) => expect(again({ ...usual, ...more })).toEqual({ ...usual, ...more }));

it('a scope that cannot be read is no view', () => expect(readStabilityView(new URLSearchParams('last=soon'))).toBeNull());

it('what is looked at beside the screens and requests is in the address', () => {
  const view = readActivityView(new URLSearchParams('last=7d&count=hangs&request=GET%20tiles.larkfield.example%2Ft'));
  expect(view).toMatchObject({
    badEnds: { hangs: true, kills: false },
    chosen: { kind: 'request', name: 'GET tiles.larkfield.example/t' },
  });
  if (!view) throw new Error('it can be read');
  expect(readActivityView(new URLSearchParams(writeActivityView(view)))).toEqual(view);
  expect(writeActivityView({ ...view, chosen: null })).toBe('?last=7d&count=hangs');
  expect(readActivityView(new URLSearchParams('last=never'))).toBeNull();
});
