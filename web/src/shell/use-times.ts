import { wordClock, wordDate, wordTime } from '@rough-ember/core/words/time';
import { createContext, useContext, useEffect, useState } from 'react';
import type { PageShell } from './page-shell';

const ZoneContext = createContext('UTC');

/** Gives the zone to all that shows times. */
export const ZoneProvider = ZoneContext.Provider;

/** Where the browser says which zone it is in, so that the next page comes in it from the beginning. */
export const zoneCookie = 'ember_zone';

/** The zone that a person chose; else that of the browser, which the first page of all has only once it is there. */
export function useZone({ zone, account }: Pick<PageShell, 'zone' | 'account'>): string {
  const [shown, setShown] = useState(zone);
  const isChosen = account.zone !== null;
  useEffect(() => {
    const ofBrowser = Intl.DateTimeFormat().resolvedOptions().timeZone;
    if (isChosen || ofBrowser === zone || !ofBrowser) return;
    // biome-ignore lint/suspicious/noDocumentCookie: the other way to set one is not there in every browser
    document.cookie = `${zoneCookie}=${encodeURIComponent(ofBrowser)}; path=/; max-age=31536000; samesite=lax`;
    setShown(ofBrowser);
  }, [isChosen, zone]);
  return shown;
}

/** The words of moments, in the zone of the page. */
export function useTimes() {
  const zone = useContext(ZoneContext);
  return {
    zone,
    wordTime: (iso: string) => wordTime(iso, zone),
    wordDate: (iso: string) => wordDate(iso, zone),
    wordClock: (iso: string, now: string) => wordClock(iso, now, zone),
  };
}
