// @vitest-environment jsdom
import { defaultScope } from '@rough-ember/core/scope/scope';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { useDeskView } from './use-desk-view';

afterEach(cleanup);
const show = () => {
  window.history.replaceState(null, '', '/apps/guide/cases?case=LG-1');
  return renderHook(() => useDeskView({ scope: defaultScope, order: 'reports', selected: 'LG-1', position: 0 })).result;
};

describe('what the desk shows', () => {
  it('stands in the address; another case takes the place of the one before', () => {
    const shown = show();
    const steps = window.history.length;
    act(() => shown.current.go({ selected: 'LG-2', position: 3 }, { isStep: false }));
    expect(window.location.search).toBe('?case=LG-2&report=3');
    expect(window.history.length).toBe(steps);
  });

  it('is left by Back where another scope was asked for', async () => {
    const shown = show();
    act(() => shown.current.changeScope({ ...defaultScope, days: 7 }));
    expect(shown.current.view).toMatchObject({ scope: { days: 7 }, selected: null });
    expect(window.location.search).toBe('?last=7d');
    act(() => window.history.back());
    await waitFor(() => expect(shown.current.view).toMatchObject({ scope: { days: 30 }, selected: 'LG-1' }));
  });

  it('has a case that nobody chose beside an address that is as it was', () => {
    const shown = show();
    act(() => shown.current.settle('LG-7'));
    expect(shown.current.view.selected).toBe('LG-7');
    expect(window.location.search).toBe('?case=LG-1');
  });
});
