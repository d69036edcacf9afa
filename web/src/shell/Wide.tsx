import type { ReactNode } from 'react';

/** What may be wider than its place: it scrolls sideways there, by pointer and keyboard, and leaves the page as it is. */
export function Wide({ children }: { children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region, which the keyboard must reach
    <div style={{ overflowX: 'auto' }} tabIndex={0}>
      {children}
    </div>
  );
}
