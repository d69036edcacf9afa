/** Where texts survive the end of the app. Writing must be done when `set` returns: a crash leaves no time for more. */
export interface Storage {
  get(name: string): string | null;
  set(name: string, text: string): void;
}

/** Keeps texts only as long as the app runs; what is used where nothing else is to be had. */
export function memoryStorage(): Storage {
  const texts = new Map<string, string>();
  return { get: (name) => texts.get(name) ?? null, set: (name, text) => void texts.set(name, text) };
}

/** The browser's local storage, or memory when it is full, forbidden or absent. */
export function defaultStorage(): Storage {
  try {
    const { localStorage } = globalThis;
    localStorage.setItem('ember.probe', '1');
    localStorage.removeItem('ember.probe');
    return { get: (name) => localStorage.getItem(name), set: (name, text) => localStorage.setItem(name, text) };
  } catch {
    return memoryStorage();
  }
}
