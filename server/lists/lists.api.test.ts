import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type {
  Applied,
  ChangeSetDetails,
  ChangeSetLine,
  ExportedList,
  ListContents,
  ListLine,
  MatchedList,
  SheetPage,
  TrackDetails,
} from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
let ids: number[];
const titles = async (listId: string): Promise<unknown[]> =>
  ((await h.get(`/lists/${listId}`).expect(200)).body as ListContents).entries.map((e) => e.values.title);
const make = async (
  name: string,
  kind: 'crate' | 'playlist',
  trackIds: number[] = [],
  parentId: string | null = null,
): Promise<string> =>
  (
    (await h.post('/lists', { kind, name, parentId, selection: { ids: trackIds } }).expect(200)).body as {
      listId: string;
    }
  ).listId;
const undo = async (redo = false): Promise<Applied> => (await h.post('/undo', { redo }).expect(200)).body as Applied;

beforeAll(async () => {
  h = await startHarness();
  for (const [i, title] of ['A', 'B', 'C', 'D', 'E'].entries())
    makeAudio(join(h.music, `${title} song.mp3`), {
      seconds: 1 + i,
      tags: { title, artist: 'Pell & Harrow', genre: 'House' },
    });
  rootId = await h.takeIn(h.music, false);
  ids = ((await h.get('/tracks?sort=title')).body as SheetPage).rows.map((r) => r.id);
});
afterAll(() => h?.stop());

describe('lists', () => {
  test('are made, filled, reordered, emptied; a track can be twice in a playlist, once in a crate', async () => {
    const list = await make('Night', 'playlist', ids.slice(0, 3));
    await h.post(`/lists/${list}/entries`, { selection: { ids: [ids[0]] } }).expect(200);
    expect(await titles(list)).toEqual(['A', 'B', 'C', 'A']);
    await h.post(`/lists/${list}/entries`, { selection: { ids: [ids[1]] }, index: 0, once: true }).expect(409, {
      error: { code: 'nothing-to-do', message: 'The track is in this playlist already' },
    });
    expect(await titles(list)).toEqual(['A', 'B', 'C', 'A']);
    const { entries } = (await h.get(`/lists/${list}`)).body as ListContents;
    await h
      .post(`/lists/${list}/entries/move`, { entryIds: [entries[3]!.entryId, entries[1]!.entryId], behind: null })
      .expect(200);
    expect(await titles(list)).toEqual(['B', 'A', 'A', 'C']);
    await h.post(`/lists/${list}/entries/remove`, { entryIds: [entries[0]!.entryId] }).expect(200);
    expect(await titles(list)).toEqual(['B', 'A', 'C']);
    const crate = await make('Crate', 'crate', [ids[0]!, ids[0]!, ids[1]!]);
    expect(await titles(crate)).toEqual(['A', 'B']);
    expect((await h.post(`/lists/${crate}/entries`, { selection: { ids: [ids[0]] } }).expect(409)).body).toMatchObject({
      error: { message: 'The track is in this crate already' },
    });
  });
  test('crates hold crates and playlists, but not themselves; playlists hold no lists', async () => {
    const outer = await make('Outer', 'crate'),
      inner = await make('Inner', 'crate', [], outer);
    expect((await h.patch(`/lists/${outer}`, { parentId: inner }).expect(400)).body).toMatchObject({
      error: { code: 'bad-parent' },
    });
    const night = await make('x', 'playlist', [], outer);
    await h.post('/lists', { kind: 'playlist', name: 'y', parentId: night }).expect(400);
    await h.patch(`/lists/${inner}`, { parentId: null }).expect(200);
  });
  test('removing keeps everything for bringing back', async () => {
    const list = await make('Put away', 'playlist', ids);
    await h.patch(`/lists/${list}`, { removed: true }).expect(200);
    expect(((await h.get('/lists')).body as ListLine[]).find((l) => l.id === list)).toMatchObject({
      removed: true,
      tracks: 5,
    });
    await h.patch(`/lists/${list}`, { removed: false }).expect(200);
    expect(await titles(list)).toEqual(['A', 'B', 'C', 'D', 'E']);
  });
  test('moves asked for faster than they are made all happen, and are taken back one by one', async () => {
    const list = await make('Hurried', 'playlist', ids);
    const { entries } = (await h.get(`/lists/${list}`)).body as ListContents;
    const to = (i: number, behind: number | null): Promise<unknown> =>
      h
        .post(`/lists/${list}/entries/move`, {
          entryIds: [entries[i]!.entryId],
          behind: behind === null ? null : entries[behind]!.entryId,
        })
        .expect(200)
        .then((r) => r.body);
    const moved = (await Promise.all([to(4, null), to(3, 4), to(0, 2)])) as Applied[];
    expect(moved.flatMap((m) => m.conflicts)).toEqual([]);
    expect(await titles(list)).toEqual(['E', 'D', 'B', 'C', 'A']);
    await Promise.all([undo(), undo(), undo()]);
    expect(await titles(list)).toEqual(['A', 'B', 'C', 'D', 'E']);
  });
  test('two tabs at once lose nothing', async () => {
    const list = await make('Shared', 'playlist');
    await Promise.all(
      Array.from({ length: 12 }, (_, i) =>
        h.post(`/lists/${list}/entries`, { selection: { ids: [ids[i % 5]] } }).expect(200),
      ),
    );
    const contents = (await h.get(`/lists/${list}`)).body as ListContents;
    expect(contents.entries).toHaveLength(12);
    const positions = await h.query<{ position: number }>(
      'SELECT position FROM list_entries WHERE list_id = $1 ORDER BY position',
      [list],
    );
    expect(positions.map((p) => p.position)).toEqual(Array.from({ length: 12 }, (_, i) => i));
  });
  test('everything that matches goes in at once, in the order of the sheet', async () => {
    const { body } = await h
      .post('/lists', {
        kind: 'playlist',
        name: 'All',
        selection: { where: { field: 'genre', test: 'one of', values: ['House'] }, except: [ids[1]] },
        sort: 'title',
        descending: true,
      })
      .expect(200);
    expect(await titles((body as { listId: string }).listId)).toEqual(['E', 'D', 'C', 'A']);
  });
});

describe('taking back', () => {
  test('undo and redo walk through everything, also after a restart', async () => {
    const list = await make('History', 'playlist', ids.slice(0, 2));
    await h.patch(`/lists/${list}`, { name: 'Renamed' }).expect(200);
    const { entries } = (await h.get(`/lists/${list}`)).body as ListContents;
    await h.post(`/lists/${list}/entries/remove`, { entryIds: [entries[0]!.entryId] }).expect(200);
    await h.restart();
    await undo();
    expect(await titles(list)).toEqual(['A', 'B']);
    await undo();
    expect(((await h.get(`/lists/${list}`)).body as ListContents).info.name).toBe('History');
    await undo(true);
    await undo(true);
    expect(await titles(list)).toEqual(['B']);
    expect(((await h.get(`/lists/${list}`)).body as ListContents).info.name).toBe('Renamed');
    expect((await h.post('/undo', { redo: true })).status).toBe(409);
  });
  test('a field that changed since is a conflict, not overwritten', async () => {
    const first = (
      await h.post('/fields', { selection: { ids: [ids[4]] }, field: 'title', value: 'First' }).expect(200)
    ).body as Applied;
    await h.post('/fields', { selection: { ids: [ids[4]] }, field: 'title', value: 'Second' }).expect(200);
    expect((await h.post(`/changes/${first.changeSetId}/undo`).expect(409)).body).toMatchObject({
      error: { code: 'conflict', message: 'Nothing was changed: the field has changed since' },
    });
    await undo();
    await undo();
    expect(((await h.get(`/tracks/${ids[4]}`)).body as TrackDetails).values.title).toBe('E');
    expect(((await h.get(`/tracks/${ids[4]}`)).body as TrackDetails).origins.title?.origin).toBe('file tag');
  });
  test('a locked field is left alone until it is unlocked', async () => {
    const edit = { selection: { ids: ids.slice(0, 2) }, field: 'genre', value: 'Soul' };
    await h.post('/locks', { selection: { ids: [ids[0]] }, field: 'genre', locked: true }).expect(200);
    expect((await h.post('/fields', edit).expect(200)).body).toMatchObject({ done: 1, locked: 1 });
    expect((await h.post('/fields', { ...edit, selection: { ids: [ids[0]] } }).expect(409)).body).toMatchObject({
      error: { code: 'locked' },
    });
  });
  test('the Changes list says what was done, line by line', async () => {
    const [latest] = (await h.get('/changes?limit=1')).body as ChangeSetLine[];
    expect(latest).toMatchObject({ title: 'Genre on one track', done: 2, conflicts: 0 });
    const details = (await h.get(`/changes/${latest!.id}`)).body as ChangeSetDetails;
    expect(details.lines[0]).toMatchObject({
      state: 'done',
      name: 'B',
      item: { kind: 'set-field', before: { value: ['House'] }, after: { value: ['Soul'], origin: 'typed' } },
    });
  });
});

describe('export', () => {
  const wish = { format: 'm3u8', paths: 'absolute', line: '{{ artist }} - {{ title }}', rootId: null };
  test.each(['m3u8', 'xspf'] as const)(
    '%s written into the folder; the M3U8 plays in ffmpeg in order',
    async (format) => {
      const list = await make(`Out: ${format}?`, 'playlist', [ids[2]!, ids[0]!]);
      const first = (await h.post(`/lists/${list}/write`, { ...wish, format, paths: 'relative', rootId }).expect(200))
        .body as { path: string };
      const second = (await h.post(`/lists/${list}/write`, { ...wish, format, paths: 'relative', rootId }).expect(200))
        .body as { path: string };
      expect(second.path).not.toBe(first.path);
      const text = readFileSync(first.path, 'utf8');
      if (format === 'xspf') {
        expect(text).toContain('<location>C%20song.mp3</location>');
        return;
      }
      expect(text).toBe(
        '#EXTM3U\n#PLAYLIST:Out: m3u8?\n#EXTINF:3,Pell & Harrow - C\nC song.mp3\n#EXTINF:1,Pell & Harrow - A\nA song.mp3\n',
      );
      // The lines as ffmpeg's list of files: the same paths, in the same order, decoded to the end.
      const concat = join(h.folder, 'list.ffconcat');
      writeFileSync(
        concat,
        `ffconcat version 1.0\n${text
          .split('\n')
          .filter((l) => l && !l.startsWith('#'))
          .map((l) => `file '${join(h.music, l)}'`)
          .join('\n')}\n`,
      );
      const played = spawnSync(
        'ffmpeg',
        ['-v', 'error', '-f', 'concat', '-safe', '0', '-i', concat, '-f', 's16le', '-ac', '1', '-ar', '8000', 'pipe:1'],
        { maxBuffer: 1 << 26 },
      );
      expect(played.stderr.toString()).toBe('');
      expect(Math.abs(played.stdout.length / 16000 - 4)).toBeLessThan(0.3);
    },
  );
  test('are put in order as a whole, in one change that is undone as one', async () => {
    const list = await make('Order', 'playlist', ids);
    const { entries } = (await h.get(`/lists/${list}`)).body as ListContents;
    const [a, b, c] = entries.map((e) => e.entryId);
    const sorted = { entryIds: [c, a, b, 'f0000000-0000-4000-8000-00000000dead'], by: 'smoothing' };
    const done = (await h.post(`/lists/${list}/entries/order`, sorted).expect(200)).body as Applied;
    expect(done).toMatchObject({ title: 'Smooth the order of "Order"', conflicts: [] });
    expect(await titles(list)).toEqual(['C', 'A', 'B', 'D', 'E']);
    expect((await h.post(`/lists/${list}/entries/order`, sorted).expect(409)).body).toMatchObject({
      error: { message: 'The list is in this order already' },
    });
    await undo();
    expect(await titles(list)).toEqual(['A', 'B', 'C', 'D', 'E']);
    await h.post(`/lists/${list}/entries/order`, { ...sorted, by: 'chance' }).expect(400);
  });
  test('entries are pinned and let go, several at once; a wished shape is kept; all of it undone', async () => {
    const list = await make('Shape', 'playlist', ids.slice(0, 3));
    const now = async (): Promise<ListContents> => (await h.get(`/lists/${list}`)).body as ListContents;
    const entryIds = (await now()).entries.slice(0, 2).map((e) => e.entryId);
    const pins = async (): Promise<unknown[]> => (await now()).entries.map((e) => e.data.pinned);
    const pinned = (await h.post(`/lists/${list}/entries/pin`, { entryIds, pinned: true }).expect(200)).body as Applied;
    expect(pinned.title).toBe('Pin 2 entries in "Shape"');
    expect(await pins()).toEqual([true, true, undefined]);
    await h.post(`/lists/${list}/entries/pin`, { entryIds: entryIds.slice(1), pinned: false }).expect(200);
    expect(await pins()).toEqual([true, undefined, undefined]);
    const shaped = (await h.patch(`/lists/${list}`, { shape: 'two waves' }).expect(200)).body as Applied;
    expect(shaped.title).toBe('Wished shape of "Shape": two waves');
    expect((await now()).info.shape).toBe('two waves');
    await h.patch(`/lists/${list}`, { shape: '0 20, 0.5 80, 1 30' }).expect(200);
    for (const bad of ['rise', '0 20', '0 20, 1 200', '']) await h.patch(`/lists/${list}`, { shape: bad }).expect(400);
    for (const shape of ['two waves', null]) {
      await undo();
      expect((await now()).info.shape).toBe(shape);
    }
    await undo();
    await undo();
    expect(await pins()).toEqual([undefined, undefined, undefined]);
    const copy = (await h.post(`/lists/${list}/duplicate`).expect(200)).body as { listId: string };
    expect(((await h.get(`/lists/${copy.listId}`)).body as ListContents).info.shape).toBeNull();
  });
  test('a pasted list is matched, and made a playlist with open slots, which undo takes away', async () => {
    const text = 'Pell & Harrow - B\nPell and Harow - D\nNobody - Not here (2:05)\n';
    const matched = (await h.post('/lists/match', { text, ending: 'txt' }).expect(200)).body as MatchedList;
    expect(matched.lines.map((l) => [l.sure, l.candidates[0]?.id ?? null, l.entry.seconds])).toEqual([
      [true, ids[1], null],
      [expect.any(Boolean), ids[3], null],
      [false, null, 125],
    ]);
    expect(matched.lines[0]!.candidates[0]!.name).toBe('Pell & Harrow - B');
    const entries = [{ trackId: ids[1] }, { trackId: ids[3] }, { text: 'Nobody - Not here', seconds: 125 }];
    const made = (await h.post('/lists/filled', { name: 'From a friend', entries }).expect(200)).body as Applied & {
      listId: string;
    };
    const list = (await h.get(`/lists/${made.listId}`)).body as ListContents;
    expect(list.entries.map((e) => [e.kind, e.id || e.data.text, e.data.seconds ?? null])).toEqual([
      ['track', ids[1], null],
      ['track', ids[3], null],
      ['open slot', 'Nobody - Not here', 125],
    ]);
    await undo();
    await h.get(`/lists/${made.listId}`).expect(404);
    expect((await h.post('/lists/match', { text: ' \n', ending: 'txt' }).expect(400)).body).toMatchObject({
      error: { code: 'no-entries' },
    });
    const many = { text: 'A - B\n'.repeat(1001), ending: 'txt' };
    expect((await h.post('/lists/match', many).expect(413)).body).toMatchObject({ error: { code: 'too-many' } });
    await h.post('/lists/filled', { name: 'Gone', entries: [{ trackId: 999_999 }] }).expect(404);
    await h.post('/lists/filled', { name: ' ', entries }).expect(400);
  });
  test.each([
    ['xspf', '<location>file:///'],
    ['pls', '[playlist]\nFile1=/'],
    ['jspf', '"playlist"'],
    ['csv', 'Artist,Title,Album,Seconds,Path'],
    ['tsv', 'Artist\tTitle'],
    ['cue', 'TRACK 01 AUDIO'],
    ['txt', 'Pell & Harrow - A\n'],
    ['html', '<!doctype html>'],
  ])('are exported as %s', async (format, beginning) => {
    const list = await make(`As ${format}`, 'playlist', ids.slice(0, 1));
    const asked = { format, paths: 'absolute', rootId };
    const { fileName, text } = (await h.post(`/lists/${list}/export`, asked).expect(200)).body as ExportedList;
    expect(fileName).toBe(`As ${format}.${format}`);
    expect(text).toContain(beginning);
  });
  test('a bad template is refused with a sentence, and a preview shows what would come', async () => {
    const list = await make('Preview', 'playlist', ids.slice(0, 1));
    expect(
      (await h.post(`/lists/${list}/export`, { ...wish, line: '{{ x | nosuch }}' }).expect(400)).body,
    ).toMatchObject({ error: { code: 'bad-template' } });
    expect((await h.post(`/lists/${list}/export`, wish).expect(200)).body as ExportedList).toMatchObject({
      fileName: 'Preview.m3u8',
      tracks: 1,
      missing: [],
    });
  });
});
