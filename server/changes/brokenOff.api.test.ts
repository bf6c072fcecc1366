/** Files that are not what they were: left in part by a drive that failed, replaced by a pipe, held under two names. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { linkSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import type { Applied, ChangeSetDetails } from '@early-set/core/api/types';
import { OTHER_NAMES } from '@early-set/core/changes/kinds/writeTags';
import { splicesOf, type ByteUndo } from '../files/byteUndo.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { finishLeft } from './carryOut.ts';

let h: Harness;
const { idOf, pathOf, inFile, set, undo } = hands(() => h);

beforeAll(async () => {
  h = await startHarness();
  for (const name of ['a.mp3', 'b.mp3', 'c.mp3', 'd.flac'])
    makeAudio(join(h.music, name), { seconds: 1, tags: { title: 'Old', artist: 'Brine Choir' } });
  await h.takeIn(h.music, false);
  // So that the tags have room, and the edits below are made in place.
  for (const title of ['x'.repeat(300), 'Roomy'])
    for (const name of ['a.mp3', 'b.mp3', 'c.mp3', 'd.flac']) await set([name], 'title', title);
});
afterAll(() => h.stop());

/** An edit that broke off midway, as a drive that failed and could not be put back leaves it. */
async function leftInPart(name: string, title: string): Promise<{ before: Buffer; applied: Applied }> {
  const before = readFileSync(pathOf(name));
  const applied = await set([name], 'title', title);
  const [journal] = await h.query<{ seq: number; intent: { byteUndo: ByteUndo } }>(
    'SELECT seq, intent FROM file_journal WHERE change_set_id = $1',
    [applied.changeSetId],
  );
  const [splice] = splicesOf(journal!.intent.byteUndo);
  const after = readFileSync(pathOf(name)),
    half = Buffer.from(before);
  const differing = [...before.keys()].filter((at) => before[at] !== after[at]);
  const upTo = differing[Math.floor(differing.length / 2)]!;
  half.set(splice!.insert.subarray(0, upTo - splice!.at), splice!.at);
  expect(half.equals(before)).toBe(false);
  expect(half.equals(readFileSync(pathOf(name)))).toBe(false);
  writeFileSync(pathOf(name), half);
  await h.query("UPDATE file_journal SET state = 'begun' WHERE change_set_id = $1", [applied.changeSetId]);
  await h.query("UPDATE change_items SET state = 'failed' WHERE change_set_id = $1 AND seq = $2", [
    applied.changeSetId,
    journal!.seq,
  ]);
  return { before, applied };
}
const begun = async (): Promise<number> =>
  (await h.query<{ n: number }>("SELECT count(*)::int AS n FROM file_journal WHERE state = 'begun'"))[0]!.n;

describe('a file left in part', () => {
  test('is put back before the next edit of it, which then goes in whole', async () => {
    const { before } = await leftInPart('a.mp3', 'Never whole');
    const next = await set(['a.mp3'], 'genre', 'Dub');
    expect(next).toMatchObject({ files: { written: 1 } });
    expect(inFile('a.mp3')).toMatchObject({ genre: ['Dub'], title: ['Roomy'] });
    expect(await begun()).toBe(0);
    await undo(next);
    expect(readFileSync(pathOf('a.mp3')).equals(before)).toBe(true);
  });

  test('is put back at the next start', async () => {
    const { before } = await leftInPart('b.mp3', 'Never whole either');
    await h.restart();
    await h.until(async () => (await begun()) === 0, 'the journal is settled');
    expect(readFileSync(pathOf('b.mp3')).equals(before)).toBe(true);
  });

  test('while its drive is away nothing is forgotten; when it is back, it is finished', async () => {
    const { before } = await leftInPart('c.mp3', 'Not yet');
    renameSync(h.music, `${h.music}-away`);
    expect(await finishLeft(h.server.changing)).toBe(1);
    const refused = await h.post('/fields', { selection: { ids: [await idOf('c.mp3')] }, field: 'title', value: 'No' });
    expect(JSON.stringify(refused.body)).not.toContain('as it was');
    renameSync(`${h.music}-away`, h.music);
    expect(await finishLeft(h.server.changing)).toBe(0);
    expect(readFileSync(pathOf('c.mp3')).equals(before)).toBe(true);
  });
});

describe('what stands in the place of a file', () => {
  test('a pipe blocks neither edits, nor listening, nor a scan', async () => {
    const kept = readFileSync(pathOf('d.flac'));
    rmSync(pathOf('d.flac'));
    spawnSync('mkfifo', [pathOf('d.flac')]);
    const [edit, audio] = await Promise.all([
      set(['d.flac'], 'title', 'Through a pipe'),
      h.get(`/tracks/${await idOf('d.flac')}/audio`),
    ]);
    expect(edit.files).toMatchObject({ written: 0 });
    expect(JSON.stringify(edit.conflicts)).toContain('no ordinary file');
    expect(audio.status).toBe(415);
    rmSync(pathOf('d.flac'));
    writeFileSync(pathOf('d.flac'), kept);
    await undo(edit);
  });

  test('two names for one file stay one where that can be; else it is asked, and nothing is parted before', async () => {
    const other = join(h.folder, 'second-name.mp3'),
      before = inFile('a.mp3').title;
    linkSync(pathOf('a.mp3'), other);
    const short = await set(['a.mp3'], 'title', 'Short');
    expect(short.files).toMatchObject({ written: 1 });
    expect(statSync(other).ino).toBe(statSync(pathOf('a.mp3')).ino);
    const long = await set(['a.mp3'], 'comment', 'x'.repeat(9000));
    expect(long.files).toMatchObject({ written: 0 });
    expect(JSON.stringify(long.conflicts)).toContain('other names (hard links)');
    expect(statSync(other).nlink).toBe(2);
    const left = async (id: number) => (await h.get(`/changes/${id}`).expect(200)).body as ChangeSetDetails;
    expect(await left(long.changeSetId)).toMatchObject({ otherNames: 1, files: 0 });
    const parted = (await h.post(`/changes/${long.changeSetId}/part`, {}).expect(200)).body as Applied;
    expect(parted).toMatchObject({ files: { written: 1 }, conflicts: [] });
    expect([inFile('a.mp3').comment, inFile(relative(h.music, other)).comment]).toEqual([
      ['x'.repeat(9000)],
      undefined,
    ]);
    expect([statSync(other).nlink, statSync(pathOf('a.mp3')).nlink]).toEqual([1, 1]);
    expect(await left(long.changeSetId)).toMatchObject({ otherNames: 0 });
    await h.post(`/changes/${long.changeSetId}/part`, {}).expect(409);
    expect((await h.get(`/changes/${parted.changeSetId}`)).body.lines[0].state).toBe('done');
    await undo(parted);
    expect(inFile('a.mp3').comment).toBeUndefined();
    expect(readFileSync(pathOf('a.mp3')).equals(readFileSync(other))).toBe(true);
    await undo(long);
    await undo(short);
    expect(inFile('a.mp3').title).toEqual(before);
  });

  test('an undo that would part a file asks too, and undoes it when it may', async () => {
    const before = readFileSync(pathOf('c.mp3'));
    const long = await set(['c.mp3'], 'comment', 'y'.repeat(9000));
    const other = join(h.folder, 'third-name.mp3');
    linkSync(pathOf('c.mp3'), other);
    const undone = (await h.post(`/changes/${long.changeSetId}/undo`, {}).expect(200)).body as Applied;
    expect(undone.conflicts.map((c) => c.reason)).toEqual([OTHER_NAMES]);
    const parted = (await h.post(`/changes/${undone.changeSetId}/part`, {}).expect(200)).body as Applied;
    expect(parted).toMatchObject({ files: { written: 1 }, conflicts: [] });
    expect(readFileSync(pathOf('c.mp3')).equals(before)).toBe(true);
    expect(inFile(relative(h.music, other)).comment).toEqual(['y'.repeat(9000)]);
    expect((await h.get(`/changes/${long.changeSetId}`)).body.undoneBy).not.toBeNull();
  });
});
