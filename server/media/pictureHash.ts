import { createHash } from 'node:crypto';

/** By what pictures are known: the first 160 bits of their SHA-256, in hex. */
export const hashOfPicture = (data: Uint8Array): string => createHash('sha256').update(data).digest('hex').slice(0, 40);
