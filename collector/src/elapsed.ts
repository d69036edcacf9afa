/** Milliseconds that only grow, whatever is done to the device's clock. */
export const elapsedMs = (): number => globalThis.performance?.now?.() ?? Date.now();
