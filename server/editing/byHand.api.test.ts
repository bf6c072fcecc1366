/** Editing by hand, completeness, presets and drafts made on the page, on real files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Excel from 'exceljs';
import request from 'supertest';
import sharp from 'sharp';
import type {
  Applied,
  Completeness,
  Facets,
  Overview,
  SharedValue,
  SheetRow,
  TrackDetails,
} from '@early-set/core/api/types';
import { newStep } from '@early-set/core/clean/steps';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let desk: Harness;
const ids: Record<string, number> = {};
const details = async (name: string): Promise<TrackDetails> =>
  (await desk.get(`/tracks/${ids[name]}`)).body as TrackDetails;
const all = { where: { all: [] }, except: [] };
const picture = (side: number, format: 'jpeg' | 'webp' = 'jpeg'): Promise<Buffer> =>
  sharp({ create: { width: side, height: side, channels: 3, background: '#1f6f5c' } })
    [format]()
    .toBuffer();
const send = (data: Buffer, name: string): request.Test =>
  request(desk.server.address).post('/api/pictures').attach('file', data, name);

beforeAll(async () => {
  desk = await startHarness();
  makeAudio(join(desk.music, 'A/one.mp3'), {
    tags: { title: 'One', artist: 'Brine Choir', genre: 'House', album: 'Two of a Kind', date: '2014' },
  });
  makeAudio(join(desk.music, 'A/two.flac'), {
    tags: { title: 'Two', artist: 'Brine Choir;Vesna Rook', genre: 'Deep House', album: 'Two of a Kind', date: '2014' },
  });
  makeAudio(join(desk.music, 'B/three.m4a'), { tags: { title: '=SUM(1)', artist: 'Corazón' } });
  await desk.takeIn(desk.music, false);
  for (const row of await desk.query<{ id: number; path: string }>('SELECT id, path FROM tracks'))
    ids[row.path.split('/').at(-1)!.replace(/\..*/, '')] = row.id;
});
afterAll(() => desk.stop());

test('type-ahead offers what begins so first, one value of several at a time', async () => {
  expect((await desk.get('/values?field=genre&text=ho')).body).toEqual([
    ['House', 1],
    ['Deep House', 1],
  ]);
  expect((await desk.get('/values?field=artist&text=vesna')).body).toEqual([['Vesna Rook', 1]]);
  expect((await desk.get('/values?field=artist&text=Brine')).body).toEqual([['Brine Choir', 2]]);
  expect((await desk.get('/values?field=title&text=%25')).body).toEqual([]);
  expect((await desk.get('/values?field=bpm&text=1')).body).toEqual([]);
  await desk.get('/values?field=nothing').expect(400);
  // Each of several artists is found and counted by itself.
  expect(((await desk.get('/facets')).body as Facets).lists.artist).toEqual(
    expect.arrayContaining([
      { value: 'Vesna Rook', count: 1 },
      { value: 'Brine Choir', count: 2 },
    ]),
  );
});

test('what many share, and how many different values there are', async () => {
  const { tracks, fields } = (await desk.post('/fields/shared', { selection: all }).expect(200)).body as {
    tracks: number;
    fields: Record<string, SharedValue>;
  };
  expect(tracks).toBe(3);
  expect(fields.genre).toEqual({ same: false, value: null, different: 3 }); // two, and none
  expect(fields.notes).toEqual({ same: true, value: null, different: 0 });
  const two = (await desk.post('/fields/shared', { selection: { ids: [ids.one, ids.two] } })).body as {
    fields: Record<string, SharedValue>;
  };
  expect(two.fields.album).toEqual({ same: true, value: 'Two of a Kind', different: 1 });
});

test('a field copied into another on many tracks, into the files, and taken back', async () => {
  const applied = (
    await desk
      .post('/fields/copy', { selection: { ids: [ids.one, ids.two] }, from: 'artist', to: 'albumArtist', over: false })
      .expect(200)
  ).body as Applied;
  expect((await details('two')).values.albumArtist).toBe('Brine Choir, Vesna Rook');
  const tags = spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', join(desk.music, 'A/one.mp3')], {
    encoding: 'utf8',
  }).stdout;
  expect(tags).toContain('"album_artist": "Brine Choir"');
  await desk
    .post('/fields/copy', { selection: { ids: [ids.one, ids.two] }, from: 'artist', to: 'albumArtist', over: false })
    .expect(409);
  await desk.post(`/changes/${applied.changeSetId}/undo`).expect(200);
  expect((await details('one')).values.albumArtist).toBeNull();
});

test('pictures: made sane, given to many, in the files, from the folder, exported, taken out, undone', async () => {
  const large = (await send(await picture(3000, 'webp'), 'large.webp').expect(200)).body as {
    hash: string;
    width: number;
  };
  expect(large.width).toBe(1200);
  const small = (await send(await picture(300), 'small.jpg').expect(200)).body as { hash: string; width: number };
  expect(small.width).toBe(300);
  expect(
    ((await send(Buffer.from('no picture'), 'x.jpg').expect(415)).body as { error: { message: string } }).error.message,
  ).toBe('x.jpg is no whole JPEG, PNG, WebP or GIF of a size that can be used');
  const applied = (await desk.post('/pictures/set', { selection: all, hash: small.hash }).expect(200)).body as Applied;
  for (const name of ['A/one.mp3', 'A/two.flac', 'B/three.m4a'])
    expect(
      spawnSync(
        'ffprobe',
        ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0', join(desk.music, name)],
        { encoding: 'utf8' },
      ).stdout,
    ).toContain('mjpeg');
  await desk.post('/pictures/set', { selection: all, hash: small.hash }).expect(409);
  const original = await desk.get(`/art/${small.hash}/original`).expect(200);
  expect(original.headers['content-disposition']).toContain('cover.jpg');
  expect(Buffer.from(original.body as Buffer).equals(await picture(300))).toBe(true);
  await desk.post(`/changes/${applied.changeSetId}/undo`).expect(200);
  expect((await details('one')).artHash).toBeNull();
  await desk.post('/pictures/folder', { trackId: ids.one }).expect(404);
  mkdirSync(join(desk.music, 'A'), { recursive: true });
  writeFileSync(join(desk.music, 'A/inside.png'), await picture(900));
  writeFileSync(join(desk.music, 'A/cover.jpg'), await picture(200));
  expect(((await desk.post('/pictures/folder', { trackId: ids.one }).expect(200)).body as { name: string }).name).toBe(
    'cover.jpg',
  );
  await desk.post('/pictures/set', { selection: all, hash: 'f'.repeat(40) }).expect(404);
});

test('a draft made on the page: a value that has changed since is a conflict and not overwritten', async () => {
  const edit = (name: string, field: string, before: unknown, after: unknown) => ({
    trackId: ids[name],
    fields: { [field]: { before, after } },
  });
  await desk
    .post('/fields', { selection: { ids: [ids.one] }, field: 'title', value: 'One, by somebody else' })
    .expect(200);
  const applied = (
    await desk
      .post('/drafts/fields', {
        title: 'Clean',
        edits: [edit('one', 'title', 'One', 'ONE'), edit('two', 'title', 'Two', 'TWO')],
      })
      .expect(200)
  ).body as Applied;
  expect(applied.conflicts.map((c) => c.reason)).toEqual(['The field has changed since']);
  expect([(await details('one')).values.title, (await details('two')).values.title]).toEqual([
    'One, by somebody else',
    'TWO',
  ]);
  await desk.post('/drafts/fields', { title: 'x', edits: [edit('one', 'year', 2014, 'not a year')] }).expect(400);
  await desk.post('/drafts/fields', { title: 'x', edits: [edit('one', 'path', '', 'elsewhere')] }).expect(400);
});

test('presets are kept, changed, removed; what is none is refused', async () => {
  const steps = [newStep('marks', 'a')];
  const kept = (await desk.post('/presets', { name: 'Mine', steps }).expect(200)).body as { id: number };
  await desk
    .patch(`/presets/${kept.id}`, { name: 'Mine too', steps: [...steps, newStep('capitals', 'b')] })
    .expect(200);
  expect((await desk.get('/presets')).body).toMatchObject([
    { name: 'Mine too', steps: [{ kind: 'marks' }, { kind: 'capitals' }] },
  ]);
  await desk.post('/presets', { name: 'x', steps: [{ kind: 'burn' }] }).expect(400);
  await request(desk.server.address).delete(`/api/presets/${kept.id}`).expect(200);
  await request(desk.server.address).delete(`/api/presets/${kept.id}`).expect(404);
  expect((await desk.get('/clean/folders')).body).toEqual([
    { ref: { rootId: 1, path: '' }, root: 'music', tracks: 3 },
    { ref: { rootId: 1, path: 'A' }, root: 'music', tracks: 2 },
    { ref: { rootId: 1, path: 'B' }, root: 'music', tracks: 1 },
  ]);
  expect(
    (
      await desk.post('/clean/tracks', {
        selection: { where: { field: 'path', test: 'begins', text: 'B/' }, except: [] },
      })
    ).body,
  ).toMatchObject({ total: 1, tracks: [{ id: ids.three, locked: [] }] });
});

test('completeness by field, folder, album and list; the rules are settings, and stages and needs count by them', async () => {
  const of = async (by: string): Promise<Completeness> =>
    (await desk.post('/completeness', { selection: all, by }).expect(200)).body as Completeness;
  const folders = await of('folder');
  expect(folders.all).toMatchObject({ tracks: 3, filled: { title: 3, genre: 2, album: 2 } });
  expect(folders.groups.map((g) => [g.name, g.tracks, g.filled.year])).toEqual([
    ['A', 2, 2],
    ['B', 1, 0],
  ]);
  expect((await of('album')).groups.map((g) => [g.name, g.tracks])).toEqual([['Two of a Kind', 2]]);
  await desk.post('/lists', { kind: 'crate', name: 'Floor', selection: { ids: [ids.three] } }).expect(200);
  expect((await of('list')).groups).toMatchObject([
    { name: 'Floor', tracks: 1, condition: { inLists: [expect.any(String)] } },
  ]);
  const overview = async (): Promise<Overview> => (await desk.get('/overview')).body as Overview;
  expect((await overview()).stages.clean.count).toBe(1);
  await desk.patch('/settings', { gapRules: { floor: ['title'], playout: ['title', 'notes'] } }).expect(200);
  expect((await overview()).stages.clean.count).toBe(3);
  const needs = async (): Promise<Record<string, number>> => ((await desk.get('/facets')).body as Facets).needs;
  await desk.until(async () => (await needs()).playout === 3, 'the pictures count by the new rules');
  expect(await needs()).toMatchObject({ gaps: 3, floor: 0, playout: 3 });
  expect((await of('none')).all).toMatchObject({ floor: 3, playout: 0 });
  await desk.patch('/settings', { gapRules: { floor: [], playout: ['title'] } }).expect(400);
});

test('one line per file with all fields, as CSV and as a spreadsheet', async () => {
  const buffer = (r: request.Test): request.Test =>
    r.buffer(true).parse((res, done) => {
      const chunks: Buffer[] = [];
      res.on('data', (c: Buffer) => chunks.push(c));
      res.on('end', () => done(null, Buffer.concat(chunks)));
    });
  const csv = (
    (await buffer(desk.post('/completeness/export', { selection: all, format: 'csv' })).expect(200)).body as Buffer
  ).toString('utf8');
  const lines = csv.trim().split('\n');
  expect(lines[0]).toContain('Title,Version,Artist');
  expect(lines).toHaveLength(4);
  expect(csv).toContain("'=SUM(1)"); // a spreadsheet shall not work it out
  const book = new Excel.Workbook();
  await book.xlsx.load(
    (await buffer(desk.post('/completeness/export', { selection: all, format: 'xlsx' })).expect(200)).body as never,
  );
  const files = book.getWorksheet('Files')!;
  expect(files.rowCount).toBe(4);
  expect(files.getColumn(1).values.slice(2)).toEqual(expect.arrayContaining(['TWO', '=SUM(1)']));
  expect(book.getWorksheet('How much is filled')!.getRow(2).values).toEqual([undefined, 'Title', 3, 3, 1]);
});

test('rows of given tracks come in the order asked for', async () => {
  const rows = (await desk.post('/tracks/rows', { ids: [ids.three, 999_999, ids.one] }).expect(200)).body as SheetRow[];
  expect(rows.map((r) => r.id)).toEqual([ids.three, ids.one]);
});
