/** A playout system: what it would refuse, items made, an hour played there, what was on air read back. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { AirplayMonth, HoursMade } from '@early-set/core/api/hours';
import type { PlayedRead, StickAnswer } from '@early-set/core/api/stick';
import type { Applied } from '@early-set/core/api/types';
import { inStock, offered, play, take } from '../../standins/turnstone/stock.ts';
import { readWave, type Wave } from '../../standins/turnstone/wave.ts';
import { TURNSTONE } from '@early-set/core/playout/system';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { readPlayed } from './played.ts';
import { stickHands } from '../testing/sticks.ts';

let h: Harness, data: string, id: number, crate: string, hours: string[];
const { set, undo, finished, idOf, scanned } = hands(() => h);
const SOUND = { 'Lamp Room.mp3': 6, 'Eel Grass.flac': 5, 'Tin Shed Rain.wav': 4 } as const;
const NAMES = Object.keys(SOUND);
const FROM = new Date(2026, 11, 1, 19).getTime() / 1000;

const { look, write } = stickHands(
  () => h,
  () => id,
);
const refusedOf = ({ refused }: StickAnswer): string[] =>
  refused.map((r) => `${r.name}: ${r.reason} (${r.mend ?? ''})`).sort();
const playoutId = async (name: string): Promise<string> =>
  String(
    (await h.query<{ n: number }>('SELECT playout_id AS n FROM tracks WHERE id = $1', [await idOf(name)]))[0]!.n,
  ).padStart(6, '0');
const marked = async (name: string, intro: number): Promise<void> =>
  void (await h.query(
    `UPDATE tracks SET audible_start_seconds = 0.1, intro_end_seconds = $2, segue_seconds = duration_seconds - 0.5,
      audible_end_seconds = duration_seconds - 0.1 WHERE id = $1`,
    [await idOf(name), intro],
  ));
const inDrop = (): string[] => readdirSync(join(data, 'drop')).sort();
const read = async (all = false): Promise<PlayedRead> =>
  (await h.post(`/sticks/${id}/played`, { all }).expect(200)).body as PlayedRead;

beforeAll(async () => {
  h = await startHarness({ threads: 2 });
  data = join(h.folder, 'turnstone');
  for (const name of ['drop', 'logs', 'stock']) mkdirSync(join(data, name), { recursive: true });
  writeFileSync(join(data, 'drop/readme.txt'), 'not ours');
  for (const [i, [name, seconds]] of Object.entries(SOUND).entries())
    makeAudio(join(h.music, name), {
      ...{ seconds, hz: 300 + 40 * i },
      tags: { title: name.split('.')[0]!, artist: 'Odette Kassar', genre: 'Dub' },
    });
  await h.takeIn();
  await h.query('UPDATE tracks SET intro_end_seconds = NULL, segue_seconds = NULL');
  crate = (
    (
      await h.post('/lists', {
        ...{ name: 'Night', kind: 'crate', selection: { ids: await Promise.all(NAMES.map(idOf)) } },
      })
    ).body as { listId: string }
  ).listId;
}, 120_000);
afterAll(() => h?.stop());

test('what it would refuse is told of each track, with where it is mended', async () => {
  id = ((await h.post('/sticks', { folder: data, player: 'turnstone' }).expect(200)).body as { id: number }).id;
  await h.patch(`/sticks/${id}`, { settings: { lists: [crate] } }).expect(200);
  await set(['Lamp Room.mp3'], 'artist', null);
  await marked('Eel Grass.flac', 1);
  const seen = await look();
  expect(refusedOf(seen)).toEqual([
    'Lamp Room: It has no artist (Clean)',
    'Lamp Room: It has no intro end (Sound)',
    'Lamp Room: It has no segue point (Sound)',
    'Tin Shed Rain: It has no intro end (Sound)',
    'Tin Shed Rain: It has no segue point (Sound)',
  ]);
  expect(seen.files.map((f) => [f.path, f.title, f.how, f.levelled])).toEqual([
    [`drop/${await playoutId('Eel Grass.flac')}.wav`, 'Eel Grass', 'FLAC to WAV', true],
  ]);
  expect(seen.preview?.text).toContain(`${await playoutId('Eel Grass.flac')}.wav,`);
});

test('what is mended goes there; the system itself refuses nothing and takes all', async () => {
  await set(['Lamp Room.mp3'], 'artist', ['Vesna Rook']);
  for (const name of NAMES) await marked(name, 1);
  expect((await look()).refused).toEqual([]);
  await write();
  expect(inDrop()).toEqual([
    ...(await Promise.all(NAMES.map(playoutId))).map((n) => `${n}.wav`).sort(),
    ...['catalogue.csv', 'readme.txt'],
  ]);
  expect(offered(data)).toMatchObject({ refused: [], items: { length: 3 } });
  expect(take(data).taken).toHaveLength(3);
  expect(await look()).toMatchObject({ counts: { write: 0, same: 3 }, removed: [] });
});

test('a mark and a title that change are written, the rest stays as it is, and undo brings the former back', async () => {
  const [own, other] = await Promise.all(['Lamp Room.mp3', 'Eel Grass.flac'].map(playoutId));
  const stamp = (name: string): number => statSync(join(data, 'drop', `${name}.wav`)).ino;
  const was = [stamp(own!), stamp(other!)];
  await marked('Lamp Room.mp3', 2);
  await set(['Lamp Room.mp3'], 'title', 'Lamp Room (Late)');
  await set(['Lamp Room.mp3'], 'explicit', true);
  const seen = await look();
  expect(seen.files.filter((f) => f.state !== 'same').map((f) => f.state)).toEqual(['other tags']);
  const applied = await write();
  expect([stamp(own!) === was[0], stamp(other!) === was[1]]).toEqual([false, true]);
  const wave = (): Wave => readWave(join(data, 'drop', `${own!}.wav`)) as Wave;
  expect([wave().cart!.title, wave().cart!.timers.INTe]).toEqual(['Lamp Room (Late)', 96_000]);
  expect(take(data)).toEqual({ taken: [own], refused: [] });
  expect(inStock(data).find((r) => r.id === own)).toMatchObject({ explicit: 'yes', title: 'Lamp Room (Late)' });
  const { changeSetId } = await undo(applied);
  await finished(changeSetId);
  expect([wave().cart!.title, wave().cart!.timers.INTe]).toEqual(['Lamp Room', 48_000]);
  expect(readFileSync(join(data, 'drop/catalogue.csv'), 'utf8')).not.toContain('Late');
  await write();
  expect(take(data)).toEqual({ taken: [own], refused: [] });
});

test('an hour goes there as its log, is played, and what was on air comes back once', async () => {
  const items = NAMES.map((_, i) => ({ item: 'track', name: `Slot ${i}` }));
  const clock = {
    version: 1,
    name: 'Short',
    items: [{ item: 'spoken', name: 'News', seconds: 60 }, ...items],
    rules: [],
  };
  const { listId } = (await h.post('/clocks', { clock, times: [] }).expect(200)).body as { listId: string };
  const made = await h.post('/hours', { clockId: listId, from: FROM, hours: 1 }).expect(200);
  hours = (made.body as HoursMade).listIds;
  // The show it belongs to brings it along.
  const show = { name: 'Evening', kind: 'show', day: '2026-12-01', startsAt: '19:00', asks: 'playout', listIds: hours };
  const date = ((await h.post('/dates', show).expect(200)).body as { id: number }).id;
  await h.patch(`/sticks/${id}`, { settings: { lists: [crate], dates: [date] } }).expect(200);
  expect((await look()).lists.map((l) => l.id)).toEqual([...hours, crate]);
  await h.patch(`/sticks/${id}`, { settings: { lists: [crate, ...hours], dates: [] } }).expect(200);
  const seen = await look(hours[0]);
  expect(seen.files).toHaveLength(3);
  expect(seen.preview!.path).toBe('logs/2026-12-01 1900.csv');
  await write();
  expect(play(data, '2026-12-01 1900.csv')).toEqual({ played: 3, refused: [] });
  expect((await look()).played).toEqual({ days: 1, fresh: 1 });
  expect(await read()).toEqual({
    ...{ days: [{ day: '2026-12-01.csv', read: 3, known: 0, matched: 3 }], unmatched: [], failed: [] },
  });
  expect((await look()).played).toEqual({ days: 1, fresh: 0 });
  const month = (await h.get('/airings/2026-12').expect(200)).body as AirplayMonth;
  expect(month.lines.map((l) => [l.title, l.times]).sort()).toEqual([
    ...[
      ['Eel Grass', 1],
      ['Lamp Room (Late)', 1],
      ['Tin Shed Rain', 1],
    ],
  ]);
  expect(await read()).toMatchObject({ days: [] });
  expect(await read(true)).toMatchObject({ days: [{ read: 0, known: 3 }] });
  // A day that grows is read again: what is new of it counts.
  play(data, '2026-12-01 1900.csv');
  writeFileSync(join(data, 'played/2026-11-30.csv'), 'nothing to read\n');
  const again = await read();
  expect([again.days, again.failed.map((f) => f.day)]).toEqual([
    [{ day: '2026-12-01.csv', read: 0, known: 6, matched: 0 }],
    ['2026-11-30.csv'],
  ]);
  // Called off, it ends between two days.
  const { said } = await readPlayed(h.server.changing, data, TURNSTONE, {}, true, (done) => done < 1);
  expect([said.days.length, said.failed.length]).toEqual([0, 1]);
});

test('playout points go into WAV files where they lie; the sound stays, undo brings every byte back', async () => {
  const path = join(h.music, 'Tin Shed Rain.wav');
  const sound = (): string => {
    const args = ['-v', 'error', '-i', path, '-f', 's16le', '-'];
    return createHash('sha256')
      .update(execFileSync('ffmpeg', args, { maxBuffer: 1 << 28 }))
      .digest('hex');
  };
  const [before, heard] = [readFileSync(path), sound()];
  const selection = { where: { all: [] }, except: [] };
  await marked('Lamp Room.mp3', 2);
  expect((await h.post('/playout-points/draft', { selection }).expect(200)).body).toEqual({
    ...{ files: 1, others: 2, lacking: 0, reasons: [] },
  });
  const made = (await h.post('/playout-points/write', { selection }).expect(200)).body as Applied;
  await finished(made.changeSetId);
  const wave = readWave(path) as Wave;
  expect([wave.cart!.id, wave.cart!.title]).toEqual([await playoutId('Tin Shed Rain.wav'), 'Tin Shed Rain']);
  expect(wave.cart!.timers).toEqual({ AUDs: 4410, INTe: 44_100, SEGs: 3.5 * 44_100, AUDe: 3.9 * 44_100 });
  expect([sound(), wave.hertz]).toEqual([heard, 44_100]);
  // Again, there is nothing to write; a point that moved is written in place.
  const size = statSync(path).size;
  await marked('Tin Shed Rain.wav', 1.5);
  await finished(((await h.post('/playout-points/write', { selection }).expect(200)).body as Applied).changeSetId);
  expect([(readWave(path) as Wave).cart!.timers.INTe, statSync(path).size]).toEqual([66_150, size]);
  await h.post('/undo', {}).expect(200);
  await h.until(
    () => Promise.resolve((readWave(path) as Wave).cart!.timers.INTe === 44_100),
    'the former point is back',
  );
  await h.post('/undo', {}).expect(200);
  await h.until(() => Promise.resolve(readFileSync(path).equals(before)), 'every byte is back');
  await h.query('UPDATE tracks SET segue_seconds = NULL WHERE id = $1', [await idOf('Tin Shed Rain.wav')]);
  expect((await h.post('/playout-points/draft', { selection }).expect(200)).body).toMatchObject({
    ...{ files: 0, lacking: 1, reasons: [{ reason: 'It has no segue point', tracks: 1 }] },
  });
  await h.post('/playout-points/write', { selection }).expect(409);
});

test('somebody else has its catalogue there: nothing is planned; a stick plays nothing', async () => {
  const folder = join(h.folder, 'other');
  mkdirSync(join(folder, 'drop'), { recursive: true });
  writeFileSync(join(folder, 'drop/catalogue.csv'), 'path,id\n');
  const made = await h.post('/sticks', { folder, player: 'turnstone', settings: { lists: [crate] } }).expect(200);
  const other = (made.body as { id: number }).id;
  const said = (await h.post(`/sticks/${other}/look`).expect(400)).body as { error: { message: string } };
  expect(said.error.message).toContain('Somebody else keeps the catalogue there');
  await h.delete(`/sticks/${other}`).expect(200);
  mkdirSync(join(h.folder, 'car'));
  const stick = await h.post('/sticks', { folder: join(h.folder, 'car'), player: 'oystercatcher' }).expect(200);
  await h.post(`/sticks/${(stick.body as { id: number }).id}/played`).expect(400);
});

test('IDs are given once: a track that comes after one that went has another', async () => {
  const gone = await playoutId('Tin Shed Rain.wav');
  const removed = await h.post('/tracks/remove', { selection: { ids: [await idOf('Tin Shed Rain.wav')] } }).expect(200);
  makeAudio(join(h.music, 'Later.mp3'), { seconds: 4, hz: 500, tags: { title: 'Later', artist: 'Iri Vane' } });
  const [root] = await h.query<{ id: number }>('SELECT id FROM roots', []);
  await scanned(root!.id);
  expect(Number(await playoutId('Later.mp3'))).toBeGreaterThan(Number(gone));
  await undo(removed.body as Applied);
  expect(await playoutId('Tin Shed Rain.wav')).toBe(gone);
});
