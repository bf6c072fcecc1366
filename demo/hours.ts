/** A format clock of the island's station, and two hours made by it: one that is full, and one with an open slot. */
import { format } from 'date-fns';
import pg from 'pg';
import type { Condition } from '@early-set/core/conditions/condition';
import { aliasNames, airable, type Airable } from '@early-set/core/hours/airing';
import type { FormatClock } from '@early-set/core/hours/clock';
import { fillHours } from '@early-set/core/hours/day';
import { HOUR_FIELDS } from '@early-set/core/hours/fields';
import type { HourItem } from '@early-set/core/hours/judge';
import { entryOf, writeClock } from '@early-set/core/hours/kept';
import { withStationFiles, type StationFile } from '@early-set/core/hours/stationFiles';
import { findField } from '@early-set/core/fields/table';
import type { FieldValue, TrackValues } from '@early-set/core/fields/values';
import { idOf } from './lists.ts';
import { PLAN } from './scenario/plan.ts';
import { STATION } from './scenario/station.ts';
import type { TagHabit } from './scenario/tracks.ts';
import { makePlayout } from './playout.ts';

const DUB: Condition = { field: 'genre', test: 'one of', values: ['Dub'] };
const NO_DUB: Condition = { not: DUB };
const hard = { hard: true, weight: 10 },
  wished = { hard: false, weight: 10 };

/** Speech takes half of it: the demo's tracks are short. */
const CLOCK: FormatClock = {
  name: 'Morning hour',
  seconds: 3600,
  items: [
    { item: 'spoken', name: 'News from the harbour office', seconds: 180, fixed: { at: 0, when: 'exact' } },
    { item: 'jingle', name: 'Top of the hour', seconds: 9 },
    { item: 'link', name: 'Good morning, and the tide', seconds: 38, overIntro: 8, bed: 'Bed, Morning' },
    { item: 'track', name: 'First track', energy: 40, from: NO_DUB },
    { item: 'filler', name: 'Music', most: 8, from: NO_DUB },
    { item: 'spoken', name: 'Harbour talk', seconds: 720 },
    { item: 'jingle', name: 'Skerry jingle', seconds: 6 },
    { item: 'filler', name: 'Music', most: 8, from: NO_DUB },
    { item: 'spoken', name: 'Headlines', seconds: 90, fixed: { at: 1800, when: 'exact' } },
    { item: 'link', name: 'Ferry times', seconds: 54, overIntro: 6, bed: 'Bed, Tide Times' },
    { item: 'track', name: 'From the boatyard', from: DUB },
    { item: 'filler', name: 'Music', most: 8, from: NO_DUB },
    { item: 'spoken', name: 'A page of the log', seconds: 660 },
    { item: 'jingle', name: 'Skerry jingle', seconds: 6 },
    { item: 'track', name: 'Another from the boatyard', from: DUB },
    { item: 'filler', name: 'Music', most: 10, from: NO_DUB },
  ],
  rules: [
    { ...hard, rule: 'rested', days: 1 },
    { ...hard, rule: 'apart', what: 'title', minutes: 120 },
    { ...hard, rule: 'apart', what: 'artist', minutes: 3 },
    { ...wished, rule: 'apart', what: 'artist', minutes: 12 },
    { ...wished, rule: 'in a row', what: 'genre', most: 2 },
    { ...wished, rule: 'intro for link' },
    { ...wished, rule: 'loudness step', most: 9 },
  ],
};
const TIMES = [{ days: ['tue'] as const, from: '07:00', to: '09:00' }];
/** What reads well as it is; what is still to be cleaned is not put on air, nor what is no music. */
const READS_WELL: readonly TagHabit[] = ['full', 'latin1', 'wrong-year', 'guest-in-title', 'version-in-title'];
const READY = new Set(PLAN.filter((p) => READS_WELL.includes(p.tags) && p.genre !== 'Station').map((p) => p.path));
const HOURS = 2,
  SEED = 10;

/**
 * Makes them once all music is measured, for the show that is to come; once, as the lists are made.
 * @returns false while something is still to be measured
 */
export async function makeDemoHours(databaseUrl: string, musicFolder: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const clockId = idOf(CLOCK.name);
    if ((await client.query('SELECT FROM lists WHERE id = $1', [clockId])).rowCount) return true;
    const tracks = await measuredTracks(client, musicFolder);
    if (!tracks) return false;
    const {
      rows: [show],
    } = await client.query<{ id: number; day: string; time: string }>(
      `SELECT id, day::text, starts_at AS time FROM dates WHERE kind = 'show' AND starts_at IS NOT NULL ORDER BY day LIMIT 1`,
    );
    if (!show) return true;
    const first = new Date(`${show.day}T${show.time}`).getTime() / 1000;
    const hours = Array.from({ length: HOURS }, (_, i) => first + i * CLOCK.seconds);
    await client.query('BEGIN');
    const { clock, fileAt } = withStationFiles(CLOCK, await stationFiles(client, musicFolder));
    const filled = fillHours({ hours, clockOf: () => clock, tracks, seed: SEED });
    await insertList(client, clockId, { kind: 'clock', name: CLOCK.name, clock: { ...CLOCK, times: TIMES }, at: null });
    for (const [i, { items }] of filled.entries()) {
      const at = hours[i]!,
        name = format(new Date(at * 1000), 'EEE d MMM, HH:mm');
      const id = idOf(`hour ${i}`);
      await insertList(client, id, { kind: 'hour', name, clock: { ...clock, times: [] }, at });
      await insertItems(client, id, items, fileAt);
    }
    await client.query('UPDATE dates SET list_ids = list_ids || $2::uuid WHERE id = $1', [show.id, idOf('hour 0')]);
    await makePlayout(
      client,
      musicFolder,
      filled.map((_, i) => idOf(`hour ${i}`)),
    );
    for (const event of [{ kind: 'lists', listIds: [] }, { kind: 'dates' }])
      await client.query("SELECT pg_notify('early_set', $1)", [JSON.stringify(event)]);
    await client.query('COMMIT');
    return true;
  } finally {
    await client.end();
  }
}

/** All of the demo's music that can go on air; null while some of it is not measured. */
async function measuredTracks(client: pg.Client, musicFolder: string): Promise<Airable[] | null> {
  const fields = HOUR_FIELDS.map((id) => `t.${findField(id)!.column} AS "${id}"`).join(', ');
  const { rows } = await client.query<{ id: number; state: string } & Record<string, FieldValue | Date>>(
    `SELECT t.id, t.analysis_state AS state, ${fields} FROM tracks t JOIN roots r ON r.id = t.root_id WHERE r.path = $1
      ORDER BY t.path`,
    [musicFolder],
  );
  const measured = rows.filter((r) => r.state === 'done' || r.state === 'failed');
  if (measured.length < Math.max(PLAN.length + STATION.length, rows.length)) return null;
  return rows.flatMap(({ id, ...own }) => {
    const values: TrackValues = Object.fromEntries(
      Object.entries(own).map(([field, value]) => [field, value instanceof Date ? value.toISOString() : value]),
    );
    const known = READY.has(String(values.path)) && values.title && values.artist && values.genre;
    const track = known ? airable(id, values, aliasNames()) : null;
    return track ? [track] : [];
  });
}

/** Says of the station's files what they are. @returns what is spoken, and jingles */
async function stationFiles(client: pg.Client, musicFolder: string): Promise<StationFile[]> {
  const kinds = [
    ...STATION.map(({ path, kind }) => ({ path, kind })),
    ...PLAN.filter((p) => p.genre === 'Station').map(({ path }) => ({ path, kind: 'bed' })),
  ];
  const { rows } = await client.query<StationFile & { kind: string }>(
    `UPDATE tracks t SET kind = v.kind FROM roots r, jsonb_to_recordset($2::jsonb) AS v(path text, kind text)
      WHERE r.id = t.root_id AND r.path = $1 AND t.path = v.path
      RETURNING t.id, t.kind, t.title, t.duration_seconds AS seconds`,
    [musicFolder, JSON.stringify(kinds)],
  );
  return rows.filter((r) => r.kind !== 'bed');
}

interface Made {
  kind: 'clock' | 'hour';
  name: string;
  clock: Parameters<typeof writeClock>[0];
  at: number | null;
}

const insertList = (client: pg.Client, id: string, { kind, name, clock, at }: Made): Promise<unknown> =>
  client.query(
    `INSERT INTO lists (id, kind, name, position, removed, clock, on_air_at, updated_at)
      VALUES ($1, $2, $3, $4, false, $5, $6, now() - interval '1 hour')`,
    [id, kind, name, at ?? 1, writeClock(clock), at],
  );

const insertItems = (
  client: pg.Client,
  listId: string,
  items: readonly HourItem[],
  fileAt: (slot: number) => number | null,
): Promise<unknown> =>
  client.query(
    `INSERT INTO list_entries (id, list_id, kind, track_id, data, position)
      SELECT gen_random_uuid(), $1, v.kind, v."trackId", v.data, v.n FROM jsonb_to_recordset($2::jsonb)
        AS v(kind text, "trackId" int, data jsonb, n int)`,
    [listId, JSON.stringify(items.map((item, n) => ({ ...entryOf(item, fileAt(item.slot)), n })))],
  );
