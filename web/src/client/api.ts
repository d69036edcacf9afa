/** A refusal of the server in words: what is wrong, and what to do. */
export class RequestProblem extends Error {
  constructor(
    message: string,
    readonly remedy: string,
    /** It is the server's trouble and may pass: the same question may be answered a little later. */
    readonly mayPass = false,
  ) {
    super(message);
  }
}

/** Asks the server's API; a refusal, or a server that is away, is a `RequestProblem`. */
export async function request<Answer>(
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<Answer> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      method,
      signal: signal ?? null,
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new RequestProblem('The server does not answer.', 'What you see is from before; this page tries again by itself.', true);
  }
  if (answer.ok) return answer.json();
  throw await readProblem(answer);
}

/** The problem an answer tells of, whoever made the answer. */
export async function readProblem(answer: Response): Promise<RequestProblem> {
  const told = await answer.json().catch(() => null);
  const error = told?.error as { message?: string; remedy?: string } | undefined;
  return new RequestProblem(
    error?.message ?? `The server answered with status ${answer.status}.`,
    error?.remedy ?? 'Load the page again.',
    answer.status >= 500,
  );
}
