// @vitest-environment jsdom
import { act, cleanup, fireEvent, render } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { usePointing } from './use-pointing';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

function List({ tell }: { tell: (isPointing: boolean) => void }) {
  return <ul {...usePointing(tell)} />;
}

function showList() {
  const told: boolean[] = [];
  const { getByRole } = render(<List tell={(isPointing) => void told.push(isPointing)} />);
  return { told, list: getByRole('list') };
}

describe('pointing', () => {
  it.each([
    ['presses', (list: HTMLElement) => fireEvent.click(list)],
    ['leaves', (list: HTMLElement) => fireEvent.pointerLeave(list)],
    ['goes on with the keyboard', () => fireEvent.keyDown(document.body, { key: 'j' })],
    ['rests', () => act(() => vi.advanceTimersByTime(5_000))],
  ])('begins with the pointer and ends when somebody %s', (_, end) => {
    const { told, list } = showList();
    fireEvent.pointerMove(list);
    act(() => vi.advanceTimersByTime(4_000));
    fireEvent.pointerMove(list);
    act(() => vi.advanceTimersByTime(4_000));
    expect(told).toEqual([true]);
    end(list);
    expect(told).toEqual([true, false]);
  });
});
