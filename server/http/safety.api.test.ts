import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { closeSync, ftruncateSync, openSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import request from 'supertest';
import type { Facets, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { fitOf } from '@early-set/core/arrange/fit';
import {
  BY_HAND,
  EVERYTHING,
  matches,
  OF_SCANS,
  ON_DATES,
  SCAN_PARTS,
  type Condition,
} from '@early-set/core/conditions/condition';
import { localDay } from '@early-set/core/clock/clock';
import type { TrackValues } from '@early-set/core/fields/values';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { FIELDS } from '@early-set/core/fields/table';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { seedMany } from '../../demo/many.ts';

let h: Harness;
beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'one.mp3'), { tags: { title: 'One' } });
  await h.takeIn(h.music, false);
  await seedMany(h.databaseUrl, 400);
});
afterAll(() => h?.stop());

const where = (c: Condition): string => encodeURIComponent(JSON.stringify(c));
const everything = async (): Promise<SheetPage> => (await h.get('/tracks?limit=500')).body as SheetPage;

describe('who may talk to it', () => {
  test('other hosts and other origins are refused', async () => {
    expect((await h.get('/overview').set('Host', 'evil.example')).body).toMatchObject({
      error: { code: 'wrong-host' },
    });
    expect((await h.get('/overview').set('Origin', 'http://evil.example')).status).toBe(403);
    expect((await h.post('/undo').set('Sec-Fetch-Site', 'cross-site')).body).toMatchObject({
      error: { code: 'wrong-origin' },
    });
    for (const path of ['/tracks/1/audio', '/overview', `/art/${'0'.repeat(40)}`])
      for (const site of ['cross-site', 'same-site'])
        expect((await h.get(path).set('Sec-Fetch-Site', site)).status).toBe(403);
    await h.get('/overview').set('Sec-Fetch-Site', 'same-origin').expect(200);
    await h.get('/overview').set('Origin', h.server.address).expect(200);
  });
  test('a refusal comes inside an answer where that is asked for, as browsers write others down as faults', async () => {
    const plain = await h.get('/tracks/999999').expect(404);
    const inside = await h.get('/tracks/999999').set('X-Refusals', 'inside').expect(200);
    expect(inside.headers['x-refused']).toBe('404');
    expect(inside.body).toEqual(plain.body);
  });
  test('it listens on loopback only', async () => {
    const port = Number(new URL(h.server.address).port);
    expect(new URL(h.server.address).hostname).toBe('127.0.0.1');
    const { networkInterfaces } = await import('node:os');
    const outside = Object.values(networkInterfaces())
      .flat()
      .find((i) => i && !i.internal && i.family === 'IPv4');
    if (outside) {
      const reached = await new Promise<boolean>((resolve) => {
        const s = connect(port, outside.address, () => {
          s.destroy();
          resolve(true);
        });
        s.on('error', () => resolve(false));
      });
      expect(reached).toBe(false);
    }
  });
  test('the policy lets only its own scripts run', async () => {
    const policy = (await h.get('/overview')).headers['content-security-policy']!;
    expect(policy).toContain("script-src 'self'");
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toContain("'unsafe-eval'");
  });
});

describe('questions too long for an address', () => {
  const asked = (query: string) =>
    request(h.server.address)
      .post('/api/tracks')
      .set({ 'X-HTTP-Method-Override': 'GET', 'Content-Type': 'application/x-www-form-urlencoded' })
      .send(query);
  const many = Array.from({ length: 900 }, (_, i) => `Nothing ${i} ${'å'.repeat(90)}`);
  const long = `limit=5&where=${where({ any: [{ field: 'title', test: 'one of', values: ['One', ...many] }] })}`;

  test('are sent as a body and answered as if they stood there', async () => {
    const short = `limit=5&where=${where({ field: 'title', test: 'one of', values: ['One'] })}`;
    const answered = (await asked(long).expect(200)).body as SheetPage;
    expect(answered.rows.map((r) => r.values.title)).toEqual(['One']);
    expect(answered).toEqual((await h.get(`/tracks?${short}`).expect(200)).body);
  });
  test('an address of that length is refused in the one shape, and others may ask neither way', async () => {
    expect(long.length).toBeGreaterThan(64 * 1024);
    expect((await h.get(`/tracks?${long}`).expect(431)).body).toMatchObject({ error: { code: 'too-long' } });
    await asked(long).set('Sec-Fetch-Site', 'cross-site').expect(403);
    await h.post('/overview').set('X-HTTP-Method-Override', 'DELETE').expect(404);
  });
});

describe('requests that make no sense', () => {
  test.each<[string, object | null]>([
    ['/tracks?limit=0', null],
    ['/tracks?limit=100000', null],
    ['/tracks?sort=password', null],
    ['/tracks?where={"field":"x"}', null],
    ['/tracks?where=nonsense', null],
    ['/tracks/abc', null],
    ['/tracks/99999999999999', null],
    ['/facets?filters={"a":{"not":5}}', null],
    ['/changes?before=x', null],
    ['/lists/not-a-uuid', null],
    ['/art/..%2f..%2fetc', null],
    ['/fields', { selection: { ids: [1] }, field: 'path', value: 'x' }],
    ['/fields', { selection: { ids: ['x'] }, field: 'title', value: 'x' }],
    ['/lists', { kind: 'folder', name: 'x' }],
    ['/lists', { kind: 'crate', name: 'x', extra: 1 }],
    ['/roots', {}],
  ])('%s answers 400 with one shape', async (path, body) => {
    const answer = await (body ? h.post(path, body) : h.get(path));
    expect(answer.status).toBe(400);
    expect(answer.body).toEqual({ error: { code: expect.any(String), message: expect.any(String) } });
  });
  test('broken JSON, huge bodies, unknown addresses', async () => {
    expect(
      (await request(h.server.address).post('/api/lists').set('Content-Type', 'application/json').send('{"a":')).body,
    ).toMatchObject({ error: { code: 'bad-json' } });
    expect((await h.post('/lists', { kind: 'crate', name: 'x'.repeat(9_000_000) })).status).toBe(413);
    expect((await h.get('/nothing/here')).body).toMatchObject({ error: { code: 'not-found' } });
  });
  test('a condition nested without end is refused', async () => {
    let c: Condition = { field: 'genre', test: 'empty' };
    for (let i = 0; i < 40; i++) c = { not: c };
    expect((await h.get(`/tracks?where=${where(c)}`)).status).toBe(400);
  });
});

describe('wide values', () => {
  test('10,000 characters, every plane of Unicode, and NUL come back as they went in, less what no text can hold', async () => {
    const { id } = (await everything()).rows[0]!;
    const planes = [0x41, 0x3b1, 0x4e2d, 0x1f3b9, 0x20000, 0xe0041, 0xf0000, 0x10fffd]
      .map((c) => String.fromCodePoint(c))
      .join('');
    for (const value of [
      'x'.repeat(10_000),
      planes,
      'a\0b',
      '\ud800 lone',
      '../../etc/passwd',
      'C:\\Users\\x',
      "'); DROP TABLE tracks; --",
      '<script>alert(1)</script>',
    ]) {
      await h.post('/fields', { selection: { ids: [id] }, field: 'title', value }).expect(200);
      const { values } = (await h.get(`/tracks/${id}`)).body as TrackDetails;
      expect(values.title).toBe(value.replace('\0', '').toWellFormed());
    }
    expect(
      (await h.post('/fields', { selection: { ids: [id] }, field: 'title', value: 'x'.repeat(20_001) })).status,
    ).toBe(400);
  });
  test('a zero-byte and a 1-GB file do no harm', async () => {
    const big = openSync(join(h.music, 'huge.wav'), 'w');
    ftruncateSync(big, 1024 ** 3);
    closeSync(big);
    closeSync(openSync(join(h.music, 'zero.flac'), 'w'));
    const [root] = (await h.get('/roots')).body as { id: number }[];
    await h.post(`/roots/${root!.id}/scan`).expect(200);
    await h.until(
      async () => ((await h.get(`/roots/${root!.id}/not-taken`)).body as unknown[]).length === 2,
      'both are refused',
    );
    expect(
      ((await h.get(`/roots/${root!.id}/not-taken`)).body as { path: string; code: string }[]).map((r) => [
        r.path,
        r.code,
      ]),
    ).toEqual([
      ['huge.wav', 'broken'],
      ['zero.flac', 'empty'],
    ]);
  });
});

const day = fc.integer({ min: 0, max: 400 }).map((n) => localDay(new Date(Date.now() - n * 86_400_000)));

const condition: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    fc.record({
      field: fc.constantFrom('bpm', 'year', 'energy', 'durationSeconds', 'lufs'),
      test: fc.constant('between' as const),
      low: fc.option(fc.integer({ min: -20, max: 2030 }), { nil: undefined }),
      high: fc.option(fc.integer({ min: -20, max: 2030 }), { nil: undefined }),
    }),
    fc.record({
      field: fc.constant('key'),
      test: fc.constant('one of' as const),
      values: fc.subarray(ALL_KEYS) as fc.Arbitrary<string[]>,
    }),
    fc.record({
      field: fc.constantFrom('path', 'title', 'key', 'format', 'genre', 'year'),
      test: fc.constant('begins' as const),
      text: fc.constantFrom('', 'a', 'A', 'x/', 'M', '%', '_'),
    }),
    fc.record({
      field: fc.constantFrom('genre', 'artist', 'rating'),
      test: fc.constant('one of' as const),
      values: fc.subarray(['House', 'Techno', 'Ambient', 'Soul', 'Odette Kassar', 'Hal Tarn', '5', '']),
    }),
    fc.record({
      field: fc.constantFrom('format', 'fileState', 'analysisState'),
      test: fc.constant('one of' as const),
      values: fc.subarray(['MP3', 'FLAC', 'missing', 'here', 'done', 'none']),
    }),
    fc.record({ field: fc.constantFrom(...FIELDS.map((f) => f.id)), test: fc.constant('empty' as const) }),
    fc.record({
      field: fc.constantFrom('tempoSteady', 'hearLater'),
      test: fc.constant('is' as const),
      value: fc.boolean(),
    }),
    fc.record({
      test: fc.constant('words' as const),
      text: fc.constantFrom('tide', 'LANTERN rook', '"rook tide"', '"tide', 'é', '%', '_', 'kelp 0', '', 'harbour mp3'),
      field: fc.constantFrom(undefined, 'title', 'artist', 'path', 'comment', 'moods'),
    }),
    fc.record({ field: fc.constantFrom('genre', 'bpm', 'title'), test: fc.constant('by hand' as const) }),
    fc.record({
      field: fc.constantFrom('addedAt', 'title', 'bpm'),
      test: fc.constant('in the last' as const),
      days: fc.integer({ min: 0, max: 40 }),
    }),
    fc.record({
      field: fc.constantFrom('addedAt', 'lastUsed', 'title'),
      test: fc.constant('days' as const),
      from: fc.option(day, { nil: undefined }),
      to: fc.option(day, { nil: undefined }),
    }) as fc.Arbitrary<Condition>,
    fc.record({ onDates: fc.subarray([1, 2, 77]) }),
    fc.record({ ofScan: fc.constantFrom(1, 77), as: fc.constantFrom(...SCAN_PARTS) }),
    fc.record({
      field: fc.constantFrom('key', 'genre', 'bpm'),
      test: fc.constant('near key' as const),
      key: fc.constantFrom(...ALL_KEYS),
      reach: fc.integer({ min: 0, max: 6 }),
    }),
    fc.record({
      field: fc.constantFrom('bpm', 'year', 'title'),
      test: fc.constant('tempo' as const),
      low: fc.integer({ min: 40, max: 130 }),
      high: fc.integer({ min: 60, max: 200 }),
    }),
    fc.record({ all: fc.array(tie('node'), { maxLength: 3 }) }),
    fc.record({ any: fc.array(tie('node'), { maxLength: 3 }) }),
    fc.record({ not: tie('node') }),
  ),
})).node;

/** Two dates with playlists of some tracks; answers of each track on which dates it is. */
async function datedTracks(): Promise<Map<number, string[]>> {
  const { rows } = await everything();
  const listOf = async (name: string, ids: number[]): Promise<string> =>
    ((await h.post('/lists', { kind: 'playlist', name, selection: { ids } }).expect(200)).body as { listId: string })
      .listId;
  const some = (every: number): number[] => rows.flatMap((r, i) => (i % every === 0 ? [r.id] : []));
  const [a, b, c] = [await listOf('a', some(3)), await listOf('b', some(5)), await listOf('c', some(7))];
  await h.query(
    `INSERT INTO dates (id, name, kind, day, asks, list_ids) VALUES
      (1, 'One', 'gig', '2026-12-12', 'floor', $1), (2, 'Two', 'show', '2026-12-13', 'playout', $2)`,
    [[a, b], [c]],
  );
  const all: [string, number[]][] = [
    ['1', [...some(3), ...some(5)]],
    ['2', some(7)],
  ];
  return new Map(rows.map(({ id }) => [id, all.flatMap(([date, ids]) => (ids.includes(id) ? [date] : []))]));
}

describe('one condition tree', () => {
  test('finds the same tracks in SQL as in memory', async () => {
    await h.query(`INSERT INTO track_origins (track_id, origins)
      SELECT id, jsonb_build_object(CASE id % 2 WHEN 0 THEN 'genre' ELSE 'bpm' END, '{"origin":"typed","at":"2026-01-01"}'::jsonb,
        'title', '{"origin":"catalogue","at":"2026-01-01"}'::jsonb) FROM tracks WHERE id % 3 = 0
      ON CONFLICT (track_id) DO UPDATE SET origins = track_origins.origins || excluded.origins`);
    const typed = new Map(
      (
        await h.query<{ id: number; fields: string[] }>(
          `SELECT track_id AS id, array_agg(o.key) AS fields FROM track_origins, jsonb_each(origins) o
            WHERE o.value->>'origin' = 'typed' GROUP BY 1`,
        )
      ).map((r) => [r.id, r.fields]),
    );
    expect(typed.size).toBeGreaterThan(10);
    const onDates = await datedTracks();
    const ofScan = (await everything()).rows.filter((_, i) => i % 4 === 0).map((r) => r.id);
    await h.query('DELETE FROM scan_tracks WHERE run_id = 1');
    await h.query("INSERT INTO scan_tracks SELECT 1, 'changed', unnest($1::int[])", [ofScan]);
    const besides = (id: number): TrackValues => ({
      [OF_SCANS]: ofScan.includes(id) ? ['1 changed'] : [],
      [BY_HAND]: typed.get(id) ?? [],
      [ON_DATES]: onDates.get(id) ?? [],
    });
    const { rows } = await everything();
    await fc.assert(
      fc.asyncProperty(condition, async (c) => {
        const { body } = await h.get(`/tracks?limit=500&where=${where(c)}`).expect(200);
        const found = new Set((body as SheetPage).rows.map((r) => r.id));
        for (const row of rows)
          if (matches(c, { ...row.values, ...besides(row.id) }) !== found.has(row.id))
            throw new Error(`track ${row.id}: ${JSON.stringify(row.values)}`);
        expect((body as SheetPage).total).toBe(found.size);
      }),
      { numRuns: 120 },
    );
  });
  test('the fit is the same in SQL as in memory', async () => {
    const { rows } = await everything();
    for (const reference of rows.filter((r) => r.values.bpm).slice(0, 6)) {
      const { body } = await h.get(`/tracks?limit=500&sort=fit&descending=true&fitTo=${reference.id}`).expect(200);
      const ref = {
        bpm: reference.values.bpm as number,
        key: reference.values.key as string | null,
        energy: reference.values.energy as number | null,
      };
      for (const row of (body as SheetPage).rows) expect(row.fit).toBe(fitOf(ref, row.values).score);
      const fits = (body as SheetPage).rows.map((r) => r.fit ?? -1);
      expect(fits).toEqual([...fits].sort((a, b) => b - a));
    }
  });
  test('pictures count what the sheet shows, each without its own filter', async () => {
    const house: Condition = { field: 'genre', test: 'one of', values: ['House'] };
    const { body } = await h.get(`/facets?filters=${encodeURIComponent(JSON.stringify({ genre: house }))}`).expect(200);
    const facets = body as Facets;
    const { rows } = await everything();
    const own = rows.filter((r) => matches(house, r.values));
    expect(facets.histograms.tempo.counts.reduce((a, b) => a + b, 0) + facets.histograms.tempo.none).toBe(own.length);
    expect(facets.lists.genre.find((g) => g.value === 'Techno')!.count).toBe(
      rows.filter((r) => (r.values.genre as string[] | null)?.includes('Techno')).length,
    );
    expect(facets.needs.missing).toBe(own.filter((r) => r.values.fileState === 'missing').length);
    expect(Object.values(facets.keys).reduce((a, b) => a + b, 0)).toBe(own.length);
  });
  test('every column sorts, empty values last', async () => {
    for (const field of FIELDS) {
      const { body } = await h.get(`/tracks?limit=500&sort=${field.id}&where=${where(EVERYTHING)}`).expect(200);
      const values = (body as SheetPage).rows.map((r) => r.values[field.id]);
      const firstEmpty = values.findIndex((v) => v === null);
      if (firstEmpty >= 0) expect(values.slice(firstEmpty).every((v) => v === null)).toBe(true);
      if (['number', 'integer'].includes(field.type))
        expect(values.filter((v) => v !== null)).toEqual(
          values.filter((v) => v !== null).sort((a, b) => Number(a) - Number(b)),
        );
    }
  });
  // Last, for the values are put in past the columns by which they sort.
  test('each value of a list is counted as the sheet then shows it', async () => {
    await h.query(`UPDATE tracks SET moods = CASE WHEN id % 3 = 0 THEN '{warm,late}'::text[] END,
      free_tags = CASE WHEN id % 7 = 0 THEN '{sunrise}'::text[] END, hear_later = CASE id % 5 WHEN 0 THEN TRUE WHEN 1
      THEN FALSE END, comment = CASE id % 4 WHEN 0 THEN 'for the foyer' END`);
    const tempo: Condition = { field: 'bpm', test: 'between', low: 100 };
    const { body } = await h.get(`/facets?filters=${encodeURIComponent(JSON.stringify({ tempo }))}`).expect(200);
    const { lists, none } = body as Facets;
    const shown = async (c: Condition): Promise<number> =>
      ((await h.get(`/tracks?limit=1&where=${where({ all: [tempo, c] })}`)).body as SheetPage).total;
    for (const field of ['genre', 'artist', 'format', 'rating', 'moods', 'freeTags'] as const) {
      expect(none[field]).toBe(await shown({ field, test: 'empty' }));
      expect(lists[field].length).toBeGreaterThan(0);
      for (const { value, count } of lists[field].slice(0, 5))
        expect([field, value, count]).toEqual([field, value, await shown({ field, test: 'one of', values: [value] })]);
    }
    const later = await shown({ field: 'hearLater', test: 'is', value: true });
    expect(lists.hearLater).toEqual([{ value: 'yes', count: later }]);
    const silent: Condition = { field: 'comment', test: 'empty' };
    expect(lists.comment).toEqual([{ value: 'yes', count: await shown({ not: silent }) }]);
    expect([none.comment, none.hearLater]).toEqual([await shown(silent), (await shown(EVERYTHING)) - later]);
  });
});
