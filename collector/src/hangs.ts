import type { SentException } from './item.ts';

/** A frame of the page that took too long, as the browser attributes it (the Long Animation Frames API); not every browser does. */
interface LongFrame {
  readonly duration: number;
  readonly scripts?: readonly {
    readonly duration: number;
    readonly sourceURL: string;
    readonly sourceFunctionName: string;
    readonly invoker: string;
  }[];
}

interface Observing {
  readonly PerformanceObserver?: {
    readonly supportedEntryTypes?: readonly string[];
    new (heard: (list: { getEntries(): unknown[] }) => void): { observe(options: { readonly type: string }): void; disconnect(): void };
  };
}

const mostScripts = 10;

/**
 * Hears of times in which a page did not answer for so long, once it answers again; gives the way to stop. Nothing is heard where the browser
 * does not tell, and where a page is not.
 */
export function watchHangs(limitMs: number, hang: (exceptions: SentException[]) => void): () => void {
  const { PerformanceObserver: Observer } = globalThis as unknown as Observing;
  if (limitMs <= 0 || !Observer?.supportedEntryTypes?.includes('long-animation-frame')) return () => {};
  const observer = new Observer((list) => {
    for (const frame of list.getEntries() as LongFrame[]) if (frame.duration >= limitMs) hang([exceptionOf(frame)]);
  });
  observer.observe({ type: 'long-animation-frame' });
  return () => observer.disconnect();
}

/** The scripts that ran meanwhile, the longest first; what is known of each is where it was entered. */
const exceptionOf = ({ duration, scripts = [] }: LongFrame): SentException => ({
  type: 'hang',
  message: `the page did not answer for ${Math.round(duration)} ms`,
  relation: 'thrown',
  parent: null,
  stack: null,
  frames: [...scripts]
    .sort((a, b) => b.duration - a.duration)
    .slice(0, mostScripts)
    .map(({ sourceURL, sourceFunctionName, invoker }) => ({
      runtime: 'javascript',
      function: sourceFunctionName || invoker || null,
      file: sourceURL || null,
    })),
});
