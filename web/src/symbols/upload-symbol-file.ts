import { DetailedError, Upload } from 'tus-js-client';
import { RequestProblem, readProblem } from '../client/api';

export interface SymbolUpload {
  readonly appSlug: string;
  /** Both empty for a file that carries its own id. */
  readonly version: string;
  readonly build: string;
  readonly file: File;
  /** Told the share that has arrived, from 0 to 1. */
  readonly progress?: (share: number) => void;
}

const partBytes = 8 << 20;
const retryDelays = [0, 1_000, 3_000, 10_000];

/** Sends a symbol file, a large one in parts that survive a broken connection; a refusal comes back in the server's own words. */
export async function uploadSymbolFile(upload: SymbolUpload): Promise<void> {
  if (upload.file.size > partBytes) return sendInParts(upload);
  const { appSlug, version, build, file } = upload;
  const parameters = new URLSearchParams({ version, build, name: file.name });
  let answer: Response;
  try {
    answer = await fetch(`/api/v1/apps/${appSlug}/symbol-files?${parameters}`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: file,
    });
  } catch {
    throw cutOff();
  }
  if (!answer.ok) throw await readProblem(answer);
}

function sendInParts({ appSlug, version, build, file, progress }: SymbolUpload): Promise<void> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: `/api/v1/apps/${appSlug}/symbol-uploads`,
      metadata: { version, build, name: file.name },
      chunkSize: partBytes,
      retryDelays,
      storeFingerprintForResuming: false,
      onProgress: (sent, all) => progress?.(sent / all),
      onSuccess: () => resolve(),
      onError: (error) => {
        const answer = error instanceof DetailedError ? error.originalResponse : null;
        if (!answer) reject(cutOff());
        else readProblem(new Response(answer.getBody(), { status: answer.getStatus() })).then(reject, reject);
      },
    });
    upload.start();
  });
}

const cutOff = () => new RequestProblem('The upload was cut off.', 'Check the connection and drop the file again.');
