/** Pages of a sheet put together are the whole order, however far one begins; and say what has changed. */
import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { allOf, EVERYTHING, type Condition } from '@early-set/core/conditions/condition';
import { FIELDS } from '@early-set/core/fields/table';
import { seedMany } from '../../demo/many.ts';
import { connect, type Database } from '../db/database.ts';
import { migrate } from '../db/migrate.ts';
import { testDatabase } from '../testing/database.ts';
import { selectedIds } from './sheet.ts';
import { createSheets, type SheetOrder, type Sheets } from './sheets.ts';

const TRACKS = 400,
  FAR = 20;
let made: Awaited<ReturnType<typeof testDatabase>>;
let database: Database;
let sheets: Sheets;
beforeAll(async () => {
  made = await testDatabase();
  database = await connect(made.url);
  await migrate(database);
  await seedMany(made.url, TRACKS);
  await database.run(`UPDATE tracks SET moods = ARRAY['calm', 'wide'] WHERE id % 3 = 0`);
  await database.run(`UPDATE tracks SET moods = ARRAY['dark'] WHERE id % 5 = 0`);
});
beforeEach(() => {
  sheets = createSheets(database, FAR);
});
afterAll(async () => {
  await database.close();
  await made.drop();
});

const SORTS = [null, 'title', 'artist', 'bpm', 'key', 'year', 'rating', 'moods', 'tempoSteady', 'toTarget', 'addedAt'];
const house: Condition = { field: 'genre', test: 'one of', values: ['House', 'Dub', 'Techno'] };
const whole = (order: SheetOrder): Promise<number[]> =>
  selectedIds(database, { where: order.where, except: [] }, order.sort, order.descending);

test('any page of any order, with and without known places, is its part of the whole', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...SORTS),
      fc.boolean(),
      fc.constantFrom(EVERYTHING, house),
      fc.array(fc.tuple(fc.nat(TRACKS + 20), fc.integer({ min: 1, max: 60 })), { minLength: 1, maxLength: 4 }),
      fc.boolean(),
      async (sort, descending, where, places, known) => {
        const order: SheetOrder = { where, sort, descending, fitTo: null };
        const ids = await whole(order);
        if (known) await sheets.along(order);
        for (const [offset, limit] of places) {
          const page = await sheets.page({ ...order, offset, limit });
          expect(page.total).toBe(ids.length);
          expect(page.rows.map((r) => r.id)).toEqual(ids.slice(offset, offset + limit));
        }
      },
    ),
    { numRuns: 150 },
  );
});

test('every column can be sorted by, both ways', async () => {
  for (const sort of FIELDS.map((f) => f.id))
    for (const descending of [false, true]) {
      const order = { where: EVERYTHING, sort, descending, fitTo: null };
      const { rows } = await sheets.page({ ...order, offset: 0, limit: TRACKS });
      expect([sort, rows.map((r) => r.id)]).toEqual([sort, await whole(order)]);
    }
});

test('what has no value stands last, in the order of arrival', async () => {
  const of = async (descending: boolean) =>
    (await sheets.page({ where: EVERYTHING, sort: 'rating', descending, fitTo: null, offset: 0, limit: TRACKS })).rows;
  const [up, down] = [await of(false), await of(true)];
  const rated = up.filter((r) => r.values.rating !== undefined).length;
  expect(down.slice(0, rated).map((r) => r.id)).toEqual(
    up
      .slice(0, rated)
      .map((r) => r.id)
      .reverse(),
  );
  for (const rows of [up, down]) {
    const rest = rows.slice(rated);
    expect(rest.every((r) => r.values.rating === undefined)).toBe(true);
    expect(rest.map((r) => r.id)).toEqual(rest.map((r) => r.id).sort((a, b) => a - b));
  }
});

test('best fit first: pages follow each other, and what has no tempo comes last', async () => {
  const { rows: all } = await sheets.page({
    where: EVERYTHING,
    sort: null,
    descending: false,
    fitTo: null,
    offset: 0,
    limit: TRACKS,
  });
  const own = all.find((r) => r.values.bpm && r.values.key)!;
  const order: SheetOrder = { where: EVERYTHING, sort: 'fit', descending: true, fitTo: own.id };
  await sheets.along(order);
  const rows = [];
  for (let offset = 0; offset < TRACKS; offset += 90)
    rows.push(...(await sheets.page({ ...order, offset, limit: 90 })).rows);
  expect(new Set(rows.map((r) => r.id)).size).toBe(TRACKS);
  const fits = rows.map((r) => r.fit ?? -1);
  expect(fits).toEqual([...fits].sort((a, b) => b - a));
  expect([rows[0]!.fit, rows.at(-1)!.values.bpm]).toEqual([100, undefined]);
});

test('what stands where along a sheet', async () => {
  const order: SheetOrder = { where: EVERYTHING, sort: 'bpm', descending: true, fitTo: null };
  const { every, valued, values } = await sheets.along(order);
  const { rows } = await sheets.page({ ...order, offset: 0, limit: TRACKS });
  expect(valued).toBe(rows.filter((r) => r.values.bpm).length);
  expect(values).toEqual(rows.slice(0, valued).flatMap((r, i) => (i % every === 0 ? [r.values.bpm] : [])));
  // In the order of arrival it is when they came.
  const arrival = await sheets.along({ ...order, sort: null });
  expect(String(arrival.values[0]).slice(0, 4)).toBe(String(new Date().getFullYear()));
});

test('totals and places are those of now once it is said that something changed', async () => {
  const dub = allOf({ field: 'genre', test: 'one of', values: ['Dub'] });
  const query = { where: dub, sort: 'bpm', descending: false, fitTo: null, offset: 0, limit: 5 };
  const { total } = await sheets.page(query);
  await database.run(`UPDATE tracks SET genre = ARRAY['Dub'] WHERE id = (SELECT max(id) FROM tracks
    WHERE NOT genre && ARRAY['Dub'])`);
  expect((await sheets.page(query)).total).toBe(total);
  sheets.forget();
  expect((await sheets.page(query)).total).toBe(total + 1);
});
