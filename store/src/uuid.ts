/** A UUID as the sixteen bytes that are stored, and back to its text in lower case. */
export const uuidBytes = (uuid: string): Buffer => Buffer.from(uuid.replaceAll('-', ''), 'hex');
export const uuidText = (bytes: Buffer): string => bytes.toString('hex').replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
