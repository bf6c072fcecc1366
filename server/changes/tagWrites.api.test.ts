/**
 * Changes that reach into files, on a real database with real files: written, refused, cancelled, taken back.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import type { Applied, RunProgress, WritingDraft } from '@early-set/core/api/types';
import { writtenBy } from '@early-set/core/changes/kinds/writeTags';
import { writeTags } from '../files/tagFile.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';

let h: Harness;
const FILES = ['a.mp3', 'b.flac', 'c.m4a', 'd.ogg', 'e.wav', 'f.aiff', 'g.opus'];

beforeAll(async () => {
  // Small, so that forty files are a run.
  h = await startHarness({ maxBytesAtOnce: 320_000 });
  FILES.forEach((name, i) =>
    makeAudio(join(h.music, name), {
      seconds: 1,
      hz: 300 + i * 20,
      tags: { title: `Old ${name}`, artist: 'Brine Choir', genre: 'Dub' },
      args: name.endsWith('aiff') ? ['-write_id3v2', '1'] : [],
    }),
  );
  mkdirSync(join(h.music, 'many'));
  makeAudio(join(h.music, 'many/0.mp3'), { seconds: 1, tags: { title: 'Many', artist: 'Keel Nine' } });
  for (let i = 1; i < 40; i++) copyFileSync(join(h.music, 'many/0.mp3'), join(h.music, `many/${i}.mp3`));
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

const many = Array.from({ length: 40 }, (_, i) => `many/${i}.mp3`);
const { idOf, pathOf, inFile, set, undo, details, unwritten, titleOf, bytesOf, ended } = hands(() => h);

test.each(FILES)('%s: an edit goes into the file and is taken back byte for byte, and made again', async (name) => {
  const before = readFileSync(pathOf(name)),
    { mtimeMs } = statSync(pathOf(name));
  const applied = await set([name], 'title', 'Ebb and Ω');
  expect(applied.files).toEqual({ written: 1, waiting: 0, runId: null });
  expect(inFile(name).title).toEqual(['Ebb and Ω']);
  expect(inFile(name).artist).toEqual(['Brine Choir']);
  expect(await unwritten(name)).toEqual([]);
  const undone = await undo(applied);
  expect(readFileSync(pathOf(name)).equals(before)).toBe(true);
  expect(statSync(pathOf(name)).mtimeMs).toBeCloseTo(mtimeMs, 2);
  const redone = await undo(undone);
  expect(redone.title).toMatch(/^Redo/);
  expect(inFile(name).title).toEqual(['Ebb and Ω']);
  await undo(redone);
  expect(readFileSync(pathOf(name)).equals(before)).toBe(true);
});

test.each(['a.mp3', 'b.flac', 'd.ogg'])(
  '%s: values typed and taken back faster than files are written all arrive, in their order',
  async (name) => {
    const before = readFileSync(pathOf(name));
    const quick = ['One', 'Two', 'Three'].map((title) => set([name], 'title', title));
    for (const applied of await Promise.all(quick))
      expect(applied).toMatchObject({ conflicts: [], files: { written: 1, waiting: 0 } });
    expect(inFile(name).title).toEqual([await titleOf(name)]);
    const undone = await Promise.all(quick.map(async () => (await h.post('/undo', {}).expect(200)).body as Applied));
    expect(undone.flatMap((u) => u.conflicts)).toEqual([]);
    expect(new Set(undone.map((u) => u.changeSetId)).size).toBe(3);
    expect(readFileSync(pathOf(name)).equals(before)).toBe(true);
  },
);

test.each(FILES)('%s: gains, moods and how many tracks there are, as others read them', async (name) => {
  const before = readFileSync(pathOf(name)),
    trackId = await idOf(name);
  const fields = {
    trackGainDb: { before: null, after: -8.6 },
    trackPeak: { before: null, after: 0.944061 },
    moods: { before: null, after: ['dark', 'slow burn'] },
    trackTotal: { before: null, after: 12 },
  };
  const applied = (await h.post('/drafts/fields', { title: 'From steps', edits: [{ trackId, fields }] }).expect(200))
    .body as Applied;
  expect(applied).toMatchObject({ conflicts: [], files: { written: 1 } });
  const { format, streams } = JSON.parse(
    spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', '-show_streams', pathOf(name)], {
      encoding: 'utf8',
    }).stdout,
  ) as { format: { tags?: Record<string, string> }; streams: { tags?: Record<string, string> }[] };
  const seen = Object.fromEntries(
    Object.entries({ ...format.tags, ...streams[0]?.tags }).map(([k, v]) => [k.toLowerCase(), v]),
  );
  if (name === 'g.opus') expect(seen).toMatchObject({ r128_track_gain: String(Math.round((-8.6 - 5) * 256)) });
  // ffprobe passes over the ID3 chunk of a WAV; mutagen is its judge in tagFile.test.
  else if (name !== 'e.wav')
    expect(seen).toMatchObject({ replaygain_track_gain: '-8.60 dB', replaygain_track_peak: '0.944061' });
  expect(inFile(name)).toMatchObject({ trackGainDb: ['-8.6'], moods: ['dark', 'slow burn'], trackTotal: ['12'] });
  expect(await unwritten(name)).toEqual([]);
  await undo(applied);
  expect(readFileSync(pathOf(name)).equals(before)).toBe(true);
});

test('what other programs did to other fields stays; what they did to this one is a conflict, and nothing is lost', async () => {
  writeTags(pathOf('a.mp3'), { fields: { album: ['By another program'] } });
  const fine = await set(['a.mp3'], 'title', 'First');
  expect(inFile('a.mp3')).toMatchObject({ title: ['First'], album: ['By another program'] });
  writeTags(pathOf('a.mp3'), { fields: { title: ['Theirs'] } });
  const applied = await set(['a.mp3'], 'title', 'Second');
  expect(applied.conflicts.map((c) => c.reason)).toEqual(['The file says something else now: Title is “Theirs”']);
  expect(inFile('a.mp3').title).toEqual(['Theirs']);
  expect(await unwritten('a.mp3')).toEqual(['title']);
  // Taking back the first would overwrite theirs: the library goes back, the file is left.
  await undo(applied);
  const undone = await undo(fine);
  expect(undone.conflicts.map((c) => c.reason)).toEqual(['The file says something else now: Title is “Theirs”']);
  expect(inFile('a.mp3').title).toEqual(['Theirs']);
  writeTags(pathOf('a.mp3'), { fields: { title: ['Old a.mp3'], album: [] } });
});

test('missing, read-only and unwritable files are told by name; the rest goes on', async () => {
  const away = join(h.folder, 'away.m4a');
  renameSync(pathOf('c.m4a'), away);
  chmodSync(pathOf('b.flac'), 0o444);
  const broken = readFileSync(pathOf('e.wav'));
  writeFileSync(pathOf('e.wav'), broken.subarray(0, 2000));
  const applied = await set(['b.flac', 'c.m4a', 'd.ogg', 'e.wav'], 'genre', 'House; Dub');
  const lines = (await details(applied.changeSetId)).lines.filter((l) => writtenBy(l.item) !== null);
  expect(lines.map((l) => [l.name, l.state, l.reason])).toEqual([
    ['Old b.flac', 'failed', 'The file is read-only'],
    ['Old c.m4a', 'failed', 'The file c.m4a is not where it was'],
    ['Old d.ogg', 'done', null],
    ['Old e.wav', 'failed', expect.stringMatching(/cut off/)],
  ]);
  expect(inFile('d.ogg').genre).toEqual(['House', 'Dub']);
  renameSync(away, pathOf('c.m4a'));
  chmodSync(pathOf('b.flac'), 0o644);
  writeFileSync(pathOf('e.wav'), broken);
  // What could not be written is counted, and written later.
  const selection = { where: { not: { field: 'unwritten', test: 'empty' } }, except: [await idOf('a.mp3')] };
  const { body: draft } = await h.post('/files/draft', { selection }).expect(200);
  expect((draft as WritingDraft).lines.map((l) => [l.path, l.fields.map((f) => f.field)])).toEqual([
    ['b.flac', ['genre']],
    ['c.m4a', ['genre']],
    ['e.wav', ['genre']],
  ]);
  await h.post('/files/write', { selection }).expect(200);
  for (const name of ['b.flac', 'c.m4a', 'e.wav'])
    expect([name, inFile(name).genre]).toEqual([name, name === 'e.wav' ? expect.anything() : ['House', 'Dub']]);
  expect(await unwritten('b.flac')).toEqual([]);
  await h.post('/files/write', { selection }).expect(409);
});

test('a read-only folder refuses what needs a new file, and takes what fits', async () => {
  chmodSync(h.music, 0o555);
  const long = await set(['d.ogg'], 'comment', 'long '.repeat(2000));
  chmodSync(h.music, 0o755);
  expect(long.conflicts.map((c) => c.reason)).toEqual(['The folder of the file is read-only']);
  expect(inFile('d.ogg').comment).toBeUndefined();
  await undo(long);
});

testOnDrive('a full disk leaves the file as it was', async () => {
  const disk = join(h.music, 'disk');
  mkdirSync(disk);
  mountSmall(disk, '400k');
  try {
    makeAudio(join(disk, 'full.wav'), { seconds: 3, hz: 500, tags: { title: 'Full' } });
    const [root] = await h.query<{ id: number }>('SELECT id FROM roots ORDER BY id LIMIT 1');
    const { body } = await h.post(`/roots/${root!.id}/scan`).expect(200);
    await ended((body as { runId: number }).runId);
    const before = readFileSync(join(disk, 'full.wav'));
    const applied = await set(['disk/full.wav'], 'comment', 'much '.repeat(4000));
    expect(applied.conflicts.map((c) => c.reason)).toEqual(['The disk is full; the file is as it was']);
    expect(readFileSync(join(disk, 'full.wav')).equals(before)).toBe(true);
  } finally {
    unmount(disk);
    rmSync(disk, { recursive: true, force: true });
  }
});

test('library only: the file waits, counted, until it is written', async () => {
  await h.patch('/settings', { editsGoTo: 'library' }).expect(200);
  const applied = await set(['f.aiff'], 'title', 'Only here');
  expect(applied.files).toBeUndefined();
  expect(inFile('f.aiff').title).toEqual(['Old f.aiff']);
  expect(await unwritten('f.aiff')).toEqual(['title']);
  const needs = ((await h.get('/facets')).body as { needs: Record<string, number> }).needs;
  expect(needs.unwritten).toBe(2);
  await h.patch('/settings', { editsGoTo: 'library and files' }).expect(200);
  const { body } = await h.post('/files/write', { selection: { ids: [await idOf('f.aiff')] } }).expect(200);
  expect(inFile('f.aiff').title).toEqual(['Only here']);
  expect(await unwritten('f.aiff')).toEqual([]);
  await undo(body as Applied);
  expect(inFile('f.aiff').title).toEqual(['Old f.aiff']);
});

test('many files are a run; it is taken back as one, or by chosen lines', async () => {
  const before = bytesOf(many);
  const applied = await set(many, 'title', 'All the same');
  expect(applied.files).toMatchObject({ written: 0, waiting: 40 });
  const run = await ended(applied.files!.runId!);
  expect(run).toMatchObject({
    kind: 'writing',
    state: 'done',
    done: 40,
    failed: 0,
    report: { written: 40, left: 0, cancelled: 0, reasons: [] },
  });
  const { lines } = await details(applied.changeSetId),
    first = await idOf(many[0]!);
  const chosen = lines.filter((l) => 'trackId' in l.item && l.item.trackId === first).map((l) => l.seq);
  expect(chosen).toHaveLength(2);
  await undo(applied, chosen);
  expect((await details(applied.changeSetId)).lines.filter((l) => l.undone).map((l) => l.seq)).toEqual(chosen);
  const rest = await undo(applied);
  await ended(rest.files!.runId!);
  bytesOf(many).forEach((bytes, i) => expect([many[i], bytes.equals(before[i]!)]).toEqual([many[i], true]));
  expect((await details(applied.changeSetId)).undoneBy).toBe(rest.changeSetId);
});

/** What failed in a run is tried again, to its end. */
async function retried(runId: number): Promise<RunProgress> {
  const { body } = await h.post(`/runs/${runId}/retry`).expect(200);
  return ended((body as { runId: number }).runId);
}

test('cancel stops between two files; the rest can be tried again, and all of it be taken back', async () => {
  const before = bytesOf(many);
  const applied = await set(many, 'comment', 'x'.repeat(3000));
  await h.post(`/runs/${applied.files!.runId!}/cancel`).expect(200);
  const run = await ended(applied.files!.runId!);
  const { written, cancelled } = (run.report as { written: number; cancelled: number }) ?? {
    written: 0,
    cancelled: 40,
  };
  expect(run.state).toBe('cancelled');
  expect(written + cancelled).toBe(40);
  expect(cancelled).toBeGreaterThan(0);
  expect(many.filter((name) => inFile(name).comment).length).toBe(written);
  // What fails while it is tried again is left for the next time.
  chmodSync(pathOf(many[39]!), 0o444);
  const again = await retried(applied.files!.runId!);
  expect(again).toMatchObject({ state: 'done', failed: 1 });
  expect(many.filter((name) => inFile(name).comment).length).toBe(39);
  chmodSync(pathOf(many[39]!), 0o644);
  expect(await retried(again.id)).toMatchObject({ state: 'done', done: 40, failed: 0 });
  expect(many.filter((name) => inFile(name).comment).length).toBe(40);
  const undone = await undo(applied);
  if (undone.files?.runId) await ended(undone.files.runId);
  bytesOf(many).forEach((bytes, i) => expect([many[i], bytes.equals(before[i]!)]).toEqual([many[i], true]));
});

test('what was cancelled and then undone is not written after all by trying again', async () => {
  const applied = await set(many, 'comment', 'y'.repeat(3000));
  const runId = applied.files!.runId!;
  await h.post(`/runs/${runId}/cancel`).expect(200);
  await ended(runId);
  const undone = await undo(applied);
  if (undone.files?.runId) await ended(undone.files.runId);
  await h.post(`/runs/${runId}/retry`).expect(409);
  expect(many.filter((name) => inFile(name).comment)).toEqual([]);
});

test('two tabs at once on the same field: both are made, one after the other; the later one stands, both can be taken back', async () => {
  const was = await titleOf('g.opus');
  const made = await Promise.all(['One', 'Two'].map((title) => set(['g.opus'], 'title', title)));
  expect(made.flatMap((m) => m.conflicts)).toEqual([]);
  const [first, second] = made.sort((a, b) => a.changeSetId - b.changeSetId);
  expect(inFile('g.opus').title).toEqual([await titleOf('g.opus')]);
  await undo(second!);
  await undo(first!);
  expect([await titleOf('g.opus'), inFile('g.opus').title]).toEqual([was, [was]]);
});

test('tags changed in place by another program are noticed though size and time are the same', async () => {
  const name = 'many/7.mp3',
    { mtime, size } = statSync(pathOf(name));
  writeTags(pathOf(name), { fields: { genre: ['Musique'] } });
  writeTags(pathOf(name), { fields: { genre: ['Electro'] } });
  utimesSync(pathOf(name), mtime, mtime);
  const [root] = await h.query<{ id: number }>('SELECT id FROM roots ORDER BY id LIMIT 1');
  const scan = async (): Promise<{ changed: number; differs: number }> =>
    (await ended(((await h.post(`/roots/${root!.id}/scan`).expect(200)).body as { runId: number }).runId)).report as {
      changed: number;
      differs: number;
    };
  await scan();
  await set([name], 'genre', 'Typed');
  await h.query('UPDATE track_files SET size = $2 WHERE path = $1', [name, statSync(pathOf(name)).size]);
  writeTags(pathOf(name), { fields: { genre: ['Other'], label: ['Tarn'] } });
  if (statSync(pathOf(name)).size === size) expect(statSync(pathOf(name)).mtimeMs).toBeCloseTo(mtime.getTime(), 1);
  // Typed stays, the gap is filled, the difference is counted.
  expect(await scan()).toMatchObject({ changed: 1, differs: 1 });
  const [row] = await h.query<{ genre: string[]; label: string }>('SELECT genre, label FROM tracks WHERE path = $1', [
    name,
  ]);
  expect(row).toEqual({ genre: ['Typed'], label: 'Tarn' });
  expect(await unwritten(name)).toEqual(['genre']);
  await h.patch('/settings', { changedFiles: 'replace' });
  writeTags(pathOf(name), { fields: { genre: ['Again'] } });
  expect(await scan()).toMatchObject({ changed: 1, differs: 0 });
  expect((await h.query<{ genre: string[] }>('SELECT genre FROM tracks WHERE path = $1', [name]))[0]!.genre).toEqual([
    'Again',
  ]);
  await h.patch('/settings', { changedFiles: 'fill gaps' });
});

test('random edits, taken back in reverse, leave every file as it was', async () => {
  const names = ['a.mp3', 'b.flac', 'c.m4a', 'd.ogg', 'f.aiff'];
  // Tags that have room already, so that taking back is in place or restores the very bytes either way.
  const before = bytesOf(names),
    values = await h.query(
      'SELECT path, title, artist, genre, year, comment, unwritten FROM tracks WHERE path = ANY($1) ORDER BY path',
      [names],
    );
  let seed = 20_261_124;
  const random = (n: number): number => {
    seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0;
    return (seed >>> 8) % n;
  };
  const made: Applied[] = [];
  for (let i = 0; i < 25; i++) {
    const field = ['title', 'artist', 'genre', 'year', 'comment'][random(5)]!;
    const chosen = names.filter(() => random(2) === 0);
    const value = field === 'year' ? 1950 + random(70) : 'Väriä 日本 '.repeat(1 + random(30)).slice(0, 1 + random(200));
    const answer = await h.post('/fields', {
      selection: { ids: await Promise.all(chosen.map(idOf)) },
      field,
      value: random(6) === 0 ? null : value,
    });
    if (answer.status === 200) made.push(answer.body as Applied);
  }
  expect(made.length).toBeGreaterThan(12);
  for (const applied of made.reverse()) expect((await undo(applied)).conflicts).toEqual([]);
  bytesOf(names).forEach((bytes, i) => expect([names[i], bytes.equals(before[i]!)]).toEqual([names[i], true]));
  expect(
    await h.query(
      'SELECT path, title, artist, genre, year, comment, unwritten FROM tracks WHERE path = ANY($1) ORDER BY path',
      [names],
    ),
  ).toEqual(values);
});

test('the past of a track is found by its name', async () => {
  const found = (await h.get('/changes?search=Old%20b.flac&area=files')).body as { files: number }[];
  expect(found.length).toBeGreaterThan(0);
  expect((await h.get('/changes?search=nothing%20of%20the%20kind')).body).toEqual([]);
});
