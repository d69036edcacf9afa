import type { Scope } from '@rough-ember/core/scope/scope';
import { useEffect, useState } from 'react';
import { type DeskView, readDeskView, writeDeskView } from './desk-address';

export interface DeskViewHolder {
  readonly view: DeskView;
  /** Shows something else; it may be left by Back, or takes the place of what is shown. */
  go(next: Partial<DeskView>, how: { readonly isStep: boolean }): void;
  /** Shows the first case of another scope. */
  changeScope(scope: Scope): void;
  /** Selects a case that nobody chose, which the address does not hold. */
  settle(selected: string | null): void;
}

/** What the desk shows, kept in the address, and followed when somebody goes back. */
export function useDeskView(initial: DeskView): DeskViewHolder {
  const [view, setView] = useState(initial);
  useEffect(() => {
    const onBack = () => {
      const back = readDeskView(window.location.search);
      if (back) setView(back);
    };
    window.addEventListener('popstate', onBack);
    return () => window.removeEventListener('popstate', onBack);
  }, []);
  const go: DeskViewHolder['go'] = (change, { isStep }) => {
    const next = { ...view, ...change };
    setView(next);
    const address = `${window.location.pathname}${writeDeskView(next)}`;
    if (isStep) window.history.pushState(null, '', address);
    else window.history.replaceState(null, '', address);
  };
  return {
    view,
    go,
    changeScope: (scope) => go({ scope, selected: null, position: 0 }, { isStep: true }),
    settle: (selected) => setView((before) => ({ ...before, selected, position: 0 })),
  };
}
