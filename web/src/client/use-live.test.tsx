// @vitest-environment jsdom
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { fakeServer } from '../testing/fake-server';
import type { Address } from './api';
import { useLive } from './use-live';

const server = fakeServer();
afterEach(cleanup);

const at = (path: string) => path as Address<string>;
const show = (path: string) => renderHook(({ now }) => useLive('guide', at(now), 'brought along'), { initialProps: { now: path } });
const told = async (body: unknown, status?: number) => {
  await waitFor(() => expect(server.waiting.length).toBeGreaterThan(0));
  await act(async () => server.waiting.shift()?.answer(body, status));
};

describe('data of an address', () => {
  it('is what the page brought along, and asks nothing before something changes', () => {
    const { result } = show('/a');
    expect(result.current).toMatchObject({ data: 'brought along', stale: false, problem: null });
    expect(server.waiting).toEqual([]);
  });

  it('is asked for again when the app changes', async () => {
    const { result } = show('/a');
    act(() => server.change());
    await told('news');
    expect(result.current.data).toBe('news');
  });

  it('is shown however much faster changes come than the server answers', async () => {
    const { result } = show('/a');
    act(() => server.change());
    await waitFor(() => expect(server.waiting).toHaveLength(1));
    act(() => server.change());
    act(() => server.change());
    expect(server.waiting).toHaveLength(1);
    await told('of before the second change');
    expect(result.current.data).toBe('of before the second change');
    // What changed meanwhile is asked for once.
    await told('of after it');
    expect(result.current.data).toBe('of after it');
    expect(server.waiting).toEqual([]);
  });

  it('says that it is of another address until the new one has answered', async () => {
    const { result, rerender } = show('/a');
    rerender({ now: '/b' });
    expect(result.current).toMatchObject({ data: 'brought along', stale: true });
    await told('of b');
    expect(result.current).toMatchObject({ data: 'of b', stale: false });
  });

  it('never shows an answer that a newer question has overtaken', async () => {
    const { result, rerender } = show('/a');
    rerender({ now: '/b' });
    await waitFor(() => expect(server.waiting).toHaveLength(1));
    rerender({ now: '/c' });
    await waitFor(() => expect(server.waiting).toHaveLength(2));
    const [ofB, ofC] = server.waiting;
    await act(async () => ofC?.answer('of c'));
    await act(async () => ofB?.answer('of b'));
    expect(result.current).toMatchObject({ data: 'of c', stale: false });
  });

  it('keeps what it shows beside a problem, which goes when there is an answer', async () => {
    const { result } = show('/a');
    act(() => server.change());
    await told({ error: { message: 'The database does not answer.', remedy: 'Try again.' } }, 503);
    expect(result.current).toMatchObject({ data: 'brought along', problem: { message: 'The database does not answer.' } });
    act(() => result.current.refresh());
    await told('again');
    expect(result.current).toMatchObject({ data: 'again', problem: null });
  });
});
