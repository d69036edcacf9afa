/** What a form says when it was refused: what is wrong and what to do, with the status of its page. Anything else is passed on. */
export function problemOf(error: unknown): { readonly words: string; readonly status: number } {
  if (!(error instanceof Error && 'remedy' in error && 'status' in error)) throw error;
  return { words: `${error.message} ${error.remedy}`, status: Number(error.status) };
}
