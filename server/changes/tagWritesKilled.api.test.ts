/** Writing of tags that a kill ends between any two steps: the next start finishes, and it can be taken back. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RunProgress } from '@early-set/core/api/types';
import { splicesOf, type ByteUndo } from '../files/byteUndo.ts';
import { buildKiller, die } from '../testing/die.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { WorkStep } from './context.ts';

let h: Harness;
const { idOf, pathOf, inFile, undo, details, waiting, finished, bytesOf } = hands(() => h);

beforeAll(async () => {
  await buildKiller();
  h = await startHarness();
  mkdirSync(join(h.music, 'many'));
  makeAudio(join(h.music, 'many/20.mp3'), { seconds: 1, tags: { title: 'Many', artist: 'Keel Nine' } });
  for (const n of [21, 22]) copyFileSync(join(h.music, 'many/20.mp3'), join(h.music, `many/${n}.mp3`));
  makeAudio(join(h.music, 'd.ogg'), { seconds: 1, tags: { title: 'Old', artist: 'Brine Choir' } });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

const names = ['many/20.mp3', 'many/21.mp3', 'd.ogg', 'many/22.mp3'];

test.each<WorkStep>(['claimed', 'prepared', 'journalled', 'written', 'settled'])(
  'at the step "%s": the next start finishes, and all of it can be taken back',
  async (step) => {
    const before = bytesOf(names);
    const { changeSetId: id } = await waiting(names, `Killed when ${step}`);
    die(h, id, step, await idOf('d.ogg'));
    expect(inFile('many/22.mp3').title).not.toEqual([`Killed when ${step}`]);
    await h.restart();
    await finished(id);
    for (const name of names) expect([name, inFile(name).title]).toEqual([name, [`Killed when ${step}`]]);
    expect((await details(id)).lines.map((l) => l.state)).toEqual(Array(8).fill('done'));
    await undo({ changeSetId: id });
    bytesOf(names).forEach((bytes, i) => expect([names[i], bytes.equals(before[i]!)]).toEqual([names[i], true]));
  },
);

test('in the middle of writing in place: the bytes are put back, then written whole, and it says so', async () => {
  const name = 'many/21.mp3',
    [before] = bytesOf([name]);
  const { changeSetId: id } = await waiting([name], 'Half and half');
  const trackId = await idOf(name);
  // Nobody else is there who could put it right before it is half.
  await h.restart(async () => {
    die(h, id, 'journalled', trackId);
    const [journal] = await h.query<{ intent: { byteUndo: ByteUndo } }>(
      "SELECT intent FROM file_journal WHERE change_set_id = $1 AND state = 'begun'",
      [id],
    );
    const [splice] = splicesOf(journal!.intent.byteUndo),
      half = Buffer.from(before!);
    half.set(splice!.insert.subarray(0, Math.floor(splice!.insert.length / 2)), splice!.at);
    expect(half.equals(before!)).toBe(false);
    writeFileSync(pathOf(name), half);
  });
  await finished(id);
  expect(inFile(name).title).toEqual(['Half and half']);
  const runs = (await h.get('/runs')).body as RunProgress[];
  expect(JSON.stringify(runs.map((r) => r.report))).toContain('had been written in part; its bytes are back');
  await undo({ changeSetId: id });
  expect(readFileSync(pathOf(name)).equals(before!)).toBe(true);
});
