/** Self-filling crates: filled by conditions, kept filled by whatever changes, frozen, and asked about by others. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Transaction } from 'sequelize';
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ExportedList, ListContents, ListLine, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { matches, type Condition } from '@early-set/core/conditions/condition';
import type { Rule } from '@early-set/core/conditions/rule';
import type { Database } from '../db/database.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { createRuleMembers } from './ruleMembers.ts';

let h: Harness;
const { set, idOf } = hands(() => h);
const NAMES = Array.from({ length: 12 }, (_, i) => `${i}.mp3`);
const GENRES = ['House', 'Dub', 'Techno'];

beforeAll(async () => {
  h = await startHarness();
  for (const [i, genre] of GENRES.entries())
    makeAudio(join(h.music, `${i}.mp3`), { seconds: 2, tags: { title: `T${i}`, genre, date: String(2000 + i) } });
  for (let i = 3; i < NAMES.length; i++) copyFileSync(join(h.music, `${i % 3}.mp3`), join(h.music, NAMES[i]!));
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

const genre = (...values: string[]): Condition => ({ field: 'genre', test: 'one of', values });
const make = async (name: string, rule: Rule): Promise<string> =>
  ((await h.post('/lists', { kind: 'crate', name, rule }).expect(200)).body as { listId: string }).listId;
const contents = async (id: string): Promise<ListContents> =>
  (await h.get(`/lists/${id}`).expect(200)).body as ListContents;
const line = async (id: string): Promise<ListLine> =>
  ((await h.get('/lists').expect(200)).body as ListLine[]).find((l) => l.id === id)!;
const idsIn = async (id: string): Promise<number[]> =>
  (await contents(id)).entries.map((e) => e.id).sort((a, b) => a - b);
const found = async (where: Condition): Promise<number[]> =>
  (
    (await h.get(`/tracks?limit=500&where=${encodeURIComponent(JSON.stringify(where))}`).expect(200)).body as SheetPage
  ).rows
    .map((r) => r.id)
    .sort((a, b) => a - b);
const undo = async (): Promise<Applied> => (await h.post('/undo', { redo: false }).expect(200)).body as Applied;
/** Until the server has heard of it. */
const becomes = (id: string, tracks: number): Promise<void> =>
  h.until(async () => (await line(id)).tracks === tracks, `${tracks} tracks in it`);

test('it holds what its conditions name; an edit puts a track in, undo takes it out again', async () => {
  const id = await make('Dub', { where: genre('Dub') });
  expect(await idsIn(id)).toEqual(await found(genre('Dub')));
  const { tracks, durationSeconds } = await line(id);
  expect([tracks, Math.round(durationSeconds)]).toEqual([4, 8]);
  await set(['0.mp3'], 'genre', ['Dub']);
  await becomes(id, 5);
  expect(await idsIn(id)).toContain(await idOf('0.mp3'));
  expect(((await h.get(`/tracks/${await idOf('0.mp3')}`)).body as TrackDetails).lists.map((l) => l.name)).toContain(
    'Dub',
  );
  await undo();
  await becomes(id, 4);
  expect(await idsIn(id)).toEqual(await found(genre('Dub')));
});

test('what is in a crate can be asked for, and a crate can be asked about by another; a circle is refused', async () => {
  const house = await make('House', { where: genre('House') });
  const rest = await make('Not house', { where: { not: { inLists: [house] } } });
  expect(await found({ inLists: [house] })).toEqual(await found(genre('House')));
  expect(await idsIn(rest)).toEqual(await found({ not: genre('House') }));
  await set(['1.mp3'], 'genre', ['House']);
  await becomes(rest, 7);
  const refused = await h.patch(`/lists/${house}`, { rule: { where: { inLists: [rest] } } });
  expect([refused.status, JSON.stringify(refused.body)]).toEqual([
    400,
    expect.stringMatching(/cannot ask about itself/),
  ]);
  await undo();
  await becomes(rest, 8);
});

test('a circle that undo and redo would make is a conflict', async () => {
  const first = await make('First', { where: genre('Dub') });
  const asked = (
    await h.patch(`/lists/${first}`, { rule: { where: { inLists: [await make('Empty', { where: { any: [] } })] } } })
  ).body as Applied;
  const undone = (await h.post(`/changes/${asked.changeSetId}/undo`, {}).expect(200)).body as Applied;
  const [empty] = ((await h.get('/lists')).body as ListLine[]).filter((l) => l.name === 'Empty');
  await h.patch(`/lists/${empty!.id}`, { rule: { where: { inLists: [first] } } }).expect(200);
  const redone = await h.post(`/changes/${undone.changeSetId}/undo`, {});
  expect([redone.status, JSON.stringify(redone.body)]).toEqual([409, expect.stringMatching(/cannot ask about itself/)]);
  expect(await idsIn(empty!.id)).toEqual(await found(genre('Dub')));
});

test('what one has changed oneself is seen at once, also while nobody hears the database', async () => {
  const id = await make('New ones', { where: { field: 'year', test: 'between', low: 2002 } });
  expect((await line(id)).tracks).toBe(4);
  await h.server.changing.database.run(
    `SELECT pg_terminate_backend(pid) FROM pg_stat_activity
      WHERE datname = current_database() AND query LIKE 'LISTEN %' AND pid <> pg_backend_pid()`,
  );
  await h.patch(`/lists/${id}`, { rule: { where: { field: 'year', test: 'between', low: 2001 } } }).expect(200);
  expect((await line(id)).tracks).toBe(8);
  await undo();
  expect((await line(id)).tracks).toBe(4);
});

test('by hand nothing goes in or below; the conditions can be changed, and that undone', async () => {
  const id = await make('By year', { where: { field: 'year', test: 'between', low: 2001 } });
  const put = await h.post(`/lists/${id}/entries`, { selection: { ids: [await idOf('0.mp3')] } });
  expect([put.status, JSON.stringify(put.body)]).toEqual([409, expect.stringMatching(/filled by its conditions/)]);
  await h.post('/lists', { kind: 'crate', name: 'Inside', parentId: id }).expect(400);
  await h.patch(`/lists/${id}`, { rule: { where: { field: 'year', test: 'between', low: 2002 } } }).expect(200);
  expect((await line(id)).tracks).toBe(4);
  await undo();
  expect((await line(id)).tracks).toBe(8);
});

test('a limit takes the first by an order, or some by chance that stay the same', async () => {
  const newest = await make('Newest', { where: { all: [] }, limit: { count: 3, by: 'year', descending: true } });
  expect((await contents(newest)).entries.map((e) => e.values.year)).toEqual([2002, 2002, 2002]);
  await set(['0.mp3'], 'year', 2020);
  await h.until(async () => (await contents(newest)).entries[0]!.values.year === 2020, 'the newest first');
  expect((await line(newest)).tracks).toBe(3);
  await undo();
  const chance = (seed: number): Rule => ({ where: { all: [] }, limit: { count: 5, by: 'random', seed } });
  const [a, b, c] = [await make('One', chance(1)), await make('Same', chance(1)), await make('Other', chance(2))];
  expect(await idsIn(a)).toEqual(await idsIn(b));
  expect(await idsIn(a)).toHaveLength(5);
  expect(await idsIn(c)).not.toEqual(await idsIn(a));
});

test('frozen it keeps what it held, and is filled by hand; undo makes it fill itself again', async () => {
  const id = await make('Techno', { where: genre('Techno') });
  await h.post(`/lists/${id}/freeze`).expect(200);
  expect((await contents(id)).info.rule).toBeNull();
  const held = await idsIn(id);
  await set(['2.mp3'], 'genre', ['House']);
  expect(await idsIn(id)).toEqual(held);
  expect((await line(id)).tracks).toBe(4);
  await undo();
  await undo();
  expect((await contents(id)).info.rule).not.toBeNull();
  await becomes(id, 4);
  const text = (
    (await h.post(`/lists/${id}/export`, { format: 'm3u8', paths: 'absolute', rootId: null, line: '' }))
      .body as ExportedList
  ).tracks;
  expect(text).toBe(4);
});

test('a track that is taken out of the library is in no crate; brought back, it is in them again', async () => {
  const id = await make('All', { where: { all: [] } });
  await h.post('/tracks/remove', { selection: { ids: [await idOf('7.mp3')] } }).expect(200);
  await becomes(id, NAMES.length - 1);
  await undo();
  await becomes(id, NAMES.length);
  // A crate that is undone leaves nothing behind.
  await undo();
  await h.get(`/lists/${id}`).expect(404);
  await createRuleMembers(h.server.changing.database).fresh();
  const left = await h.query('SELECT 1 FROM rule_members WHERE list_id = $1', [id]);
  expect(left).toEqual([]);
});

test('many tracks edited while crates are filled: neither ends the other', async () => {
  const ids = (await contents(await make('Everything', { where: { all: [] } }))).entries.map((e) => e.id);
  for (let round = 0; round < 6; round++) {
    const rule = { where: { field: 'year', test: 'between', low: 1990 + round } };
    const done = await Promise.all([
      h.post('/fields', { selection: { ids }, field: 'year', value: 1990 + round }),
      h.post('/lists', { kind: 'crate', name: `Round ${round}`, rule }),
      h.post('/fields', { selection: { ids: [...ids].reverse() }, field: 'comment', value: `round ${round}` }),
    ]);
    expect(done.map((d) => d.status)).toEqual([200, 200, 200]);
  }
});

test('a day that begins is asked anew', async () => {
  const id = await make('New', { where: { field: 'addedAt', test: 'in the last', days: 2 } });
  expect((await line(id)).tracks).toBe(NAMES.length);
  const later = (days: number) => () => new Date(Date.now() + days * 86_400_000);
  const count = async (): Promise<number> =>
    (await h.query<{ n: string }>('SELECT count(*) AS n FROM rule_members WHERE list_id = $1', [id])).map((r) =>
      Number(r.n),
    )[0]!;
  await createRuleMembers(h.server.changing.database, () => undefined, later(2)).fresh();
  expect(await count()).toBe(NAMES.length);
  await createRuleMembers(h.server.changing.database, () => undefined, later(3)).fresh();
  expect(await count()).toBe(0);
});

test('after any edits every crate holds just what its conditions name', async () => {
  const rules: Condition[] = [
    genre('House', 'Dub'),
    { not: genre('House') },
    { field: 'year', test: 'between', low: 2005, high: 2010 },
    {
      any: [
        { field: 'rating', test: 'one of', values: ['5'] },
        { test: 'words', text: 'dub' },
      ],
    },
    { field: 'comment', test: 'empty' },
  ];
  const crates = await Promise.all(rules.map((where, i) => make(`Rule ${i}`, { where })));
  const edit = fc.record({
    name: fc.constantFrom(...NAMES),
    change: fc.oneof(
      fc.constantFrom(...GENRES).map((g) => ['genre', [g]] as const),
      fc.integer({ min: 2000, max: 2012 }).map((y) => ['year', y] as const),
      fc.constantFrom(null, 5).map((n) => ['rating', n] as const),
      fc.constantFrom(null, 'dub plate').map((c) => ['comment', c] as const),
    ),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(edit, { minLength: 1, maxLength: 4 }), async (edits) => {
      for (const { name, change } of edits)
        await h.post('/fields', { selection: { ids: [await idOf(name)] }, field: change[0], value: change[1] });
      const { rows } = (await h.get('/tracks?limit=500').expect(200)).body as SheetPage;
      await createRuleMembers(h.server.changing.database).fresh();
      for (const [i, where] of rules.entries())
        expect([i, await idsIn(crates[i]!)]).toEqual([
          i,
          rows
            .filter((r) => matches(where, r.values))
            .map((r) => r.id)
            .sort((a, b) => a - b),
        ]);
    }),
    { numRuns: 15 },
  );
});

test('a crate that is frozen while its members are worked out keeps none of that kind', async () => {
  const id = await make('Frozen meanwhile', { where: genre('Dub') });
  expect((await idsIn(id)).length).toBeGreaterThan(0);
  const { database } = h.server.changing;
  const meanwhile: Database = {
    ...database,
    async rows<T extends object>(text: string, values?: unknown[], t?: Transaction): Promise<T[]> {
      const rows = await database.rows<T>(text, values, t);
      if (text.includes('LEFT JOIN rule_fillings'))
        await database.run('UPDATE lists SET rule = NULL WHERE id = $1', [id]);
      return rows;
    },
  };
  // As after a crash: every crate is asked about everything.
  await database.run('TRUNCATE touched_for_rules');
  await createRuleMembers(meanwhile).fresh();
  await createRuleMembers(database).fresh();
  expect(await database.rows('SELECT 1 FROM rule_members WHERE list_id = $1', [id])).toEqual([]);
});

test('the playlists of a date: a list comes to the date, an entry to the list, the date goes', async () => {
  const { listId } = (
    await h.post('/lists', { kind: 'playlist', name: 'Evening', selection: { ids: [await idOf('1.mp3')] } }).expect(200)
  ).body as { listId: string };
  const date = { name: 'Boathouse', kind: 'gig', day: '2031-05-01', startsAt: null, asks: 'floor' };
  const { id: dateId } = (await h.post('/dates', { ...date, listIds: [] }).expect(200)).body as { id: number };
  const id = await make('Of the evening', { where: { onDates: [dateId] } });
  expect(await idsIn(id)).toEqual([]);
  await h.patch(`/dates/${dateId}`, { ...date, listIds: [listId] }).expect(200);
  await becomes(id, 1);
  await h.post(`/lists/${listId}/entries`, { selection: { ids: [await idOf('2.mp3')] } }).expect(200);
  await becomes(id, 2);
  await undo();
  await becomes(id, 1);
  await h.delete(`/dates/${dateId}`).expect(200);
  await becomes(id, 0);
});
