import { useEffect, useRef } from 'react';

/** Calls back when anything that screens of the app show has changed, on whichever server it happened. */
export function useChanges(appSlug: string, onChange: () => void): void {
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  useEffect(() => {
    const events = new EventSource(`/api/v1/apps/${appSlug}/changes`);
    let lost = false;
    events.addEventListener('changed', () => latest.current());
    events.addEventListener('error', () => {
      lost = true;
    });
    // What happened while the stream was away is not told again, so the screen looks by itself.
    events.addEventListener('open', () => {
      if (lost) latest.current();
      lost = false;
    });
    return () => events.close();
  }, [appSlug]);
}
