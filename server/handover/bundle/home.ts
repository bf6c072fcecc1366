/** A bundle is a folder of parts; those that are compared are read, the others are left alone. */
import { MANIFEST } from '@early-set/core/bundle/manifest';
import { COMPARED_PARTS } from '@early-set/core/exchange/bundle/format';
import type { Home } from '../home.ts';

const READ: ReadonlySet<string> = new Set(COMPARED_PARTS.map((part) => `${part}.jsonl`));

export const bundle: Home = {
  data: '.',
  mark: MANIFEST,
  lock: null,
  once: true,
  covers: null,
  isText: (name) => READ.has(name),
};
