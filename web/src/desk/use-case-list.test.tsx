// @vitest-environment jsdom
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { fakeServer } from '../testing/fake-server';
import { useCaseList } from './use-case-list';

const server = fakeServer();
afterEach(cleanup);

const listOf = (refs: readonly string[], { from = 0, total = refs.length } = {}) =>
  ({ from, total, cases: refs.map((ref) => ({ ref })) }) as unknown as CaseList;
const show = (initial: CaseList) =>
  renderHook(({ parameters }) => useCaseList('guide', parameters, initial, 2), { initialProps: { parameters: '' } }).result;
const answerNext = async (list: CaseList) => {
  await waitFor(() => expect(server.waiting.length).toBeGreaterThan(0));
  await act(async () => server.waiting.shift()?.answer(list));
};
const refsOf = (live: { at(place: number): { ref: string } | undefined }, count = 2) =>
  Array.from({ length: count }, (_, place) => live.at(place)?.ref);

describe('a list of cases', () => {
  it('follows what changes', async () => {
    const live = show(listOf(['LG-1', 'LG-2']));
    act(() => server.change());
    await answerNext(listOf(['LG-2', 'LG-1']));
    expect(refsOf(live.current)).toEqual(['LG-2', 'LG-1']);
  });

  it('moves no case while it is held, and shows the newest when it is let go', async () => {
    const live = show(listOf(['LG-1', 'LG-2']));
    live.current.hold(true);
    for (const next of [
      ['LG-2', 'LG-1'],
      ['LG-3', 'LG-2'],
    ]) {
      act(() => server.change());
      await answerNext(listOf(next));
      expect(refsOf(live.current)).toEqual(['LG-1', 'LG-2']);
    }
    act(() => live.current.hold(false));
    expect(refsOf(live.current)).toEqual(['LG-3', 'LG-2']);
  });

  it('shows another scope at once, held or not, and nothing of the scope before', async () => {
    const { result, rerender } = renderHook(({ parameters }) => useCaseList('guide', parameters, listOf(['LG-1', 'LG-2']), 2), {
      initialProps: { parameters: '' },
    });
    result.current.hold(true);
    act(() => server.change());
    await answerNext(listOf(['LG-2', 'LG-1']));
    rerender({ parameters: '?version=4.1.0' });
    await answerNext(listOf(['LG-8']));
    expect(refsOf(result.current, 1)).toEqual(['LG-8']);
    act(() => result.current.hold(false));
    expect(refsOf(result.current, 1)).toEqual(['LG-8']);
  });

  it('fetches the parts that come into view, and holds a case that moved between them once', async () => {
    const live = show(listOf(['LG-1', 'LG-2'], { total: 4 }));
    act(() => live.current.need(2, 3));
    await answerNext(listOf(['LG-2', 'LG-4'], { from: 2, total: 4 }));
    expect(refsOf(live.current, 4)).toEqual(['LG-1', undefined, 'LG-2', 'LG-4']);
  });
});
