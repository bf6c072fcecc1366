/** Videos are taken in with length and tags, measured by their sound, put into lists and played. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import type { SheetPage } from '@early-set/core/api/types';
import { ffmpeg } from '../testing/ffmpeg.ts';
import { startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const make = (name: string, ...codecs: string[]): void =>
  ffmpeg(
    ...[
      '-f',
      'lavfi',
      '-i',
      'testsrc=size=96x64:rate=10:duration=3',
      '-f',
      'lavfi',
      '-i',
      'sine=frequency=440:duration=3',
    ],
    ...['-metadata', 'title=Slip', '-metadata', 'artist=Brine Choir', '-shortest', ...codecs, join(h.music, name)],
  );

beforeAll(async () => {
  h = await startHarness();
  make('one.mkv', '-c:v', 'mpeg4', '-c:a', 'aac');
  make('two.mp4', '-c:v', 'mpeg4', '-c:a', 'aac');
  make('three.avi', '-c:v', 'mpeg4', '-c:a', 'mp3');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=10:duration=1', '-c:v', 'mpeg4', join(h.music, 'mute.mkv'));
  await h.takeIn(h.music, true);
}, 60_000);
afterAll(() => h?.stop());

test('each is a video, with what its tags say; one without sound is listed with the reason', async () => {
  const where = encodeURIComponent(JSON.stringify({ field: 'kind', test: 'one of', values: ['video'] }));
  const { rows } = (await h.get(`/tracks?where=${where}`).expect(200)).body as SheetPage;
  expect(rows.map((r) => r.values.path).sort()).toEqual(['one.mkv', 'three.avi', 'two.mp4']);
  for (const { id, values } of rows) {
    expect(values).toMatchObject({ title: 'Slip', artist: ['Brine Choir'], analysisState: 'done' });
    expect(values.durationSeconds).toBeCloseTo(3, 0);
    await h.get(`/tracks/${id}/audio`).expect(200);
  }
  const refused = await h.query<{ path: string; reason: string }>('SELECT path, reason FROM not_taken');
  expect(refused).toEqual([{ path: 'mute.mkv', reason: 'There is no sound in this file' }]);
  await h.post('/lists', { kind: 'playlist', name: 'Pictures', selection: { ids: rows.map((r) => r.id) } }).expect(200);
});
