/** A kind of change is named in its own two modules and in the registries, and nowhere else. */
import { expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { KIND_NAMES } from './items.ts';

const ROOT = join(import.meta.dirname, '../..');

function sources(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'node_modules' ? [] : sources(path);
    return /\.tsx?$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name) ? [path] : [];
  });
}

test.each(KIND_NAMES)('%s', (kind) => {
  const named = ['core', 'server', 'web', 'demo', 'standins', 'benchmarks', 'e2e']
    .flatMap((folder) => sources(join(ROOT, folder)))
    .filter((path) => !path.includes('/db/migrations/')) // frozen: they speak of kinds as they were
    .filter((path) => new RegExp(`['"\`]${kind}['"\`]`).test(readFileSync(path, 'utf8')))
    .map((path) => relative(ROOT, path));
  const file = kind.replace(/-(\w)/g, (_, c: string) => c.toUpperCase());
  expect(named).toEqual([`core/changes/kinds/${file}.ts`]);
  // The server's half takes the name from there.
  expect(readFileSync(join(ROOT, `server/changes/kinds/${file}.ts`), 'utf8')).toContain(`kind: ${file}Kind.kind`);
});
