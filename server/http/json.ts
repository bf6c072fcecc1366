/** JSON as it comes over the wire: of a size that is expected, and not so deep that reading it takes the stack. */
import express, { type RequestHandler } from 'express';
import { Problem } from '../base/problem.ts';

const MAX_DEPTH = 60;
const QUOTE = 0x22,
  BACKSLASH = 0x5c;
const OPEN = new Set([0x5b, 0x7b]),
  CLOSE = new Set([0x5d, 0x7d]);

/** How deep brackets lie in each other at most, strings passed over; counted without reading the text. */
export function depthOf(json: Uint8Array): number {
  let depth = 0,
    deepest = 0,
    inText = false;
  for (let i = 0; i < json.length; i++) {
    const c = json[i]!;
    if (inText) {
      if (c === BACKSLASH) i++;
      else if (c === QUOTE) inText = false;
    } else if (c === QUOTE) inText = true;
    else if (OPEN.has(c)) deepest = Math.max(deepest, ++depth);
    else if (CLOSE.has(c)) depth--;
  }
  return deepest;
}

/** Reads bodies of at most this size, such as "8mb". */
export const jsonBody = (limit: string): RequestHandler =>
  express.json({
    limit,
    verify(_request, _response, bytes) {
      if (depthOf(bytes) > MAX_DEPTH) throw new Problem(400, 'bad-json', 'The request is nested too deeply');
    },
  });
