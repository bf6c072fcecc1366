/**
 * Edits of the same files right one after the other, errors that nobody has thought of, and crates that would lie in a
 * ring.
 */
import { afterAll, afterEach, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ListLine } from '@early-set/core/api/types';
import { writeTagsItem } from '@early-set/core/changes/kinds/writeTags';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { connect, type Database } from '../db/database.ts';
import { expectedFileFields } from './fileTags.ts';
import { fileWorkOf } from './kinds.ts';

let h: Harness;
let database: Database;
const { inFile, set, undo, details, bytesOf, ended, titleOf } = hands(() => h);
const NAMES = Array.from({ length: 24 }, (_, i) => `${i}.mp3`);

beforeAll(async () => {
  // Small, so that edits of all files are runs.
  h = await startHarness({ maxBytesAtOnce: 100_000 });
  makeAudio(join(h.music, '0.mp3'), { seconds: 1, tags: { title: 'Old', genre: 'Dub' } });
  for (const name of NAMES.slice(1)) copyFileSync(join(h.music, '0.mp3'), join(h.music, name));
  await h.takeIn(h.music, false);
  database = await connect(h.databaseUrl);
});
afterAll(async () => {
  await database.sequelize.close();
  await h.stop();
});

const settled = async (...made: Applied[]): Promise<void> => {
  for (const { files } of made) if (files?.runId) await ended(files.runId);
};

test('batches of the same files, with single edits in between: each waits for the one before, and all is undone', async () => {
  const before = bytesOf(NAMES);
  const made = await Promise.all([
    set(NAMES, 'title', 'First'),
    set(['3.mp3'], 'title', 'Between'),
    set(NAMES, 'title', 'Second'),
    set(['5.mp3'], 'genre', 'House'),
    set(NAMES, 'comment', 'Third'),
  ]);
  await settled(...made);
  expect(made.flatMap((m) => m.conflicts)).toEqual([]);
  for (const { changeSetId } of made)
    expect(new Set((await details(changeSetId)).lines.map((l) => l.state))).toEqual(new Set(['done']));
  for (const name of NAMES) {
    expect([name, inFile(name).title]).toEqual([name, [await titleOf(name)]]);
    expect([name, inFile(name).comment]).toEqual([name, ['Third']]);
  }
  expect(inFile('5.mp3').genre).toEqual(['House']);
  for (const one of [...made].sort((a, b) => b.changeSetId - a.changeSetId)) await settled(await undo(one));
  bytesOf(NAMES).forEach((bytes, i) => expect([NAMES[i], bytes.equals(before[i]!)]).toEqual([NAMES[i], true]));
});

test('what a file will say is known at every moment, also while a line about it is being settled', async () => {
  const [{ id }] = (await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = '7.mp3'")) as [{ id: number }];
  const seen: number[] = [];
  let last: Applied[] = [];
  const typing = (async () => {
    for (let n = 1; n <= 25; n++) last = [await set(['7.mp3'], 'title', `No. ${n}`)];
  })();
  let over = false;
  void typing.finally(() => (over = true));
  while (!over) {
    const title = (await expectedFileFields(database, [id])).get(id)?.title?.[0] ?? '';
    seen.push(Number(/^No\. (\d+)$/.exec(title)?.[1] ?? 0));
  }
  await typing;
  await settled(...last);
  expect(seen.length).toBeGreaterThan(25);
  expect(seen).toEqual([...seen].sort((a, b) => a - b));
});

const work = fileWorkOf(writeTagsItem(1, {})),
  { perform } = work;
afterEach(() => {
  work.perform = perform;
});
test('an error that nobody has thought of ends its own line with a sentence; the library and the rest go on', async () => {
  const [before] = bytesOf(['1.mp3']);
  let failed = 0;
  work.perform = async (...of) => {
    if (failed++ === 0) throw Object.assign(new Error('what is this'), { code: 'EWHATEVER' });
    return perform(...of);
  };
  const made = await set(['1.mp3', '2.mp3'], 'title', 'Odd');
  await settled(made);
  const lines = (await details(made.changeSetId)).lines.filter((l) => l.item.kind === 'write-tags');
  expect(lines.map((l) => l.state).sort()).toEqual(['done', 'failed']);
  const odd = lines.find((l) => l.state === 'failed')!;
  expect(odd.reason).toMatch(/^[A-Z].*\w/);
  expect(odd.reason).not.toMatch(/nothing was changed/i);
  // Nothing waits for ever, and nothing is in the way of taking it back.
  expect((await details(made.changeSetId)).waiting).toBe(0);
  await settled(await undo(made));
  expect([await titleOf('1.mp3'), bytesOf(['1.mp3'])[0]!.equals(before!)]).toEqual(['Old', true]);
});

test('crates that would lie in each other by undoing and redoing are in conflict, and stay where they can be seen', async () => {
  const crate = async (name: string): Promise<string> =>
    ((await h.post('/lists', { kind: 'crate', name, parentId: null }).expect(200)).body as { listId: string }).listId;
  const [a, b] = [await crate('Inner'), await crate('Outer')];
  const into = async (list: string, parentId: string | null): Promise<Applied> =>
    (await h.patch(`/lists/${list}`, { parentId }).expect(200)).body as Applied;
  const first = await into(a, b);
  const undone = await undo(first);
  await into(b, a);
  const redone = await h.post(`/changes/${undone.changeSetId}/undo`, {});
  expect(redone.status).toBe(409);
  expect(JSON.stringify(redone.body)).toMatch(/cannot lie inside itself/i);
  const lists = (await h.get('/lists').expect(200)).body as ListLine[];
  expect(lists.find((l) => l.id === b)!.parentId).toBe(a);
  expect(lists.find((l) => l.id === a)!.parentId).toBeNull();
});
