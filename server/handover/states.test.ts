import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openStates } from './states.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-states-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('a destination is forgotten also while something is being noted of it', async () => {
  const states = openStates(folder);
  const same = new Map([['a', { trackId: 1, here: 'x', there: 'y', losses: [] }]]);
  for (let round = 0; round < 20; round++) {
    await states.keepSame(round, 'before', same);
    // Whoever notes something may be told that there is no such folder any more; forgetting must not fail.
    const noting = Array.from({ length: 20 }, (_, i) =>
      states.keepSame(round, `key ${i}`, same).catch(() => undefined),
    );
    await states.forget(round);
    await Promise.all(noting);
    await states.forget(round);
    expect(readdirSync(join(folder, 'handover'))).toEqual([]);
  }
});
