/** Lyrics from the file to the page and back, and finding in one field. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import type { Condition } from '@early-set/core/conditions/condition';
import { fold } from '@early-set/core/fields/fold';
import type { SheetPage, TrackDetails } from '@early-set/core/api/types';
import { writeTags } from '../files/tagFile.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const { idOf, inFile, set, undo } = hands(() => h);
const LYRICS = `Haul away\n${'and again the tide, '.repeat(30)}\nÉbb`;

beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'sung.mp3'), { seconds: 1, tags: { title: 'Rope', artist: 'Brine Choir' } });
  makeAudio(join(h.music, 'haul.flac'), { seconds: 1, tags: { title: 'Haul', artist: 'Keel Nine' } });
  writeTags(join(h.music, 'sung.mp3'), {
    fields: { lyrics: [LYRICS], grouping: ['Shanties'], originalYear: ['1998'] },
  });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

const found = async (where: Condition): Promise<string[]> => {
  const { rows } = (await h.get(`/tracks?where=${encodeURIComponent(JSON.stringify(where))}&sort=title`).expect(200))
    .body as SheetPage;
  return rows.map((r) => String(r.values.title));
};

test('what files say is taken in; lists show how long texts begin, details all of them', async () => {
  const id = await idOf('sung.mp3');
  const { values } = (await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails;
  expect(values).toMatchObject({ lyrics: LYRICS, grouping: 'Shanties', originalYear: 1998 });
  const { rows } = (await h.get('/tracks?sort=title&descending=true').expect(200)).body as SheetPage;
  expect(rows[0]!.values.lyrics).toBe(LYRICS.slice(0, 200));
});

test('each letter and digit finds what holds it anywhere', async () => {
  const rows = await h.query<{ title: string; words: string }>(
    'SELECT title, search_text AS words FROM tracks ORDER BY title',
  );
  expect(rows).toHaveLength(2);
  for (const text of 'abcdefghijklmnopqrstuvwxyz0123456789éß%_\\') {
    const holding = rows.filter(({ words }) => words.includes(fold(text))).map((r) => r.title);
    expect([text, await found({ test: 'words', text })]).toEqual([text, holding]);
  }
});

test('words are found in every field or in one', async () => {
  expect(await found({ test: 'words', text: 'haul' })).toEqual(['Haul', 'Rope']);
  expect(await found({ test: 'words', text: 'haul', field: 'lyrics' })).toEqual(['Rope']);
  expect(await found({ test: 'words', text: 'haul', field: 'title' })).toEqual(['Haul']);
  expect(await found({ test: 'words', text: '"away and again" ebb', field: 'lyrics' })).toEqual(['Rope']);
  const where = encodeURIComponent(JSON.stringify({ test: 'words', text: 'a', field: 'bpm' }));
  expect((await h.get(`/tracks?where=${where}`)).status).toBe(400);
});

test('lyrics edited here go into the file, line by line, and are taken back', async () => {
  const { changeSetId } = await set(['sung.mp3'], 'lyrics', 'Slack\nwater');
  expect(inFile('sung.mp3').lyrics).toEqual(['Slack\nwater']);
  expect(await found({ test: 'words', text: 'slack', field: 'lyrics' })).toEqual(['Rope']);
  await undo({ changeSetId });
  expect(inFile('sung.mp3').lyrics).toEqual([LYRICS]);
});

test('what is looked through is made anew after an upgrade that changed it', async () => {
  await h.query("UPDATE tracks SET search_text = 'old', search_layout = 0");
  expect(await found({ test: 'words', text: 'haul' })).toEqual([]);
  await h.restart();
  expect(await found({ test: 'words', text: 'haul', field: 'lyrics' })).toEqual(['Rope']);
});
