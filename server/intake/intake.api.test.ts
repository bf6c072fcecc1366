import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import {
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import type { RootLine, RunProgress, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const sheet = async (where: object = { all: [] }): Promise<SheetPage> =>
  (await h.get(`/tracks?sort=path&where=${encodeURIComponent(JSON.stringify(where))}`).expect(200)).body as SheetPage;
const scan = async (): Promise<RunProgress> => {
  const { body } = await h.post(`/roots/${rootId}/scan`).expect(200);
  let run: RunProgress | undefined;
  await h.until(async () => {
    run = ((await h.get('/runs')).body as RunProgress[]).find((r) => r.id === (body as { runId: number }).runId);
    return run?.state === 'done';
  }, 'the scan ends');
  return run!;
};

beforeAll(async () => {
  h = await startHarness();
  const at = (name: string): string => join(h.music, name);
  makeAudio(at('House/Keel Nine - Lamp Room.mp3'), {
    seconds: 6,
    tags: {
      title: 'Lamp Room',
      artist: 'Keel Nine; Vesna Rook',
      genre: 'House',
      date: '2021-05-01',
      TBPM: '121',
      TKEY: 'F#m',
      track: '3/12',
      comment: 'long intro',
    },
  });
  makeAudio(at('Slow/sal.flac'), { tags: { title: 'Corazón de Sal', artist: 'Sol Marisma' } });
  makeAudio(at('Slow/tide.opus'), { tags: { title: 'Tide', artist: 'Ada Thole' } });
  makeAudio(at('bare.wav'));
  makeAudio(at('stick.aiff'));
  makeAudio(at('phone.m4a'), { tags: { title: 'Phone' } });
  writeFileSync(at('empty.mp3'), '');
  writeFileSync(at('noise.mp3'), Buffer.alloc(5000, 7));
  writeFileSync(at('notes.txt'), 'not music');
  writeFileSync(at('pack.zip'), 'PK');
  symlinkSync('/etc/hostname', at('away.mp3'));
  rootId = await h.takeIn();
});
afterAll(() => h?.stop());

describe('taking a folder in', () => {
  test('music is there with its tags, measured', async () => {
    const page = await sheet();
    expect(page.rows.map((r) => r.values.path)).toEqual([
      'House/Keel Nine - Lamp Room.mp3',
      'Slow/sal.flac',
      'Slow/tide.opus',
      'bare.wav',
      'phone.m4a',
      'stick.aiff',
    ]);
    const lamp = page.rows[0]!.values;
    expect(lamp).toMatchObject({
      title: 'Lamp Room',
      artist: ['Keel Nine', 'Vesna Rook'],
      genre: ['House'],
      year: 2021,
      trackNumber: 3,
      comment: 'long intro',
      format: 'MP3',
      sampleRate: 44100,
      fileState: 'here',
      analysisState: 'done',
    });
    expect(lamp.lufs).toBeCloseTo(-18 - 3.01 + 0, -1);
    expect(page.rows.map((r) => r.values.format)).toEqual(['MP3', 'FLAC', 'Opus', 'WAV', 'M4A', 'AIFF']);
  });
  test('values know where they come from; measuring wins over tags where it found something', async () => {
    const { rows } = await sheet({ test: 'words', text: 'lamp' });
    const track = (await h.get(`/tracks/${rows[0]!.id}`).expect(200)).body as TrackDetails;
    expect(track.origins.title?.origin).toBe('file tag');
    expect(track.origins.lufs?.origin).toBe('analysis');
    // A plain tone has no beat, so the tag's tempo stands.
    expect(track.origins.bpm?.origin).toBe('file tag');
    expect(track.values.bpm).toBe(121);
  });
  test('what was not taken is listed with the reason', async () => {
    const { body } = await h.get(`/roots/${rootId}/not-taken`).expect(200);
    expect(Object.fromEntries((body as { path: string; code: string }[]).map((r) => [r.path, r.code]))).toEqual({
      'away.mp3': 'link',
      'empty.mp3': 'empty',
      'noise.mp3': 'broken',
      'notes.txt': 'not-music',
      'pack.zip': 'not-music',
    });
  });
  test('finding is accent- and case-blind, words in any field', async () => {
    expect((await sheet({ test: 'words', text: 'CORAZON marisma' })).total).toBe(1);
    expect((await sheet({ test: 'words', text: 'corazon thole' })).total).toBe(0);
  });
  test('the waveform and the sound can be had', async () => {
    const { rows } = await sheet();
    const waveform = await h.get(`/tracks/${rows[0]!.id}/waveform`).expect(200);
    expect((waveform.body as Buffer).length).toBeGreaterThan(6 * 50 * 3 - 10);
    const mp3 = await h.get(`/tracks/${rows[0]!.id}/audio`).set('Range', 'bytes=0-99').expect(206);
    expect(mp3.headers['content-range']).toMatch(/^bytes 0-99\/\d+$/);
  });
  test('what browsers do not play comes as WAV with exact ranges', async () => {
    const aiff = (await sheet()).rows.find((r) => r.values.format === 'AIFF')!;
    const whole = (
      await h
        .get(`/tracks/${aiff.id}/audio`)
        .buffer(true)
        .parse((res, done) => {
          const parts: Buffer[] = [];
          res.on('data', (c: Buffer) => parts.push(c));
          res.on('end', () => done(null, Buffer.concat(parts)));
        })
        .expect(200)
    ).body as Buffer;
    expect(whole.subarray(0, 4).toString()).toBe('RIFF');
    expect(whole.length).toBe(44 + 3 * 44100 * 4);
    const part = (
      await h
        .get(`/tracks/${aiff.id}/audio`)
        .set('Range', 'bytes=200001-200099')
        .buffer(true)
        .parse((res, done) => {
          const parts: Buffer[] = [];
          res.on('data', (c: Buffer) => parts.push(c));
          res.on('end', () => done(null, Buffer.concat(parts)));
        })
        .expect(206)
    ).body as Buffer;
    expect(part.equals(whole.subarray(200001, 200100))).toBe(true);
    await h.get(`/tracks/${aiff.id}/audio`).set('Range', 'bytes=99999999-').expect(416);
  });
});

describe('scanning again', () => {
  test('finds new, changed and vanished files, and doubles nothing', async () => {
    makeAudio(join(h.music, 'new one.ogg'), { tags: { title: 'New' } });
    makeAudio(join(h.music, 'Slow/sal.flac'), {
      seconds: 4,
      tags: { title: 'Corazón de Sal', artist: 'Sol Marisma', genre: 'Dembow' },
    });
    utimesSync(join(h.music, 'Slow/sal.flac'), new Date(), new Date(Date.now() + 5000));
    renameSync(join(h.music, 'bare.wav'), join(h.folder, 'bare.wav'));
    const run = await scan();
    expect(run.report).toMatchObject({ taken: 1, changed: 1, missing: 1, returned: 0, notTaken: 5 });
    const { rows, total } = await sheet();
    expect(total).toBe(7);
    expect(rows.find((r) => r.values.path === 'bare.wav')!.values.fileState).toBe('missing');
    expect(rows.find((r) => r.values.path === 'Slow/sal.flac')!.values.genre).toEqual(['Dembow']);
  });
  test('a file that comes back is found again', async () => {
    renameSync(join(h.folder, 'bare.wav'), join(h.music, 'bare.wav'));
    expect((await scan()).report).toMatchObject({ taken: 0, returned: 1, missing: 0 });
  });
  test('what was typed survives a changed file', async () => {
    const { rows } = await sheet({ test: 'words', text: 'phone' });
    await h.post('/fields', { selection: { ids: [rows[0]!.id] }, field: 'title', value: 'Typed title' }).expect(200);
    makeAudio(join(h.music, 'phone.m4a'), { seconds: 5, tags: { title: 'Other title', album: 'New album' } });
    await scan();
    expect((await sheet({ test: 'words', text: 'phone.m4a' })).rows[0]!.values).toMatchObject({
      title: 'Typed title',
      album: 'New album',
    });
  });
  test('a folder that cannot be read marks nothing as missing', async () => {
    renameSync(h.music, `${h.music}-away`);
    const { body } = await h.post(`/roots/${rootId}/scan`).expect(200);
    await h.until(
      async () =>
        ((await h.get('/runs')).body as RunProgress[]).find((r) => r.id === (body as { runId: number }).runId)
          ?.state === 'failed',
      'the scan fails',
    );
    renameSync(`${h.music}-away`, h.music);
    expect(((await h.get('/roots')).body as RootLine[])[0]!.missing).toBe(0);
  });
});

describe('dropped files', () => {
  const send = (content: Buffer | string, path: string): request.Test =>
    request(h.server.address)
      .post(`/api/roots/${rootId}/files`)
      .field('path', path)
      .attach('file', Buffer.from(content), 'x');
  test('arrive in a folder of their own, and never over another', async () => {
    for (const expected of ['Dropped here/a/ü b.mp3', 'Dropped here/a/ü b (2).mp3'])
      expect((await send('sound', 'a/ü b.mp3').expect(200)).body).toEqual({ path: expected });
    expect(statSync(join(h.music, 'Dropped here/a/ü b (2).mp3')).size).toBe(5);
  });
  test.each(['../../../etc/x.mp3', '..\\..\\x.mp3', 'C:\\Windows\\x.mp3', '/etc/x.mp3', `${'d/'.repeat(50)}x.mp3`])(
    '%s stays inside',
    async (path) => {
      const { body } = await send('sound', path).expect(200);
      expect((body as { path: string }).path).toMatch(/^Dropped here\//);
      expect(statSync(join(h.music, (body as { path: string }).path)).size).toBe(5);
    },
  );
  test('what is not music, empty, or not a file is refused with a sentence', async () => {
    expect((await send('x', 'virus.exe').expect(415)).body).toMatchObject({ error: { code: 'not-music' } });
    expect((await send('', 'silent.mp3').expect(400)).body).toMatchObject({ error: { code: 'empty' } });
    await h.post(`/roots/${rootId}/files`, { path: 'a.mp3' }).expect(400);
    await request(h.server.address)
      .post('/api/roots/999/files')
      .field('path', 'a.mp3')
      .attach('file', Buffer.from('x'), 'x')
      .expect(404);
  });
  test('one whose bytes are here already is refused, with where it lies, and not copied', async () => {
    await scan();
    const [{ path }] = (await h.query<{ path: string }>(
      "SELECT path FROM tracks WHERE file_state = 'here' AND file_size > 5 ORDER BY id LIMIT 1",
    )) as [{ path: string }];
    const before = readdirSync(h.music, { recursive: true });
    const { body } = await send(readFileSync(join(h.music, path)), 'again.mp3').expect(409);
    expect(body).toMatchObject({
      error: { code: 'here-already', message: `again.mp3 is here already, as ${path}; it was not copied` },
    });
    expect(readdirSync(h.music, { recursive: true })).toEqual(before);
  });
  test('nothing of a refused one is left behind', async () => {
    await send('x', 'virus.exe').expect(415);
    const arriving = readdirSync(h.folder, { recursive: true, encoding: 'utf8' }).filter((p) => /arriving\/./.test(p));
    expect(arriving).toEqual([]);
  });
  test('a link that leads out of the folder is not followed', async () => {
    rmSync(join(h.music, 'Dropped here'), { recursive: true });
    mkdirSync(join(h.folder, 'outside'));
    symlinkSync(join(h.folder, 'outside'), join(h.music, 'Dropped here'));
    expect((await send('sound', 'a.mp3').expect(403)).body).toMatchObject({ error: { code: 'outside-roots' } });
    rmSync(join(h.music, 'Dropped here'));
  });
});

describe('places and folders', () => {
  test('only allowed places can be looked into or taken in', async () => {
    await h.get(`/places/browse?path=${encodeURIComponent(h.folder)}`).expect(200);
    for (const path of ['/etc', '/', `${h.folder}/../../etc`, '/proc/self']) {
      expect((await h.get(`/places/browse?path=${encodeURIComponent(path)}`)).status).toBe(403);
      expect((await h.post('/roots', { path })).status).toBe(403);
    }
    expect((await h.get(`/places/browse?path=${encodeURIComponent('/etc\0')}`)).status).toBe(403);
  });
  test('no folder is taken in twice, nor one inside another', async () => {
    expect((await h.post('/roots', { path: h.music }).expect(409)).body).toMatchObject({
      error: { code: 'root-exists' },
    });
    expect((await h.post('/roots', { path: join(h.music, 'House') }).expect(409)).body).toMatchObject({
      error: { code: 'root-exists' },
    });
  });
});

test('what could not be read is counted for the scan that tried, and read once more when it is tried again', async () => {
  writeFileSync(join(h.music, 'torn.flac'), `fLaC${'?'.repeat(4000)}`);
  const torn = await scan();
  expect(torn).toMatchObject({ failed: 1, total: torn.done + 1, canRetry: true });
  // Nobody has touched it since: it is passed over, and nothing fails.
  expect(await scan()).toMatchObject({ failed: 0, canRetry: false });
  const { body } = await h.post(`/runs/${torn.id}/retry`).expect(200);
  const { runId } = body as { runId: number };
  const again = async (): Promise<RunProgress> =>
    ((await h.get('/runs')).body as RunProgress[]).find((r) => r.id === runId)!;
  await h.until(async () => (await again()).finishedAt !== null, 'it is tried again');
  // With the one that was broken from the beginning.
  expect(await again()).toMatchObject({ title: `${torn.title}, again`, failed: 2, total: 2 });
});
