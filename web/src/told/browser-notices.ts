import { useEffect } from 'react';
import { addressOf, read } from '../client/api';

/** Whether this browser shows notices of its own, and the newest thing that it has shown. */
const wishKey = 'ember-browser-notices';
const shownKey = 'ember-browser-notices-shown';

/** A page that cannot be seen hears of no change, so all of them ask; a browser lets hidden pages ask once a minute. */
const everyMs = 15_000;
const mostAtOnce = 3;

/** Whether this browser shows notices at present. */
export const areNoticesWished = (): boolean =>
  'Notification' in window && Notification.permission === 'granted' && localStorage.getItem(wishKey) === 'on';

/** Whether this browser is to show notices; asks for its leave when they are wished. Gives what holds from now on. */
export async function wishNotices(wished: boolean): Promise<boolean> {
  if (!wished || !('Notification' in window)) {
    localStorage.removeItem(wishKey);
    return false;
  }
  const isAllowed = (await Notification.requestPermission()) === 'granted';
  if (isAllowed) localStorage.setItem(wishKey, 'on');
  else localStorage.removeItem(wishKey);
  return isAllowed;
}

/** Shows what somebody is told as notices of the browser, for as long as a page is open, each once however many pages are. */
export function useBrowserNotices(appSlug: string, self: string): void {
  useEffect(() => {
    const look = async () => {
      if (!areNoticesWished()) return;
      const { items } = await read(addressOf('GET /account/told', {}, { unread: '1' }), new AbortController().signal);
      const [newest] = items;
      if (!newest) return;
      const known = Number(localStorage.getItem(shownKey) ?? Number.NaN);
      localStorage.setItem(shownKey, String(Math.max(newest.id, known || 0)));
      // What waited before notices were wished is no news.
      if (Number.isNaN(known)) return;
      const fresh = items.filter(({ id }) => id > known).slice(0, mostAtOnce);
      // Few pages ever show one, so their words come when one is shown.
      const { showNotice } = await import('./show-notice');
      for (const item of fresh) showNotice(item, appSlug, self);
    };
    const quietly = () => void look().catch(() => {});
    quietly();
    const timer = setInterval(quietly, everyMs);
    return () => clearInterval(timer);
  }, [appSlug, self]);
}
