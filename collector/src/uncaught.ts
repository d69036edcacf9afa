import type { Kind } from './item.ts';

type Report = (thrown: unknown, kind: Kind, how: 'uncaught' | 'rejection') => void;

interface NativeErrorUtils {
  getGlobalHandler(): (error: unknown, isFatal?: boolean) => void;
  setGlobalHandler(handler: (error: unknown, isFatal?: boolean) => void): void;
}

/**
 * Hears of errors that nobody handled: from a browser, from Node, or from the global handler of a mobile JavaScript host. An
 * uncaught error is a crash; after a rejection the app goes on, so it is an error.
 */
export function hearUncaught(report: Report): () => void {
  const undo: (() => void)[] = [];
  const host = globalThis as unknown as {
    addEventListener?: (event: string, listener: (event: never) => void) => void;
    removeEventListener?: (event: string, listener: (event: never) => void) => void;
    ErrorUtils?: NativeErrorUtils;
    HermesInternal?: {
      enablePromiseRejectionTracker?: (options: {
        readonly allRejections: boolean;
        readonly onUnhandled: (id: number, reason: unknown) => void;
      }) => void;
    };
    process?: {
      on?: (event: string, listener: (thrown: unknown) => void) => void;
      off?: (event: string, listener: (thrown: unknown) => void) => void;
      versions?: object;
    };
    document?: unknown;
  };
  const { ErrorUtils: nativeHandler, process: node } = host;
  if (nativeHandler) {
    const earlier = nativeHandler.getGlobalHandler();
    nativeHandler.setGlobalHandler((error, isFatal) => {
      report(error, isFatal === false ? 'error' : 'crash', 'uncaught');
      earlier(error, isFatal);
    });
    undo.push(() => nativeHandler.setGlobalHandler(earlier));
    // Rejections do not come to that handler; the engine of mobile hosts tells of them by itself.
    host.HermesInternal?.enablePromiseRejectionTracker?.({
      allRejections: true,
      onUnhandled: (_id, reason) => report(reason, 'error', 'rejection'),
    });
  } else if (host.addEventListener && host.document) {
    const onError = ((event: ErrorEvent) => report(event.error ?? event.message, 'crash', 'uncaught')) as (event: never) => void;
    const onRejection = ((event: PromiseRejectionEvent) => report(event.reason, 'error', 'rejection')) as (event: never) => void;
    host.addEventListener('error', onError);
    host.addEventListener('unhandledrejection', onRejection);
    undo.push(
      () => host.removeEventListener?.('error', onError),
      () => host.removeEventListener?.('unhandledrejection', onRejection),
    );
  } else if (node?.on && node.versions) {
    // The monitor only listens: Node ends the program as it would have without us.
    const onError = (thrown: unknown) => report(thrown, 'crash', 'uncaught');
    node.on('uncaughtExceptionMonitor', onError);
    undo.push(() => node.off?.('uncaughtExceptionMonitor', onError));
  }
  return () => {
    for (const one of undo) one();
  };
}
