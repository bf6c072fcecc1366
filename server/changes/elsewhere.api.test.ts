/**
 * Files put elsewhere by changes: to another drive, copied, quarantined; killed at every step; never waited for by
 * edits.
 */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ListContents, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { inverse } from '@early-set/core/changes/items';
import { QUARANTINE, relocateFile, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { buildKiller, die } from '../testing/die.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';
import type { WorkStep } from './context.ts';

let h: Harness;
let music: number, stick: number;
let stickFolder: string;
/** Where a test holds up work on files. */
let hold: ((step: WorkStep) => Promise<void> | void) | null = null;
const { idOf, set, undo, details, scanned } = hands(() => h);
const NAMES = ['a', 'b', 'c', 'd', 'e'];

beforeAll(async () => {
  await buildKiller();
  h = await startHarness({ step: (step) => hold?.(step) });
  stickFolder = join(h.folder, 'stick');
  mkdirSync(stickFolder);
  // Another drive, where one can be had; else another folder, which is then moved to by another name only.
  mountSmall(stickFolder, '40m');
  NAMES.forEach((name, i) =>
    makeAudio(join(h.music, `In/${name}.mp3`), {
      seconds: 2,
      hz: 300 + i * 30,
      tags: { title: `Track ${name}`, artist: 'Brine Choir' },
    }),
  );
  makeAudio(join(h.music, 'In/long.wav'), { seconds: 100, hz: 200, tags: { title: 'Long' } });
  makeAudio(join(stickFolder, 'In/a.mp3'), { seconds: 1, hz: 700, tags: { title: 'Other a', artist: 'Keel Nine' } });
  makeAudio(join(stickFolder, 'In/z.mp3'), { seconds: 1, hz: 720, tags: { title: 'Other z', artist: 'Keel Nine' } });
  makeAudio(join(stickFolder, 'In/y.mp3'), { seconds: 1, hz: 740, tags: { title: 'Other y', artist: 'Keel Nine' } });
  music = await h.takeIn(h.music, false);
  stick = await h.takeIn(stickFolder, false);
});
afterAll(async () => {
  unmount(stickFolder);
  await h?.stop();
});

const relocate = async (...wishes: object[]): Promise<Applied> =>
  (await h.post('/files/relocate', { wishes }).expect(200)).body as Applied;
const at = (root: number, path: string): string => join(root === music ? h.music : stickFolder, path);
const placeOf = async (trackId: number): Promise<[number, string, string]> => {
  const [row] = await h.query<{ root_id: number; path: string; file_state: string }>(
    'SELECT root_id, path, file_state FROM tracks WHERE id = $1',
    [trackId],
  );
  return [row!.root_id, row!.path, row!.file_state];
};
const inRoot = async (root: number, path: string): Promise<number> =>
  (await h.query<{ id: number }>('SELECT id FROM tracks WHERE root_id = $1 AND path = $2', [root, path]))[0]!.id;

describe('to another drive', () => {
  test('the track goes with its file, lists and search follow, and it comes back byte for byte', async () => {
    const id = await inRoot(music, 'In/b.mp3'),
      bytes = readFileSync(at(music, 'In/b.mp3'));
    const { listId } = (
      await h.post('/lists', { kind: 'playlist', name: 'Night', selection: { ids: [id] } }).expect(200)
    ).body as { listId: string };
    const applied = await relocate({ trackId: id, mode: 'move', to: { rootId: stick, path: 'New/Late/b.mp3' } });
    expect(applied).toMatchObject({ conflicts: [], files: { written: 1, waiting: 0 } });
    expect(await placeOf(id)).toEqual([stick, 'New/Late/b.mp3', 'here']);
    expect([existsSync(at(music, 'In/b.mp3')), readFileSync(at(stick, 'New/Late/b.mp3')).equals(bytes)]).toEqual([
      false,
      true,
    ]);
    const { entries } = (await h.get(`/lists/${listId}`)).body as ListContents;
    expect(entries[0]).toMatchObject({ id, rootId: stick, values: { path: 'New/Late/b.mp3' } });
    const { values } = (await h.get(`/tracks/${id}`)).body as TrackDetails;
    expect(values).toMatchObject({ path: 'New/Late/b.mp3', root: 'stick', folder: 'New/Late' });
    const found = (
      await h.get(
        `/tracks?where=${encodeURIComponent(JSON.stringify({ inFolder: { rootId: stick, path: 'New' }, below: true }))}`,
      )
    ).body as SheetPage;
    expect(found.rows.map((r) => r.id)).toEqual([id]);
    expect((await scanned(stick)).report).toMatchObject({ taken: 0, missing: 0 });
    await undo(applied);
    expect(await placeOf(id)).toEqual([music, 'In/b.mp3', 'here']);
    expect([readFileSync(at(music, 'In/b.mp3')).equals(bytes), existsSync(at(stick, 'New/Late/b.mp3'))]).toEqual([
      true,
      false,
    ]);
  });

  test('a place that another file of that root has is left; an equal folder of the other root is none of its business', async () => {
    const id = await inRoot(music, 'In/c.mp3');
    const { body } = await h
      .post('/files/relocate', { wishes: [{ trackId: id, mode: 'move', to: { rootId: stick, path: 'In/a.mp3' } }] })
      .expect(409);
    expect(body).toMatchObject({ error: { message: 'Nothing was changed: another track has this place already' } });
    const fine = await relocate({ trackId: id, mode: 'move', to: { rootId: stick, path: 'In/c.mp3' } });
    expect(fine.conflicts).toEqual([]);
    await undo(fine);
  });

  testOnDrive('there is not enough space: told, and the file stays', async () => {
    const big = await inRoot(music, 'In/long.wav');
    await h.query('UPDATE track_files SET size = 90000000000 WHERE track_id = $1', [big]);
    const applied = await relocate({ trackId: big, mode: 'move', to: { rootId: stick, path: 'long.wav' } });
    if (applied.files?.runId)
      await h.until(async () => (await details(applied.changeSetId)).waiting === 0, 'it has been tried');
    expect((await details(applied.changeSetId)).lines[0]).toMatchObject({
      state: 'conflict',
      reason: 'There is not enough space on the drive',
    });
    await h.query('UPDATE track_files SET size = $2 WHERE track_id = $1', [
      big,
      statSync(at(music, 'In/long.wav')).size,
    ]);
  });
});

test('copies, quarantine and restoring, each taken back; a scan takes none of them for new', async () => {
  const id = await inRoot(music, 'In/d.mp3');
  const files = () =>
    h.query<{ role: string; state: string; path: string }>(
      'SELECT role, state, path FROM track_files WHERE track_id = $1 ORDER BY role',
      [id],
    );
  const copied = await relocate({ trackId: id, mode: 'copy', to: { rootId: stick, path: 'Copies/d.mp3' } });
  expect((await files()).map((f) => [f.role, f.state])).toEqual([
    ['copy', 'here'],
    ['main', 'here'],
  ]);
  expect((await scanned(stick)).report).toMatchObject({ taken: 0 });
  const uncopied = await undo(copied);
  expect(existsSync(at(stick, 'Copies/d.mp3'))).toBe(false);
  expect((await files())[0]!.path).toContain(`${QUARANTINE}/`);
  await undo(uncopied);
  expect(existsSync(at(stick, 'Copies/d.mp3'))).toBe(true);
  const retired = await relocate({ trackId: id, mode: 'retire' });
  expect(await placeOf(id)).toEqual([music, expect.stringContaining(QUARANTINE), 'retired']);
  expect(existsSync(at(music, 'In/d.mp3'))).toBe(false);
  expect((await scanned(music)).report).toMatchObject({ taken: 0, missing: 0 });
  const restored = await relocate({ trackId: id, mode: 'restore' });
  expect(await placeOf(id)).toEqual([music, 'In/d.mp3', 'here']);
  await undo(restored);
  await undo(retired);
  expect(await placeOf(id)).toEqual([music, 'In/d.mp3', 'here']);
  expect(readdirSync(h.music)).toEqual(['In']);
});

test('a ring of names: each file ends where the other was', async () => {
  const [a, b] = [await inRoot(music, 'In/a.mp3'), await inRoot(music, 'In/b.mp3')];
  const bytes = [readFileSync(at(music, 'In/a.mp3')), readFileSync(at(music, 'In/b.mp3'))];
  const applied = await relocate(
    { trackId: a, mode: 'move', to: { rootId: music, path: 'In/b.mp3' } },
    { trackId: b, mode: 'move', to: { rootId: music, path: 'In/a.mp3' } },
  );
  expect(applied.conflicts).toEqual([]);
  expect([await placeOf(a), await placeOf(b)].map((p) => p[1])).toEqual(['In/b.mp3', 'In/a.mp3']);
  expect(readFileSync(at(music, 'In/b.mp3')).equals(bytes[0]!)).toBe(true);
  await undo(applied);
  expect(readFileSync(at(music, 'In/a.mp3')).equals(bytes[0]!)).toBe(true);
  expect(readFileSync(at(music, 'In/b.mp3')).equals(bytes[1]!)).toBe(true);
});

testOnDrive(
  'an edit of the library does not wait for a copy that is under way, and one of the same file comes after it',
  async () => {
    const long = await inRoot(music, 'In/long.wav'),
      other = await inRoot(music, 'In/e.mp3');
    let halfway = (): void => undefined,
      letGo = (): void => undefined;
    const reached = new Promise<void>((resolve) => (halfway = resolve)),
      latch = new Promise<void>((resolve) => (letGo = resolve));
    hold = (step) => {
      if (step !== 'half') return;
      halfway();
      return latch;
    };
    const copying = relocate({ trackId: long, mode: 'copy', to: { rootId: stick, path: 'long.wav' } });
    await reached;
    hold = null;
    // The library's part of both is there at once; so is a lock, a list, and the undo of it.
    await h.patch('/settings', { editsGoTo: 'library' }).expect(200);
    const edited = (
      await h
        .post('/fields', { selection: { ids: [long, other] }, field: 'notes', value: 'while it copies' })
        .expect(200)
    ).body as Applied;
    expect(edited.done).toBe(2);
    await h.post('/undo').expect(200);
    expect(await h.query('SELECT notes FROM tracks WHERE id = $1', [long])).toEqual([{ notes: null }]);
    await h.patch('/settings', { editsGoTo: 'library and files' }).expect(200);
    const tagged = h
      .post('/fields', { selection: { ids: [long] }, field: 'title', value: 'Longer' })
      .expect(200)
      .then((r) => r.body as Applied);
    await h.until(
      async () => (await h.query("SELECT 1 FROM tracks WHERE id = $1 AND title = 'Longer'", [long])).length === 1,
      'the library says so',
    );
    expect(existsSync(at(stick, 'long.wav'))).toBe(false);
    letGo();
    expect((await copying).files).toMatchObject({ written: 1 });
    expect((await tagged).conflicts).toEqual([]);
    expect(existsSync(at(stick, 'long.wav'))).toBe(true);
  },
);

describe('killed', () => {
  /** A change set of one move that nobody has begun; of its undo when it takes another back. */
  async function waiting(item: RelocateFile, takesBack: number | null = null): Promise<number> {
    const [made] = await h.query<{ id: number }>(
      'INSERT INTO change_sets (title, done, conflicts, undo_of) VALUES ($1, 0, 0, $2) RETURNING id',
      ['Killed', takesBack],
    );
    await h.query(
      `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id, restores_set, restores_seq)
        VALUES ($1, 0, $2, 'waiting', 'files', $3, $4, $5)`,
      [made!.id, JSON.stringify(item), item.trackId, takesBack, takesBack === null ? null : 0],
    );
    return made!.id;
  }
  const steps: WorkStep[] = [
    'claimed',
    'prepared',
    'journalled',
    'reserved',
    'half',
    'copied',
    'compared',
    'named',
    'source removed',
    'written',
    'settled',
  ];
  testOnDrive.each(steps)(
    'moving to another drive at the step "%s", and its undo: the next start finishes both',
    async (step) => {
      const id = await idOf('In/e.mp3'),
        bytes = readFileSync(at(music, 'In/e.mp3'));
      const [file] = await h.query<{ id: string }>("SELECT id FROM track_files WHERE track_id = $1 AND role = 'main'", [
        id,
      ]);
      const move = relocateFile(
        'move',
        { trackId: id, fileId: file!.id },
        { rootId: music, path: 'In/e.mp3' },
        { rootId: stick, path: `Killed/${step}.mp3` },
      );
      const there = await waiting(move);
      die(h, there, step, id);
      await h.restart();
      await h.until(async () => (await details(there)).waiting === 0, 'it is finished');
      expect((await details(there)).lines.map((l) => [l.state, l.reason])).toEqual([['done', null]]);
      expect(await placeOf(id)).toEqual([stick, `Killed/${step}.mp3`, 'here']);
      expect([existsSync(at(music, 'In/e.mp3')), readFileSync(at(stick, `Killed/${step}.mp3`)).equals(bytes)]).toEqual([
        false,
        true,
      ]);
      const back = await waiting(inverse(move), there);
      die(h, back, step, id);
      await h.restart();
      await h.until(async () => (await details(back)).waiting === 0, 'its undo is finished');
      expect(await placeOf(id)).toEqual([music, 'In/e.mp3', 'here']);
      expect([existsSync(at(stick, `Killed/${step}.mp3`)), readFileSync(at(music, 'In/e.mp3')).equals(bytes)]).toEqual([
        false,
        true,
      ]);
      expect((await details(there)).undoneBy).toBe(back);
    },
  );
});

describe('tracks', () => {
  test('are taken out with lists and history, not taken in again by a scan, and come back whole', async () => {
    const id = await inRoot(music, 'In/c.mp3');
    const { listId } = (
      await h
        .post('/lists', {
          kind: 'playlist',
          name: 'Kept',
          selection: { ids: [await inRoot(music, 'In/a.mp3'), id, await inRoot(music, 'In/b.mp3')] },
        })
        .expect(200)
    ).body as { listId: string };
    await set(['In/c.mp3'], 'notes', 'by hand');
    const all = () =>
      h.query(
        `SELECT to_jsonb(t) - 'file_changed_ms' AS track, o.origins FROM tracks t
          JOIN track_origins o ON o.track_id = t.id WHERE t.id = $1`,
        [id],
      );
    const before = await all();
    const applied = (await h.post('/tracks/remove', { selection: { ids: [id] } }).expect(200)).body as Applied;
    expect(await all()).toEqual([]);
    expect(existsSync(at(music, 'In/c.mp3'))).toBe(true);
    const names = async () =>
      ((await h.get(`/lists/${listId}`)).body as ListContents).entries.map((e) => e.values.path);
    expect(await names()).toEqual(['In/a.mp3', 'In/b.mp3']);
    utimesSync(at(music, 'In/c.mp3'), new Date(), new Date());
    expect((await scanned(music)).report).toMatchObject({ taken: 0 });
    expect(await h.query("SELECT path FROM tracks WHERE file_state = 'missing'")).toEqual([]);
    expect((await details(applied.changeSetId)).lines[0]).toMatchObject({ name: 'Track c' });
    await undo(applied);
    expect(await all()).toEqual(before);
    expect(await names()).toEqual(['In/a.mp3', 'In/c.mp3', 'In/b.mp3']);
    expect((await scanned(music)).report).toMatchObject({ taken: 0, missing: 0 });
    expect((await h.get(`/tracks/${id}`).expect(200)).body).toMatchObject({ values: { notes: 'by hand' } });
  });

  test('two become one: lists and what was set by hand are kept, and it is taken back', async () => {
    const [first, second] = [await inRoot(music, 'In/a.mp3'), await inRoot(stick, 'In/a.mp3')];
    await h
      .post('/fields', { selection: { ids: [second] }, field: 'cues', value: [{ at: 0.5, name: 'in' }] })
      .expect(200);
    const make = async (kind: string, ids: number[]): Promise<string> =>
      ((await h.post('/lists', { kind, name: kind, selection: { ids } }).expect(200)).body as { listId: string })
        .listId;
    const crate = await make('crate', [first, second]),
      playlist = await make('playlist', [second, first]);
    const ids = async (list: string) => ((await h.get(`/lists/${list}`)).body as ListContents).entries.map((e) => e.id);
    const applied = (await h.post('/tracks/merge', { trackId: first, otherId: second }).expect(200)).body as Applied;
    expect(applied.conflicts).toEqual([]);
    expect([await ids(crate), await ids(playlist)]).toEqual([[first], [first, first]]);
    expect(await h.query('SELECT cues IS NOT NULL AS cues FROM tracks WHERE id = $1', [first])).toEqual([
      { cues: true },
    ]);
    expect(await h.query('SELECT role FROM track_files WHERE track_id = $1 ORDER BY role', [first])).toEqual([
      { role: 'copy' },
      { role: 'main' },
    ]);
    await undo(applied);
    expect([await ids(crate), await ids(playlist)]).toEqual([
      [first, second],
      [second, first],
    ]);
    expect(await placeOf(second)).toEqual([stick, 'In/a.mp3', 'here']);
    expect(await h.query('SELECT cues FROM tracks WHERE id = $1', [first])).toEqual([{ cues: null }]);
  });
});
