/** The check list, and measuring again only what is worth it. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { ENGINE_VERSION } from '@early-set/core/analysis/engine';
import type { CheckList, RunProgress, TrackDetails } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let ids: number[];
const list = async (what: string, below: number, limit = 200): Promise<CheckList> =>
  (await h.get(`/check?what=${what}&below=${below}&limit=${limit}`).expect(200)).body as CheckList;
const details = async (id: number): Promise<TrackDetails> =>
  (await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails;
const everything = { where: { all: [] }, except: [] };
const measure = async (options: object): Promise<number> => {
  const { body } = await h.post('/analysis', { selection: everything, ...options }).expect(200);
  const { runId, tracks } = body as { runId: number; tracks: number };
  await h.until(
    async () => ((await h.get('/runs')).body as RunProgress[]).find((r) => r.id === runId)!.state === 'done',
    'the run ends',
  );
  return tracks;
};

beforeAll(async () => {
  h = await startHarness();
  for (let i = 0; i < 5; i++) makeAudio(join(h.music, `${i}.wav`), { seconds: 6, hz: 220 + i * 30 });
  await h.takeIn();
  ids = (await h.query<{ id: number }>('SELECT id FROM tracks ORDER BY path')).map((r) => r.id);
  // How sure measuring is of plain tones does not matter here: these are the figures that the list is about.
  for (const [i, id] of ids.entries()) {
    await h.query('UPDATE tracks SET bpm = $2, tempo_confidence = $3, key = $4, key_confidence = 0.9 WHERE id = $1', [
      id,
      120 + i,
      [0.6, 0.2, 0.95, 0.4, 0.75][i],
      'A minor',
    ]);
    await h.query(
      `UPDATE track_origins SET origins = origins || jsonb_build_object('bpm', jsonb_build_object('origin',
        'analysis', 'at', '2026-01-01'), 'key', jsonb_build_object('origin', 'analysis', 'at', '2026-01-01'))
        WHERE track_id = $1`,
      [id],
    );
  }
});
afterAll(() => h?.stop());

test('a tempo corrected by hand and taken back is nobody’s wish for the file any more', async () => {
  const id = ids[4]!;
  const { bpm } = (await details(id)).values;
  const typed = (await h.post('/fields', { selection: { ids: [id] }, field: 'bpm', value: 62 }).expect(200)).body;
  expect(typed).toMatchObject({ files: { written: 1 } });
  await h.post('/undo', {}).expect(200);
  const after = await details(id);
  expect(after.values).toMatchObject({ bpm, unwritten: null });
  expect(after.origins.bpm?.origin).toBe('analysis');
});

describe('the check list', () => {
  test('holds what is less sure than asked, least certain first, and says how many there are beyond the rows', async () => {
    const all = await list('tempo', 0.8);
    expect(all.rows.map((r) => r.id)).toEqual([ids[1], ids[3], ids[0], ids[4]]);
    expect(await list('tempo', 0.5, 1)).toMatchObject({ what: 'tempo', below: 0.5, total: 2, rows: [{ id: ids[1] }] });
    expect((await list('key', 0.8)).rows).toEqual([]);
    await h.get('/check?what=mood&below=0.8').expect(400);
    await h.get('/check?what=tempo&below=2').expect(400);
  });

  test('what is locked, set by hand or gone is no longer on it; taken back, it is again', async () => {
    await h.post('/locks', { selection: { ids: [ids[1]] }, field: 'bpm', locked: true }).expect(200);
    await h.post('/fields', { selection: { ids: [ids[3]] }, field: 'bpm', value: 61.5 }).expect(200);
    await h.query("UPDATE tracks SET file_state = 'missing' WHERE id = $1", [ids[4]]);
    expect((await list('tempo', 0.8)).rows.map((r) => r.id)).toEqual([ids[0]]);
    await h.query("UPDATE tracks SET file_state = 'here' WHERE id = $1", [ids[4]]);
    await h.post('/undo').expect(200);
    await h.post('/undo').expect(200);
    expect((await list('tempo', 0.8)).rows.map((r) => r.id)).toEqual([ids[1], ids[3], ids[0], ids[4]]);
  });
});

describe('measuring again', () => {
  test('only what is less sure', async () => {
    await h.query('UPDATE tracks SET tempo_confidence = 0.99, key_confidence = 0.99 WHERE id <> $1', [ids[1]]);
    expect(await measure({ below: 0.5 })).toBe(1);
  });

  test('only what an earlier engine measured; with none, it says so', async () => {
    expect((await h.post('/analysis', { selection: everything, older: true }).expect(409)).body).toMatchObject({
      error: { code: 'nothing-to-do', message: 'Everything chosen has been measured by this engine' },
    });
    await h.query('UPDATE tracks SET analysis_engine = $2 WHERE id = ANY($1::int[])', [
      [ids[0], ids[2]],
      ENGINE_VERSION - 1,
    ]);
    expect(await measure({ older: true })).toBe(2);
  });

  test('only some parts: the others stay as they were, and what is locked stays anyway', async () => {
    const id = ids[2]!;
    await h.query('UPDATE tracks SET lufs = -99, energy = 1, key = $2 WHERE id = $1', [id, 'B minor']);
    await h.post('/locks', { selection: { ids: [id] }, field: 'energy', locked: true }).expect(200);
    const before = await details(id);
    expect(await measure({ selection: { ids: [id] }, parts: ['loudness', 'energy'] })).toBe(1);
    const after = await details(id);
    expect(after.values.lufs).not.toBe(-99);
    expect(after.values.lufs).toBe(Math.round(after.analysis!.result.loudness.integratedLufs! * 100) / 100);
    expect([after.values.energy, after.values.key]).toEqual([1, 'B minor']);
    expect(after.analysis!.result.tempo).toEqual(before.analysis!.result.tempo);
  });

  test('a track that is named twice is measured once', async () => {
    expect(await measure({ selection: { ids: [ids[1], ids[1]] }, parts: ['edges'] })).toBe(1);
  });

  test('nothing chosen, or parts that are none, are refused', async () => {
    await h.post('/analysis', { selection: { ids: [] } }).expect((r) => {
      if (r.status < 400) throw new Error('It was taken');
    });
    await h.post('/analysis', { selection: everything, parts: ['colour'] }).expect(400);
    await h.post('/analysis', { selection: everything, parts: [] }).expect(400);
  });
});
