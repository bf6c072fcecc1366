/** A stick for a fussy player: laid out, converted, written, changed, written again, taken back. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { StickAnswer, StickLine, StickVerified } from '@early-set/core/api/stick';
import type { Applied, RunProgress } from '@early-set/core/api/types';
import { fieldsIn, openTags, pictureIn } from '@early-set/core/tags/edit';
import { readStick } from '../../standins/oystercatcher/stick.ts';
import { connect } from '../db/database.ts';
import { withSource } from '../files/tagFile.ts';
import { probe } from '../media/decode.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { stickHands } from '../testing/sticks.ts';
import { sizesOn } from './writeStick.ts';

let h: Harness, home: string, id: number;
const { set, undo, finished, idOf } = hands(() => h);
const SOUND = { 'Lamp Room.mp3': 6, 'Eel Grass.flac': 5, 'Tin Shed Rain.wav': 4, 'Signal Box.mp3': 7 } as const;

const { look, write } = stickHands(
  () => h,
  () => id,
);
const change = (settings: object) => h.patch(`/sticks/${id}`, { settings }).expect(200);
const line = async (): Promise<StickLine> => ((await h.get('/sticks').expect(200)).body as StickLine[])[0]!;
const there = (): string[] => [...sizesOn(home).keys()].sort();
const lists: Record<string, string> = {};
const listNamed = async (name: string, kind: string, names: string[]): Promise<void> => {
  const made = await h
    .post('/lists', { name, kind, selection: { ids: await Promise.all(names.map(idOf)) } })
    .expect(200);
  lists[name] = (made.body as { listId: string }).listId;
};

/** The run that carried out a change, as it is shown in a state. */
async function writtenBy(changeSetId: number, state: string): Promise<RunProgress[]> {
  const database = await connect(h.databaseUrl);
  const rows = await database.rows<{ id: number }>(
    "UPDATE runs SET state = $2 WHERE kind = 'writing' AND payload->>'changeSetId' = $1 RETURNING id",
    [String(changeSetId), state],
  );
  await database.close();
  const shown = (await h.get('/runs').expect(200)).body as RunProgress[];
  return shown.filter((run) => rows.some(({ id: own }) => own === run.id));
}

beforeAll(async () => {
  h = await startHarness({ threads: 2 });
  home = join(h.folder, 'stick');
  mkdirSync(join(home, 'Holiday'), { recursive: true });
  writeFileSync(join(home, 'Holiday/beach.txt'), 'not ours');
  for (const [i, [name, seconds]] of Object.entries(SOUND).entries())
    makeAudio(join(h.music, name), {
      seconds,
      hz: 300 + 40 * i,
      tags: { title: name.split('.')[0]!, artist: 'Odette Kassar', album: 'Slipway' },
    });
  await h.takeIn();
  await listNamed('Slipway', 'playlist', ['Eel Grass.flac', 'Lamp Room.mp3', 'Tin Shed Rain.wav']);
  await listNamed('Boathouse', 'crate', ['Signal Box.mp3', 'Lamp Room.mp3']);
}, 120_000);
afterAll(() => h?.stop());

test('a stick is added; where music lies, or one is there already, none is', async () => {
  await h.post('/sticks', { folder: h.music, player: 'oystercatcher' }).expect(409);
  await h.post('/sticks', { folder: h.folder, player: 'oystercatcher' }).expect(409);
  id = ((await h.post('/sticks', { folder: home, player: 'oystercatcher' }).expect(200)).body as { id: number }).id;
  await h.post('/sticks', { folder: join(home, 'Holiday'), player: 'folder' }).expect(409);
  expect(await line()).toMatchObject({
    id,
    playerName: 'Oystercatcher',
    name: 'stick',
    trouble: null,
    writtenAt: null,
  });
  const empty = await look();
  expect(empty).toMatchObject({ counts: { files: 0, write: 0 }, foreign: 1, lists: [], files: [] });
});

test('what would be written is told before, list by list', async () => {
  await change({ lists: [lists.Slipway, lists.Boathouse] });
  const seen = await look(lists.Slipway!);
  expect(seen.lists.map((l) => [l.name, l.files, l.changes])).toEqual([
    ['Boathouse', 2, 2],
    ['Slipway', 3, 3],
  ]);
  expect(seen.files.map((f) => [f.path, f.how, f.state])).toEqual([
    ['Slipway/01 Eel Grass.m4a', 'FLAC to AAC 256', 'new'],
    ['Slipway/02 Lamp Room.mp3', 'MP3 as it is', 'new'],
    ['Slipway/03 Tin Shed Rain.m4a', 'WAV to AAC 256', 'new'],
  ]);
  expect(seen.counts).toMatchObject({ files: 5, write: 7, converted: 2, same: 0 });
  expect(seen.preview?.text.split('\n').slice(0, 4)).toEqual([
    '#EXTM3U',
    '#PLAYLIST:Slipway',
    '#EXTINF:5,Odette Kassar - Eel Grass',
    'Slipway/01 Eel Grass.m4a',
  ]);
  await h.patch(`/sticks/${id}`, { settings: { names: '{{ title' } }).expect(200);
  const refused = (await h.post(`/sticks/${id}/look`).expect(400)).body as { error: { message: string } };
  expect(refused.error.message).toContain('cannot be used');
  await change({ names: '{{ list }}/{{ counter | pad: 2 }} {{ title }}' });
});

test('it is written: the player shows all of it, and what was there stays', async () => {
  const former = await look();
  await change({ m3u8: false });
  // What was looked at is no longer what would be written.
  await h.post(`/sticks/${id}/write`, { token: former.token }).expect(409);
  await change({ m3u8: true });
  const { changeSetId } = await write();
  expect(await writtenBy(changeSetId, 'running')).toMatchObject([{ state: 'running', stickId: id }]);
  expect(await writtenBy(changeSetId, 'done')).toMatchObject([{ state: 'done', stickId: null }]);
  const stick = readStick(home);
  expect(stick.refused).toEqual([]);
  expect(stick.lists.map((l) => [l.file, l.entries.length])).toEqual([
    ['Boathouse.m3u8', 2],
    ['Slipway.m3u8', 3],
  ]);
  expect(readFileSync(join(home, 'Holiday/beach.txt'), 'utf8')).toBe('not ours');
  const eel = join(home, 'Slipway/01 Eel Grass.m4a');
  expect((await probe(eel)).codec).toBe('aac');
  expect(withSource(eel, (bytes) => fieldsIn(openTags(bytes)))).toMatchObject({
    title: ['Eel Grass'],
    artist: ['Odette Kassar'],
  });
  expect(readFileSync(join(home, 'Slipway/02 Lamp Room.mp3'))).toEqual(readFileSync(join(h.music, 'Lamp Room.mp3')));
  const { report, brokenOff, writtenAt } = await line();
  expect(report).toMatchObject({ written: 7, removed: 0, failed: [], stopped: null });
  expect([brokenOff, writtenAt !== null]).toEqual([false, true]);
  expect((await look()).counts).toMatchObject({ write: 0, same: 5 });
  await h.post(`/sticks/${id}/write`, { token: (await look()).token }).expect(409);
});

test('only what changed is written again; undo writes what was there before', async () => {
  const before = Object.fromEntries(there().map((p) => [p, readFileSync(join(home, p)).toString('latin1')]));
  await set(['Signal Box.mp3'], 'artist', ['Lorne & Daughter']);
  const order = (await h.get(`/lists/${lists.Slipway}`).expect(200)).body as { entries: { entryId: number }[] };
  await h.post(`/lists/${lists.Slipway}/entries/remove`, { entryIds: [order.entries[2]!.entryId] }).expect(200);
  const seen = await look(lists.Boathouse!);
  expect(seen.files.map((f) => f.state)).toEqual(['other tags', 'same']);
  expect(seen.removed).toEqual(['Slipway/03 Tin Shed Rain.m4a']);
  // The track, and both lists: one names another artist, the other a track less.
  expect(seen.counts).toMatchObject({ write: 3, converted: 0 });
  const applied = await write();
  expect(there()).not.toContain('Slipway/03 Tin Shed Rain.m4a');
  const tags = withSource(join(home, 'Boathouse/01 Signal Box.mp3'), (bytes) => fieldsIn(openTags(bytes)));
  expect(tags.artist).toEqual(['Lorne & Daughter']);
  expect((await look()).counts.write).toBe(0);

  await finished((await undo(applied)).changeSetId);
  expect(there()).toEqual(Object.keys(before).sort());
  for (const path of ['Slipway/02 Lamp Room.mp3', 'Slipway.m3u8', 'Boathouse.m3u8'])
    expect(readFileSync(join(home, path)).toString('latin1')).toBe(before[path]);
  expect(readStick(home).refused).toEqual([]);
  expect((await look()).counts.write).toBe(3);
  await write();
});

test('verifying finds what is gone or changed there', async () => {
  const verified = async (): Promise<StickVerified> =>
    (await h.post(`/sticks/${id}/verify`).expect(200)).body as StickVerified;
  expect(await verified()).toMatchObject({ checked: 6, wrong: [] });
  const lamp = join(home, 'Slipway/02 Lamp Room.mp3');
  const bytes = readFileSync(lamp);
  bytes[bytes.length - 100]! ^= 0xff;
  writeFileSync(lamp, bytes);
  rmSync(join(home, 'Boathouse.m3u8'));
  expect((await verified()).wrong).toEqual([
    { path: 'Slipway/02 Lamp Room.mp3', reason: 'It does not hold what was written' },
    { path: 'Boathouse.m3u8', reason: 'It is not there any more' },
  ]);
  // Both are written again.
  expect((await look()).counts).toMatchObject({ write: 2 });
  await write();
  expect(await verified()).toMatchObject({ checked: 6, wrong: [] });
});

test('a source that is gone is named; all others are written', async () => {
  await change({ convert: { when: 'always', format: 'mp3', kbps: 320, lufs: null }, names: '{{ title }}' });
  rmSync(join(h.music, 'Eel Grass.flac'));
  await write();
  const { report } = await line();
  expect(report!.failed.map((f) => f.path)).toEqual(['Eel Grass.mp3']);
  expect(report!.failed[0]!.reason).toContain('not there');
  expect(there()).toEqual(['Boathouse.m3u8', 'Holiday/beach.txt', 'Lamp Room.mp3', 'Signal Box.mp3', 'Slipway.m3u8']);
});

test('levelled for the player, with the cover of the library', async () => {
  const picture = (await h.query<{ hash: string }>('SELECT hash FROM arts'))[0];
  expect(picture).toBeUndefined();
  await change({ convert: { when: 'needed', format: 'mp3', kbps: 320, lufs: -23 }, lists: [lists.Boathouse] });
  const seen = await look();
  expect(seen.counts.levelled).toBeGreaterThan(0);
  await write();
  expect(readStick(home).refused).toEqual([]);
  expect(withSource(join(home, 'Lamp Room.mp3'), (bytes) => pictureIn(openTags(bytes)))).toBeNull();
});

test('chosen tracks are converted into a folder', async () => {
  const folder = join(h.folder, 'converted');
  mkdirSync(folder);
  const settings = {
    names: '{{ title }}',
    m3u8: false,
    convert: { when: 'always', format: 'flac', kbps: 256, lufs: null },
  };
  const selection = { ids: [await idOf('Signal Box.mp3'), await idOf('Lamp Room.mp3')] };
  const made = await h.post('/sticks', { folder, player: 'folder', settings, selection }).expect(200);
  const { id: other } = made.body as { id: number };
  const seen = (await h.post(`/sticks/${other}/look`).expect(200)).body as StickAnswer;
  expect(seen.files.map((f) => [f.path, f.how])).toEqual([
    ['Signal Box.flac', 'MP3 to FLAC'],
    ['Lamp Room.flac', 'MP3 to FLAC'],
  ]);
  const applied = (await h.post(`/sticks/${other}/write`, { token: seen.token }).expect(200)).body as Applied;
  await finished(applied.changeSetId);
  expect((await probe(join(folder, 'Signal Box.flac'))).codec).toBe('flac');
  expect(withSource(join(folder, 'Signal Box.flac'), (b) => fieldsIn(openTags(b))).artist).toEqual([
    'Lorne & Daughter',
  ]);
  await h.delete(`/sticks/${other}`).expect(200);
});

test('a list with its files as one zip; what cannot be put in is named', async () => {
  const { body } = await h
    .get(`/lists/${lists.Slipway}/files`)
    .buffer(true)
    .parse((response, done) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => done(null, Buffer.concat(parts)));
    })
    .expect(200);
  const zip = join(h.folder, 'slipway.zip');
  writeFileSync(zip, body as Buffer);
  const inZip = (script: string): string =>
    execFileSync('python3', ['-c', `import sys,zipfile;z=zipfile.ZipFile(sys.argv[1]);${script}`, zip], {
      encoding: 'utf8',
    });
  expect(inZip('print(z.testzip(), *sorted(z.namelist()), sep="\\n")').trim().split('\n')).toEqual([
    'None',
    'Not included.txt',
    'Slipway.m3u8',
    'Slipway/02 Odette Kassar - Lamp Room.mp3',
  ]);
  expect(inZip('print(z.read("Not included.txt").decode())')).toContain('Eel Grass');
  await h.get('/lists/00000000-0000-4000-8000-000000000000/files').expect(404);
});

test('what a killed process had in the making for a zip is gone with the next start', async () => {
  const left = join(h.folder, 'data/arriving/zip-left');
  await h.restart(() => mkdirSync(left, { recursive: true }));
  expect(existsSync(left)).toBe(false);
});

test('taken away, it is neither looked at nor written; taken out, its files stay', async () => {
  const { token } = await look();
  rmSync(home, { recursive: true });
  await h.post(`/sticks/${id}/look`).expect(409);
  await h.post(`/sticks/${id}/write`, { token }).expect(409);
  expect((await line()).trouble).toContain('Nothing is plugged in');
  mkdirSync(home);
  writeFileSync(join(home, 'mine.mp3'), 'x');
  await h.delete(`/sticks/${id}`).expect(200);
  expect((await h.get('/sticks').expect(200)).body).toEqual([]);
  expect(existsSync(join(home, 'mine.mp3'))).toBe(true);
});
