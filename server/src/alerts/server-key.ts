import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Settings } from '../settings.ts';

const nonceBytes = 12;
const tagBytes = 16;

/** Keeps secrets that the server itself has to read: AES-256 in Galois/Counter Mode (NIST SP 800-38D), a nonce for each. */
export class ServerKey {
  private readonly key: Buffer;

  /** Any text makes a key; its strength is that of the text. */
  constructor(text: string) {
    this.key = createHash('sha256').update(text).digest();
  }

  encrypt(secret: string): Buffer {
    const nonce = randomBytes(nonceBytes);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce);
    const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), text]);
  }

  /** Null when another key encrypted it, or it was changed. */
  decrypt(encrypted: Buffer): string | null {
    try {
      const decipher = createDecipheriv('aes-256-gcm', this.key, encrypted.subarray(0, nonceBytes));
      decipher.setAuthTag(encrypted.subarray(nonceBytes, nonceBytes + tagBytes));
      return Buffer.concat([decipher.update(encrypted.subarray(nonceBytes + tagBytes)), decipher.final()]).toString('utf8');
    } catch {
      return null;
    }
  }
}

/** The key that the settings name, or the one in the data folder, which is made when there is none. */
export function openServerKey({ secretKey, dataFolder }: Pick<Settings, 'secretKey' | 'dataFolder'>): ServerKey {
  if (secretKey !== undefined) return new ServerKey(secretKey);
  const file = join(dataFolder, 'secret.key');
  if (!existsSync(file)) {
    mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
    // Another process may be making it at this moment; the one that comes first stays.
    try {
      writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600, flag: 'wx' });
      chmodSync(file, 0o600);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
  return new ServerKey(readFileSync(file, 'utf8').trim());
}
