import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Truth } from '../demo/produce.ts';

/** The demo's files with what is true of them. */
export function loadTruth(demoFolder: string): (Truth & { file: string })[] {
  const truths = JSON.parse(readFileSync(join(demoFolder, 'truth.json'), 'utf8')) as Truth[];
  return truths.map((t) => ({ ...t, file: join(demoFolder, 'music', t.path) }));
}
