/** Routes say what may be asked and hand it on; what is read and stored is in the modules behind them. */
import { expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const FOLDER = import.meta.dirname;
const routes = readdirSync(FOLDER).filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'));

test.each(routes)('%s holds no SQL', (name) => {
  const text = readFileSync(join(FOLDER, name), 'utf8');
  expect(text).not.toMatch(/\b(?:SELECT|INSERT INTO|UPDATE|DELETE FROM)\s/);
  expect(text).not.toMatch(/\bdatabase\.(?:rows|run)\b/);
});
