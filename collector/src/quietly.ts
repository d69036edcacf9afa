/** Whatever fails in here is no trouble of the app. */
export function quietly(work: () => void): void {
  try {
    work();
  } catch (problem) {
    try {
      console.warn(`Rough Ember could not keep something: ${String(problem)}`);
    } catch {
      // Nobody can be told.
    }
  }
}
