/** Files that come with a request: one at a time, with a limit of their own, and gone from here when it is answered. */
import type { RequestHandler } from 'express';
import { randomUUID } from 'node:crypto';
import { mkdirSync, rmSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import multer, { MulterError, type StorageEngine } from 'multer';
import { Problem } from '../base/problem.ts';

const MB = 2 ** 20;
const inWords = (bytes: number): string =>
  bytes >= 1024 * MB ? `${Math.round(bytes / 1024 / MB)} GB` : `${Math.round(bytes / MB)} MB`;

const receive = (storage: StorageEngine, maxBytes: number): RequestHandler => {
  const take = multer({
    storage,
    limits: { fileSize: maxBytes, files: 1, fields: 4, fieldSize: 8000 },
    defParamCharset: 'utf8',
  }).single('file');
  return (request, response, next) =>
    take(request, response, (error: unknown) => {
      const tooLarge = error instanceof MulterError && error.code === 'LIMIT_FILE_SIZE';
      next(tooLarge ? new Problem(413, 'too-large', `The file is larger than ${inWords(maxBytes)}`) : error);
    });
};

/** Receives a file into memory. */
export const receiveInMemory = (maxBytes: number): RequestHandler => receive(multer.memoryStorage(), maxBytes);

/**
 * Receives a file into a folder. However the request ends (answered, refused, broken off), what is still there of it
 * goes; what an earlier process left there goes at once.
 */
export function receiveOnDisk(folder: string, maxBytes: number): RequestHandler {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const storage = multer.diskStorage({
    destination: folder,
    filename(request, _file, done) {
      const name = randomUUID();
      request.res?.once('close', () => void rm(join(folder, name), { force: true }));
      done(null, name);
    },
  });
  return receive(storage, maxBytes);
}
