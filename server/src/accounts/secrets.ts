import { createHash, randomBytes } from 'node:crypto';

/** Hash under which a random secret is stored; it has enough entropy to need no salt. */
export const hashSecret = (secret: string): Buffer => createHash('sha256').update(secret).digest();

/** A random secret with a prefix that says what it is: `lark-key_…` is found by secret scanners and by people. */
export const makeSecret = (prefix: string, bytes = 24): string => `${prefix}_${randomBytes(bytes).toString('base64url')}`;

/** A random password of twelve characters that are easy to copy. */
export const makePassword = (): string => randomBytes(9).toString('base64url');

/** The credential of an `authorization: Bearer …` header, or null. */
export function bearer(header: string | undefined | null): string | null {
  const match = /^Bearer +(\S{1,200}) *$/i.exec(header ?? '');
  return match ? (match[1] as string) : null;
}
