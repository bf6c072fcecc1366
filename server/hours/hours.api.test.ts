/** Format clocks and hours, over a made-up library. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type {
  AirplayMonth,
  HourContents,
  HourFilling,
  HourLine,
  HoursMade,
  HoursProgress,
  InsteadAnswer,
  LogRead,
} from '@early-set/core/api/hours';
import type { Applied, ListContents, ListLine, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { seedMany } from '../../demo/many.ts';
import { startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await startHarness();
  await seedMany(h.databaseUrl, 1500);
  // Where it is not known who plays, no rule about artists can be broken.
  await h.query("UPDATE tracks SET artist = ARRAY['Odette Kassar'] WHERE artist IS NULL");
});
afterAll(() => h.stop());

const FROM = new Date(2026, 11, 1, 19).getTime() / 1000;
const CLOCK = {
  version: 1,
  name: 'Evening hour',
  items: [
    { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0 } },
    { item: 'link', name: 'Good evening', seconds: 30, overIntro: 10 },
    { item: 'track', name: 'Opener', energy: 40 },
    { item: 'filler', most: 12 },
    { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 1800 } },
    { item: 'filler', most: 12 },
  ],
  rules: [
    { rule: 'apart', what: 'artist', minutes: 90, hard: true },
    { rule: 'rested', days: 7, hard: true },
    { rule: 'in a row', what: 'genre', most: 2, weight: 10 },
  ],
};
const EVENINGS = [{ days: ['tue'], from: '19:00', to: '22:00' }];
const hour = async (id: string): Promise<HourContents> =>
  (await h.get(`/hours/${id}`).expect(200)).body as HourContents;
const undo = async (): Promise<void> => void (await h.post('/undo', {}).expect(200));
const tracksOf = ({ lines }: HourContents): HourLine[] => lines.filter((l) => l.kind === 'track');
let clockId = '';
let made: HoursMade;

describe('a format clock', () => {
  test('is a list by its name, changed and taken back like others', async () => {
    clockId = ((await h.post('/clocks', { clock: CLOCK, times: EVENINGS }).expect(200)).body as { listId: string })
      .listId;
    const line = async (): Promise<ListLine> =>
      ((await h.get('/lists').expect(200)).body as ListLine[]).find((l) => l.id === clockId)!;
    expect(await line()).toMatchObject({ kind: 'clock', name: 'Evening hour', tracks: 0 });
    const before = (await line()).clock;
    await h.put(`/clocks/${clockId}`, { clock: { ...CLOCK, explicitFrom: '22:00' }, times: EVENINGS }).expect(200);
    expect(JSON.parse((await line()).clock!)).toMatchObject({ explicitFrom: '22:00', times: EVENINGS });
    await undo();
    expect((await line()).clock).toBe(before);
  });
  test('that is none is refused with what is wrong', async () => {
    const late = { ...CLOCK, items: [{ item: 'spoken', name: 'News', seconds: 60, fixed: { at: 4000 } }] };
    const { body } = await h.post('/clocks', { clock: late }).expect(400);
    expect(body.error.message).toBe('The format clock is not right: "News" is to begin after the end of the hour');
    await h.post('/clocks', { clock: { ...CLOCK, name: ' ' } }).expect(400);
  });
  test('holds no tracks', async () => {
    await h.post(`/lists/${clockId}/entries`, { selection: { ids: [1] } }).expect(409);
  });
});

describe('hours made by clocks', () => {
  test('land, keep their hard rules across hours, and are one change', async () => {
    made = (await h.post('/hours', { clockId: null, from: FROM, hours: 4 }).expect(200)).body as HoursMade;
    expect([made.listIds.length, made.open, made.title]).toEqual([3, 0, 'Make 3 hours by "Evening hour"']);
    expect(made.skipped).toEqual([{ at: FROM + 3 * 3600, why: 'no clock' }]);
    const hours = await Promise.all(made.listIds.map(hour));
    for (const { lines, off, rules, info } of hours) {
      expect(Math.abs(off)).toBeLessThan(1);
      expect(rules.filter((r) => r.hard).map((r) => r.state)).toEqual(['kept', 'kept']);
      expect(lines[0]).toMatchObject({ kind: 'spoken', name: 'News', at: info.onAirAt, off: 0 });
      expect(Math.abs(lines.find((l) => l.name === 'Headlines')!.off!)).toBeLessThan(1);
    }
    const ids = hours.flatMap((one) => tracksOf(one).map((l) => l.trackId));
    expect(new Set(ids).size).toBe(ids.length);
    expect(hours.map((one) => one.info.name)).toEqual(['Tue 1 Dec, 19:00', 'Tue 1 Dec, 20:00', 'Tue 1 Dec, 21:00']);
  });
  test('their progress is told under a name while they are filled, and under no other', async () => {
    const making = randomUUID();
    const ask = async (id: string): Promise<HoursProgress | null> => (await h.get(`/hours-making/${id}`)).body;
    let over = false;
    const wish = { clockId, from: FROM + 40 * 86_400, hours: 24, making };
    const done = h
      .post('/hours', wish)
      .expect(200)
      .then((answer) => {
        over = true;
        return answer.body as HoursMade;
      });
    const seen: (HoursProgress | null)[] = [];
    while (!over) {
      seen.push(await ask(making));
      expect(await ask(clockId)).toBeNull();
    }
    expect((await done).listIds).toHaveLength(24);
    const counts = seen.flatMap((p) => p?.done ?? []);
    expect(counts).toEqual([...counts].sort((a, b) => a - b));
    expect(counts.some((n) => n > 0)).toBe(true);
    expect(seen.every((p) => p === null || p.total === 24)).toBe(true);
    expect(await ask(making)).toBeNull();
    await undo();
  });
  test('are not made twice; other hours are not theirs', async () => {
    const again = await h.post('/hours', { clockId, from: FROM, hours: 3 }).expect(409);
    expect(again.body.error.message).toBe('These hours are there already');
    const none = await h.post('/hours', { clockId: null, from: FROM + 5 * 3600, hours: 1 }).expect(409);
    expect(none.body.error.message).toContain('No format clock is for these hours');
  });
  test('are lists: exported, undone as a whole and made again', async () => {
    const { body } = await h.get(`/lists/${made.listIds[0]}`).expect(200);
    expect((body as ListContents).entries.length).toBeGreaterThan(10);
    await undo();
    await h.get(`/hours/${made.listIds[0]}`).expect(404);
    await h.post('/undo', { redo: true }).expect(200);
    expect((await hour(made.listIds[0]!)).lines.length).toBeGreaterThan(10);
  });
});

describe('an hour by hand', () => {
  test('a rule that is broken is seen where, also for the sake of the hour before', async () => {
    const [first, second] = made.listIds as [string, string];
    const late = tracksOf(await hour(first)).at(-1)!;
    const early = tracksOf(await hour(second))[0]!;
    const places = [{ entryId: early.entryId, trackId: late.trackId, to: null }];
    await h.post(`/hours/${second}/places`, { places }).expect(200);
    const now = await hour(second);
    const line = tracksOf(now)[0]!;
    expect(line.trackId).toBe(late.trackId);
    // It may break a wished rule besides, after what happens to stand before it.
    expect(line.broken).toEqual(expect.arrayContaining(['Same artist not within 90 min', 'Not on air for 7 days']));
    expect(now.rules.filter((r) => r.hard).map((r) => [r.state, r.times >= 1])).toEqual([
      ['broken', true],
      ['broken', true],
    ]);
    await undo();
    expect(tracksOf(await hour(second))[0]).toMatchObject({ trackId: early.trackId, broken: [] });
  });
  test('a link that is longer moves what comes after it up to the next fixed time, and says how late that is', async () => {
    const id = made.listIds[0]!;
    const before = await hour(id);
    const link = before.lines.find((l) => l.name === 'Good evening')!;
    await h.patch(`/lists/${id}/entries/${link.entryId}`, { seconds: 50 }).expect(200);
    const after = await hour(id);
    const late = after.lines.find((l) => l.name === 'Headlines')!;
    expect(late.off).toBeCloseTo(before.lines.find((l) => l.name === 'Headlines')!.off! + 20, 1);
    expect(after.lines[2]!.toNext).toBe(late.off);
    await undo();
  });
  test('an opened slot is filled again, or by what lands on time', async () => {
    const id = made.listIds[0]!;
    const full = await hour(id);
    await h.get(`/hours/${id}/filling`).expect(409);
    const two = tracksOf(full).slice(1, 3);
    await h.post(`/hours/${id}/open`, { entryIds: two.map((l) => l.entryId) }).expect(200);
    const open = (await hour(id)).lines.filter((l) => l.kind === 'open');
    expect(open.map((l) => l.reason)).toEqual(['not filled yet', 'not filled yet']);
    const filling = (await h.get(`/hours/${id}/filling`).expect(200)).body as HourFilling;
    expect(filling.places.map((p) => p.entryId)).toEqual(open.map((l) => l.entryId));
    expect([filling.open, Math.abs(filling.off) < 1]).toEqual([0, true]);
    const { places, ends } = filling;
    const { changeSetId } = (
      await h
        .post(`/hours/${id}/places`, {
          places: places.map(({ entryId, trackId, to }) => ({ entryId, trackId, to })),
          ends,
        })
        .expect(200)
    ).body as Applied;
    expect(changeSetId).toBeGreaterThan(0);
    const filled = await hour(id);
    expect(filled.lines.map((l) => l.kind)).toEqual(full.lines.map((l) => l.kind));
    expect(Math.abs(filled.off)).toBeLessThan(1);
    expect(filled.rules.filter((r) => r.hard).every((r) => r.state === 'kept')).toBe(true);

    const place = tracksOf(filled)[3]!;
    const answer = (await h.get(`/hours/${id}/instead/${place.entryId}`).expect(200)).body as InsteadAnswer;
    expect(answer.next).toEqual({ name: 'Headlines', at: FROM + 1800 });
    const offs = answer.tracks.filter((t) => !t.hard).map((t) => Math.abs(t.off));
    expect(offs).toEqual([...offs].sort((a, b) => a - b));
    const best = answer.tracks[0]!;
    await h
      .post(`/hours/${id}/places`, { places: [{ entryId: place.entryId, trackId: best.trackId, to: null }] })
      .expect(200);
    const now = await hour(id);
    expect(tracksOf(now)[3]!.trackId).toBe(best.trackId);
    expect(now.lines.find((l) => l.name === 'Headlines')!.off).toBeCloseTo(best.off, 2);
    // What it was said to break is broken there, or behind it.
    const behind = tracksOf(now).slice(3);
    expect(best.broken).toEqual(expect.arrayContaining(behind[0]!.broken));
    expect(behind.flatMap((t) => t.broken)).toEqual(expect.arrayContaining(best.broken));
  });
  test('what is not an hour, or not there, is said', async () => {
    await h.get(`/hours/${clockId}`).expect(409);
    await h.get('/hours/8a0e3f1e-6c92-4d0e-9a66-0d9f4b8a7b11').expect(404);
    const link = (await hour(made.listIds[0]!)).lines.find((l) => l.name === 'Good evening')!;
    await h.get(`/hours/${made.listIds[0]}/instead/${link.entryId}`).expect(409);
  });
});

test('a share of an hour may be asked of a list, of which tracks know nothing by themselves', async () => {
  const { rows } = (await h.get('/tracks?limit=120').expect(200)).body as SheetPage;
  const ids = rows.map((r) => r.id);
  const crate = (await h.post('/lists', { kind: 'crate', name: 'Ours', selection: { ids } }).expect(200)).body;
  const rule = { rule: 'share', name: 'from Ours', from: { inLists: [crate.listId] }, least: 0.5, hard: true };
  const clock = { ...CLOCK, name: 'Ours first', rules: [rule] };
  const { listId } = (await h.post('/clocks', { clock }).expect(200)).body as { listId: string };
  const { listIds } = (await h.post('/hours', { clockId: listId, from: FROM + 86_400, hours: 1 }).expect(200))
    .body as HoursMade;
  const now = await hour(listIds[0]!);
  const places = now.lines.filter((l) => l.kind === 'track' || l.kind === 'open');
  const ours = places.filter((l) => l.trackId !== null && ids.includes(l.trackId));
  expect(ours.length).toBeGreaterThanOrEqual(places.length / 2);
  expect(now.rules).toEqual([{ text: 'at least 50 % from Ours', hard: true, state: 'kept', times: 0 }]);
});

describe('on air', () => {
  const month = async (): Promise<AirplayMonth> => (await h.get('/airings/2026-12').expect(200)).body as AirplayMonth;
  const read = async (text: string): Promise<LogRead> =>
    (await h.post('/airings', { name: 'December.csv', text }).expect(200)).body as LogRead;
  test('the running order says when, what, where it ends and why a slot is open; as a page, text, CSV and workbook', async () => {
    const id = made.listIds[0]!;
    const { lines } = await hour(id);
    const link = lines.find((l) => l.name === 'Good evening')!;
    await h.patch(`/lists/${id}/entries/${link.entryId}`, { out: 'here on the island' }).expect(200);
    const page = (await h.get(`/hours/${id}/running-order/html`).expect(200).expect('Content-Type', /html/)).text;
    expect(page).toContain('<h1>Tue 1 Dec, 19:00</h1><p>Tuesday 1 December 2026, 19:00:00 to 20:00:00, ');
    expect(page).toContain('“… here on the island”');
    const csv = (await h.get(`/hours/${id}/running-order/csv`).expect(200).expect('Content-Disposition', /\.csv/)).text;
    expect(csv.trim().split('\r\n')).toHaveLength(lines.length + 1);
    expect(csv).toContain('19:00:00,spoken,News,');
    const text = (await h.get(`/hours/${id}/running-order/txt`).expect(200)).text;
    expect(text).toContain('exactly at 19:30:00');
    const book = await h.get(`/hours/${id}/running-order/xlsx`).expect(200).responseType('blob');
    expect((book.body as Buffer).subarray(0, 2).toString()).toBe('PK');
    await undo();
  });
  test('what a log tells becomes use and is in the report of its month; read again, only what is new counts', async () => {
    // Two tracks of one artist and title may be either; their names alone have to tell them.
    const named = await h.query<{ name: string }>(
      `SELECT lower(title || '|' || array_to_string(artist, '; ')) AS name FROM tracks GROUP BY 1 HAVING count(*) = 1`,
    );
    const only = new Set(named.map((n) => n.name));
    const alone = ({ name, artist }: HourLine): boolean => only.has(`${name}|${artist}`.toLowerCase());
    const [a, b] = tracksOf(await hour(made.listIds[0]!)).filter(alone) as [HourLine, HourLine];
    const uses = async (id: number) => {
      const { values } = (await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails;
      return [values.timesUsed ?? null, values.lastUsed ?? null];
    };
    const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`;
    const line = (when: string, { name, artist }: Pick<HourLine, 'name' | 'artist'>, seconds = ''): string =>
      `${when},${quoted(name)},${quoted(artist)},${seconds}`;
    const log = [
      'time,title,artist,seconds',
      line('2026-12-01T19:03:10', a, '100'),
      line('2026-12-02T07:00:00', a, '50'),
      line('2026-12-02T07:05:00', { name: 'Nobody knows this', artist: 'Nobody' }, '30'),
      'later,x,y,',
    ];
    const first = await read(log.join('\n'));
    expect(first).toMatchObject({ read: 3, known: 0, matched: 2, unmatched: ['Nobody - Nobody knows this'] });
    expect(first.problems).toEqual([{ line: 5, reason: '"later" is no time' }]);
    const last = new Date('2026-12-02T07:00:00').toISOString().replace('.000', '');
    expect(await uses(a.trackId!)).toEqual([2, last]);
    expect((await month()).lines.map((l) => [l.trackId, l.times, l.seconds])).toEqual([
      [a.trackId, 2, 150],
      [null, 1, 30],
    ]);
    const again = await read([...log, line('2026-12-03T07:00:00', b)].join('\n'));
    expect(again).toMatchObject({ read: 1, known: 3, matched: 1 });
    expect([(await uses(a.trackId!))[0], (await uses(b.trackId!))[0]]).toEqual([2, 1]);
    const csv = (await h.get('/airings/2026-12/csv').expect(200)).text;
    expect(csv).toMatch(/,2,150\r\n/);

    await undo();
    await undo();
    expect([(await uses(a.trackId!))[0], (await month()).lines]).toEqual([null, []]);
    expect(await read(log.join('\n'))).toMatchObject({ read: 3, known: 0 });
    expect((await uses(a.trackId!))[0]).toBe(2);
  });
  test('of two tracks of one name, the one that stood in the hour was on air', async () => {
    const inHour = tracksOf(await hour(made.listIds[0]!));
    const [first] = await h.query<{ id: number; title: string; artist: string[] }>(
      `SELECT id, title, artist FROM tracks WHERE id NOT IN (SELECT track_id FROM list_entries
         WHERE track_id IS NOT NULL) ORDER BY id LIMIT 1`,
    );
    const played = inHour.find((l) => l.trackId! > first!.id)!;
    await h.query(
      'UPDATE tracks SET (title, artist) = (SELECT title, artist FROM tracks WHERE id = $2) WHERE id = $1',
      [first!.id, played.trackId],
    );
    const times = async (id: number): Promise<unknown> =>
      ((await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails).values.timesUsed ?? null;
    const before = Number((await times(played.trackId!)) ?? 0);
    const line = `"${played.name.replaceAll('"', '""')}","${played.artist.replaceAll('"', '""')}",60`;
    await read(['time,title,artist,seconds', `2026-12-01T19:40:00,${line}`, `2026-12-09T03:00:00,${line}`].join('\n'));
    expect([await times(first!.id), await times(played.trackId!)]).toEqual([null, before + 2]);
    await undo();
    await h.query('UPDATE tracks SET title = $2, artist = $3 WHERE id = $1', [first!.id, first!.title, first!.artist]);
  });
  test('artists are known however the log joins them', async () => {
    const both = await h.query<{ id: number; title: string; a: string; b: string }>(
      `SELECT min(id) AS id, title, artist[1] AS a, artist[2] AS b FROM tracks WHERE array_length(artist, 1) = 2
        GROUP BY 2, 3, 4 HAVING count(*) = 1 ORDER BY 1 LIMIT 3`,
    );
    const [x, y, z] = both as [(typeof both)[0], (typeof both)[0], (typeof both)[0]];
    const said = [`${x.a}; ${x.b}`, `${y.b} & ${y.a}`, `${z.a.toUpperCase()} feat. ${z.b}`];
    const lines = both.map(({ title }, i) => `2027-02-0${i + 1}T10:00:00,"${title}","${said[i]}",10`);
    expect(await read(['time,title,artist,seconds', ...lines].join('\n'))).toMatchObject({ matched: 3, unmatched: [] });
    await undo();
  });
  test('what is no log is said', async () => {
    const { body } = await h.post('/airings', { name: 'list.csv', text: 'a,b\n1,2' }).expect(400);
    expect(body.error.message).toBe('list.csv: The log has no column "time"');
    await h.get('/airings/2026-13').expect(400);
  });
});
