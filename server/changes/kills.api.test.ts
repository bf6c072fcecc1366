/**
 * Edits killed at steps picked by chance, one after the other on the same files: after each the next start finishes,
 * file and library say the same, and in the end everything is taken back byte for byte.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import type { Applied } from '@early-set/core/api/types';
import { buildKiller, die } from '../testing/die.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { WorkStep } from './context.ts';

const KILLS = Number(process.env.EARLY_SET_KILLS ?? 10);
const STEPS: readonly WorkStep[] = ['claimed', 'prepared', 'journalled', 'written', 'settled'];
const FILES = ['a.mp3', 'b.flac', 'c.m4a', 'd.ogg', 'e.opus', 'f.aiff', 'g.wav'];

let h: Harness;
const { idOf, inFile, undo, waiting, finished, bytesOf } = hands(() => h);

beforeAll(async () => {
  await buildKiller();
  h = await startHarness();
  FILES.forEach((name, i) =>
    makeAudio(join(h.music, name), {
      seconds: 1,
      hz: 300 + 20 * i,
      tags: { title: 'Old', artist: 'Brine Choir' },
      args: name.endsWith('aiff') ? ['-write_id3v2', '1'] : [],
    }),
  );
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

test(
  `${KILLS} kills: nothing is lost`,
  async () => {
    const first = bytesOf(FILES);
    const made: Applied[] = [];
    for (let n = 0; n < KILLS; n++) {
      // Each third edit is longer than the room in the tags, so that files are made anew.
      const names = FILES.filter((_, i) => (i + n) % 3 !== 0),
        title = n % 3 === 0 ? `Kill ${n} ${'long '.repeat(500)}` : `Kill ${n}`;
      const edit = await waiting(names, title.trim());
      const step = STEPS[(n * 3 + Math.floor(n / 5)) % STEPS.length]!,
        at = names[(n * 2) % names.length]!;
      die(h, edit.changeSetId, step, await idOf(at));
      await h.restart();
      await finished(edit.changeSetId);
      for (const name of names) expect([n, step, name, inFile(name).title]).toEqual([n, step, name, [title.trim()]]);
      made.push(edit);
    }
    for (const edit of made.reverse()) await undo(edit);
    bytesOf(FILES).forEach((bytes, i) => expect([FILES[i], bytes.equals(first[i]!)]).toEqual([FILES[i], true]));
  },
  60_000 + KILLS * 10_000,
);
