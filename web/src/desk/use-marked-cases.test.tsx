// @vitest-environment jsdom
import type { CaseList } from '@rough-ember/server/desk/case-list';
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { fakeServer } from '../testing/fake-server';
import { useMarkedCases } from './use-marked-cases';

const server = fakeServer();
afterEach(cleanup);

// The largest case comes first, as the list has it.
const list = { total: 40, cases: ['LG-3', 'LG-1', 'LG-2'].map((ref) => ({ ref })) } as unknown as CaseList;
const show = (...refs: string[]) => {
  const { result } = renderHook(() => useMarkedCases('guide', list));
  for (const ref of refs) act(() => result.current.toggle(ref));
  return result;
};

describe('marked cases', () => {
  it('are marked and lose the mark by the same key', () => {
    const marked = show('LG-1', 'LG-2', 'LG-1');
    expect(marked.current.refs).toEqual(['LG-2']);
    expect(marked.current.isMarked('LG-2')).toBe(true);
    expect(marked.current.isMarked('LG-1')).toBe(false);
  });

  it('are merged into the one with most reports, where there are several', () => {
    expect(show('LG-1').current.mergeTarget).toBeNull();
    expect(show('LG-2', 'LG-3').current.mergeTarget).toBe('LG-3');
    // What is not in view is known by its number alone.
    expect(show('LG-9', 'LG-8').current.mergeTarget).toBe('LG-9');
  });

  it('mean every case of the scope, which is never merged', () => {
    const marked = show('LG-1', 'LG-2');
    act(() => marked.current.markWholeScope());
    expect(marked.current.isMarked('LG-77')).toBe(true);
    expect(marked.current.mergeTarget).toBeNull();
  });

  it('are none once they are merged', async () => {
    const marked = show('LG-1', 'LG-3');
    act(() => marked.current.askMerge(true));
    expect(marked.current.asksMerge).toBe(true);
    let done = Promise.resolve();
    act(() => {
      done = marked.current.merge();
    });
    const [asked] = server.waiting;
    expect(asked).toMatchObject({
      method: 'POST',
      path: '/api/v1/apps/guide/cases/merge',
      body: { into: 'LG-3', cases: ['LG-1', 'LG-3'] },
    });
    await act(async () => {
      asked?.answer({ merged: 1 });
      await done;
    });
    expect(marked.current).toMatchObject({ refs: [], asksMerge: false, problem: null });
  });

  it('stay marked when the server refuses, with its reason', async () => {
    const marked = show('LG-1', 'LG-3');
    await act(async () => {
      const done = marked.current.merge();
      server.waiting[0]?.answer({ error: { message: 'LG-1 is no case any more.', remedy: 'Look again.' } }, 409);
      await done;
    });
    expect(marked.current).toMatchObject({ refs: ['LG-1', 'LG-3'], problem: { message: 'LG-1 is no case any more.' } });
  });
});
