/** Spoken items, links and jingles that are played from files of the library. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import pg from 'pg';
import type { HourContents, HourLine, HoursMade } from '@early-set/core/api/hours';
import type { StationFile } from '@early-set/core/hours/stationFiles';
import { seedMany } from '../../demo/many.ts';
import { startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let jingle: StationFile, links: StationFile[];
beforeAll(async () => {
  h = await startHarness();
  await seedMany(h.databaseUrl, 600);
  const client = new pg.Client({ connectionString: h.databaseUrl });
  await client.connect();
  // The first of the library is our jingle, the next two are links of one name, and a fourth lies nowhere any more.
  for (const [i, [kind, title, seconds, state]] of [
    ['jingle', 'Harbour jingle', 6.25, 'here'],
    ['spoken', 'Good  EVENING', 41.5, 'here'],
    ['spoken', 'Good evening', 50, 'here'],
    ['spoken', 'News', 100, 'missing'],
  ].entries())
    await client.query(
      `UPDATE tracks SET kind = $2, title = $3, duration_seconds = $4, file_state = $5
        WHERE id = (SELECT id FROM tracks ORDER BY id OFFSET $1 LIMIT 1)`,
      [i, kind, title, seconds, state],
    );
  await client.end();
  const files = (await h.get('/station-files').expect(200)).body as StationFile[];
  links = files.filter((f) => f.title !== 'Harbour jingle').sort((a, b) => a.id - b.id);
  jingle = files.find((f) => f.title === 'Harbour jingle')!;
  expect(files).toHaveLength(3);
});
afterAll(() => h.stop());

const CLOCK = {
  version: 1,
  name: 'Evening hour',
  items: [
    { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0 } },
    { item: 'jingle', name: 'Harbour jingle', seconds: 10 },
    { item: 'link', name: 'Good evening', seconds: 30 },
    { item: 'filler', most: 30 },
  ],
  rules: [{ rule: 'rested', days: 1, hard: true }],
};
const FROM = new Date(2026, 11, 1, 19).getTime() / 1000;
const hour = async (id: string): Promise<HourContents> =>
  (await h.get(`/hours/${id}`).expect(200)).body as HourContents;
const about = ({ kind, name, trackId, file, seconds }: HourLine) => [kind, name, trackId, file, seconds];
let id = '';

test('an hour plays the files of its items, is timed by them, and puts none of them at a place for tracks', async () => {
  const { listId: clockId } = (await h.post('/clocks', { clock: CLOCK, times: [] }).expect(200)).body;
  const { listIds } = (await h.post('/hours', { clockId, from: FROM, hours: 1 }).expect(200)).body as HoursMade;
  id = listIds[0]!;
  const { lines, off } = await hour(id);
  expect(lines.slice(0, 3).map(about)).toEqual([
    ['spoken', 'News', null, null, 120],
    ['jingle', 'Harbour jingle', jingle.id, 'Harbour jingle', 6.25],
    ['link', 'Good evening', links[0]!.id, 'Good  EVENING', 41.5],
  ]);
  expect(lines[3]!.at).toBe(FROM + 120 + 6.25 + 41.5);
  expect(Math.abs(off)).toBeLessThan(1);
  const own = [jingle.id, ...links.map((l) => l.id)];
  expect(lines.slice(3).filter((l) => own.includes(l.trackId!))).toEqual([]);
});

test('another file is chosen, or none; the item has its place and what is said of it, and undo brings all back', async () => {
  const link = (await hour(id)).lines[2]!;
  await h.patch(`/lists/${id}/entries/${link.entryId}`, { out: 'good evening' }).expect(200);
  await h.put(`/hours/${id}/items/${link.entryId}/file`, { trackId: links[1]!.id }).expect(200);
  const other = (await hour(id)).lines[2]!;
  expect([...about(other), other.out]).toEqual([
    'link',
    'Good evening',
    links[1]!.id,
    'Good evening',
    50,
    'good evening',
  ]);
  await h.put(`/hours/${id}/items/${other.entryId}/file`, { trackId: null }).expect(200);
  expect(about((await hour(id)).lines[2]!)).toEqual(['link', 'Good evening', null, null, 50]);
  for (let i = 0; i < 3; i++) await h.post('/undo', {}).expect(200);
  expect((await hour(id)).lines[2]).toEqual(link);
});

test('what is no such item, and what is no such file, is refused', async () => {
  const { lines } = await hour(id);
  const [track, link] = [lines[3]!, lines[2]!];
  await h.put(`/hours/${id}/items/${track.entryId}/file`, { trackId: jingle.id }).expect(400);
  await h.put(`/hours/${id}/items/${link.entryId}/file`, { trackId: track.trackId }).expect(404);
  await h.put(`/hours/${id}/items/${id}/file`, { trackId: null }).expect(404);
});

test('the running order names the file, and the hour as a list of files has it at its place', async () => {
  const csv = (await h.get(`/hours/${id}/running-order/csv`).expect(200)).text;
  expect(csv).toContain('jingle,Harbour jingle,');
  expect(csv).toContain('file: Good  EVENING');
  const { entries } = (await h.get(`/lists/${id}`).expect(200)).body as { entries: { id: number }[] };
  expect(entries.map((e) => e.id).slice(0, 3)).toEqual([expect.any(Number), jingle.id, links[0]!.id]);
});
