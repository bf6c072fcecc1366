/** Two transactions about one track: whoever comes second waits for the track, and neither ends the other. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { mainFileIds, storeFiles } from '../library/trackFiles.ts';
import { loadTracks } from '../library/trackStore.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { storeFileTags } from './fileTags.ts';

let h: Harness;
let reached: (() => void) | null = null;
let held: Promise<void> | null = null;
const database = () => h.server.changing.database;
const { set, undo, details, bytesOf, idOf } = hands(() => h);

beforeAll(async () => {
  h = await startHarness({
    step: async (step) => {
      if (step !== 'written' || !held) return;
      reached?.();
      await held;
    },
  });
  makeAudio(join(h.music, 'one.mp3'), { seconds: 1, tags: { title: 'Old' } });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

/** Resolves when somebody waits for a lock in the database. */
async function somebodyWaits(): Promise<void> {
  for (;;) {
    const waiting = await database().rows(
      "SELECT 1 FROM pg_stat_activity WHERE wait_event_type = 'Lock' AND datname = current_database()",
    );
    if (waiting.length) return;
  }
}

test('a file read again while an edit of it is being settled: both are stored, and the edit can be undone', async () => {
  const [before] = bytesOf(['one.mp3']);
  const id = await idOf('one.mp3');
  const fields = (await database().rows<{ fields: Record<string, string[]> }>('SELECT fields FROM file_tags'))[0]!
    .fields;
  let go!: () => void;
  held = new Promise<void>((resolve) => (go = resolve));
  const written = new Promise<void>((resolve) => (reached = resolve));
  const edit = set(['one.mp3'], 'title', 'New');
  await written;
  await database().transaction(async (t) => {
    await loadTracks(database(), [id], [], t);
    go();
    held = null;
    await somebodyWaits();
    const fileId = (await mainFileIds(database(), [id], t)).get(id)!;
    await storeFiles(database(), [{ id: fileId, audioHash: 'read meanwhile' }], t);
    await storeFileTags(
      database(),
      [{ id, stamp: { size: before!.length, modifiedMs: 1, changedMs: 1, tagHash: 'read meanwhile', fields } }],
      t,
    );
  });
  const made = await edit;
  expect([made.conflicts, made.files?.written]).toEqual([[], 1]);
  const { lines } = await details(made.changeSetId);
  expect(lines.map((l) => [l.state, l.reason])).toEqual(lines.map(() => ['done', null]));
  await undo(made);
  expect(bytesOf(['one.mp3'])[0]!.equals(before!)).toBe(true);
});
