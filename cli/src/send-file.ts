import { createReadStream, mkdirSync, statSync } from 'node:fs';
import { homedir } from 'node:os';
import { basename, join } from 'node:path';
import { Readable } from 'node:stream';
import { setTimeout as pause } from 'node:timers/promises';
import { DetailedError, FileUrlStorage, Upload } from 'tus-js-client';
import { ask, Passing, refusal } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';

/** What the server says of a file. */
export interface SentFile {
  readonly id: number;
  readonly state: 'indexing' | 'ready' | 'refused' | 'replaced';
  /** Other builds that have a file of the same content. */
  readonly alsoOf?: readonly { readonly version: string; readonly build: string }[];
  readonly isNew: boolean;
  readonly problem?: string | null;
}

/** Where a file goes, and in whose name. */
export interface Destination {
  /** Address of the app on the server. */
  readonly app: string;
  readonly token: string;
  readonly version: string;
  readonly build: string;
}

const sendAttempts = 4;
/** Larger files go in parts, so that what was sent need not be sent again when the connection breaks. */
const partBytes = 8 << 20;
const partDelays = [0, 1_000, 3_000, 10_000, 20_000];

/** Sends a file; what may pass by itself is tried again. `progress` is told the bytes that have arrived. */
export async function sendFile(path: string, to: Destination, progress: (bytes: number) => void): Promise<SentFile> {
  const { size } = statSync(path);
  if (size > partBytes) return sendInParts(path, size, to, progress);
  const build = to.version === '' ? {} : { version: to.version, build: to.build };
  const parameters = new URLSearchParams({ ...build, name: basename(path) });
  for (let attempt = 1; ; attempt++) {
    try {
      return await ask<SentFile>(`${to.app}/symbol-files?${parameters}`, to.token, {
        method: 'POST',
        headers: { 'content-type': 'application/octet-stream', 'content-length': String(size) },
        body: Readable.toWeb(createReadStream(path)) as ReadableStream,
        duplex: 'half',
      });
    } catch (error) {
      if (!(error instanceof Passing) || attempt === sendAttempts) throw error;
      await pause(500 * 2 ** attempt);
    }
  }
}

/** Sends a file by the open protocol for uploads that can be taken up again, even by another run of the command. */
async function sendInParts(path: string, size: number, to: Destination, progress: (bytes: number) => void): Promise<SentFile> {
  const { version, build, token } = to;
  return new Promise<SentFile>((resolve, reject) => {
    const upload = new Upload(createReadStream(path), {
      endpoint: `${to.app}/symbol-uploads`,
      headers: { authorization: `Bearer ${token}` },
      metadata: { version, build, name: basename(path) },
      uploadSize: size,
      chunkSize: partBytes,
      retryDelays: partDelays,
      urlStorage: new FileUrlStorage(join(stateFolder(), 'uploads.json')),
      fingerprint: () => Promise.resolve([to.app, version, build, path, size, statSync(path).mtimeMs].join(' ')),
      removeFingerprintOnSuccess: true,
      onProgress: (sent) => progress(sent),
      onSuccess: ({ lastResponse }) => resolve(JSON.parse(lastResponse.getBody()) as SentFile),
      onShouldRetry: (error) => {
        const status = error instanceof DetailedError ? (error.originalResponse?.getStatus() ?? 0) : 0;
        return status === 0 || status === 423 || status === 429 || status >= 500;
      },
      onError: (error) => reject(toProblem(error, to.app)),
    });
    upload
      .findPreviousUploads()
      .then(([previous]) => {
        if (previous) upload.resumeFromPreviousUpload(previous);
        upload.start();
      })
      .catch(reject);
  });
}

function stateFolder(): string {
  const folder = join(process.env.XDG_STATE_HOME ?? join(homedir(), '.local', 'state'), 'ember');
  mkdirSync(folder, { recursive: true });
  return folder;
}

function toProblem(error: Error, address: string): CommandProblem {
  const answer = error instanceof DetailedError ? error.originalResponse : null;
  if (!answer) return new CommandProblem(`${new URL(address).origin} cannot be reached: ${error.message.split('\n', 1)[0]}`);
  return refusal(address, answer.getStatus(), answer.getBody());
}
