import { useEffect, useState } from 'react';

/**
 * A view that lives in the address: whoever goes to another one makes an entry of the history, so that Back undoes it.
 *
 * @param read gives the view of an address, or null when it cannot be read
 * @param write gives the parameters of a view, the question mark included
 */
export function useAddress<View>(
  first: View,
  read: (parameters: URLSearchParams) => View | null,
  write: (view: View) => string,
): readonly [View, (next: View) => void] {
  const [view, setView] = useState(first);
  useEffect(() => {
    const onBack = () => {
      const back = read(new URLSearchParams(window.location.search));
      if (back) setView(back);
    };
    window.addEventListener('popstate', onBack);
    return () => window.removeEventListener('popstate', onBack);
  }, [read]);
  const go = (next: View) => {
    setView(next);
    window.history.pushState(null, '', `${window.location.pathname}${write(next)}`);
  };
  return [view, go];
}
