import { RequestProblem, readProblem } from '../client/api';

export interface SymbolUpload {
  readonly appSlug: string;
  /** Both empty for a file that carries its own id. */
  readonly version: string;
  readonly build: string;
  readonly file: File;
}

/** Sends a symbol file as it is; the server's refusal comes back as a problem in its own words. */
export async function uploadSymbolFile({ appSlug, version, build, file }: SymbolUpload): Promise<void> {
  const parameters = new URLSearchParams({ version, build, name: file.name });
  let answer: Response;
  try {
    answer = await fetch(`/api/v1/apps/${appSlug}/symbol-files?${parameters}`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: file,
    });
  } catch {
    throw new RequestProblem('The upload was cut off.', 'Check the connection and drop the file again.');
  }
  if (!answer.ok) throw await readProblem(answer);
}
