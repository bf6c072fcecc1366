/**
 * Errors as one JSON shape: { error: { code, message } }. The page asks with "X-Refusals: inside" for refusals inside
 * an answer of status 200, with the status in "X-Refused": browsers write every other one to their console as a fault.
 */
import type { ErrorRequestHandler, RequestHandler } from 'express';
import { MulterError } from 'multer';
import { isAway } from '../db/database.ts';
import { log } from '../base/log.ts';
import { Problem } from '../base/problem.ts';

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof MulterError) return new Problem(400, 'bad-upload', 'The files did not arrive in a usable form');
  if (isAway(error))
    return new Problem(503, 'no-database', 'The database is not there; Early Set goes on as soon as it is back');
  const { type, status, code, original } = error as {
    type?: string;
    status?: number;
    code?: string;
    original?: { code?: string };
  };
  // What the schemas let through and no column can hold: numbers beyond it, half characters, NUL, days that are none.
  if (original?.code && NOT_STORABLE.has(original.code))
    return new Problem(400, 'bad-value', 'The request holds a value that cannot be stored');
  if (type === 'entity.too.large') return new Problem(413, 'too-large', 'The request is too large');
  if (type === 'entity.parse.failed') return new Problem(400, 'bad-json', 'The request is not valid JSON');
  if (code === 'ENOSPC' || original?.code === '53100')
    return new Problem(507, 'no-space', 'There is no space left on the disk; nothing was changed');
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem(status, 'bad-request', 'The request could not be understood');
  return new Problem(
    500,
    'failed',
    'Something went wrong inside Early Set; nothing was changed. Trying again may help',
  );
}

/** PostgreSQL's codes for values that do not fit (appendix A of its manual, classes 22 and 23). */
const NOT_STORABLE = new Set([
  '22001',
  '22003',
  '22007',
  '22008',
  '22021',
  '22P02',
  '22P05',
  '2201W',
  '2201X',
  '23503',
]);

/** Turns whatever was thrown into an answer. */
export const answerErrors: ErrorRequestHandler = (error, request, response, next) => {
  const problem = problemOf(error);
  if (problem.status >= 500) log.error({ err: error as unknown, path: request.path }, 'request failed');
  if (response.headersSent) {
    next(error);
    return;
  }
  const inside = problem.status < 500 && request.headers['x-refusals'] === 'inside';
  if (inside) response.setHeader('X-Refused', problem.status);
  response.status(inside ? 200 : problem.status).json({ error: { code: problem.code, message: problem.message } });
};

/** API paths that do not exist. */
export const noSuchRoute: RequestHandler = () => {
  throw new Problem(404, 'not-found', 'There is nothing at this address');
};
