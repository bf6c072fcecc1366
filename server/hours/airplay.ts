/** What was really on air: read from playout logs, counted as use, and told by month. */
import { format } from 'date-fns';
import type { Applied } from '@early-set/core/api/types';
import type { AirplayMonth, LogRead } from '@early-set/core/api/hours';
import { usesOf } from '@early-set/core/changes/uses';
import { artistNames } from '@early-set/core/exchange/matchEntries';
import { fold } from '@early-set/core/fields/fold';
import { readPlayoutLog, type LoggedLine } from '@early-set/core/hours/playoutLog';
import { Problem } from '../base/problem.ts';
import { applyDraft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import { heldNow } from '../library/trackStore.ts';
import { quoted, several } from '../lists/lists.ts';

interface Known {
  id: number;
  title: string | null;
  artist: string[] | null;
  path: string;
  playoutId: number | null;
}
const fileNameOf = (path: string): string => fold(path.split(/[\\/]/).at(-1) ?? '');
/** Logs join artists as they like: what counts is who they are. */
const nameKey = (artists: readonly string[], title: string): string =>
  `${[...new Set(artists.flatMap(artistNames).map(fold))].sort().join(';')}\n${fold(title).trim()}`;

/** An hour is looked for so many seconds around a line: it may have begun before, or been late. */
const AROUND_HOUR = 2 * 3600;

/** Of tracks that one line could mean, the one that an hour of that time holds; else one of any hour, or the first. */
async function planned(database: Database): Promise<(ids: readonly number[], at: number) => number> {
  const rows = await database.rows<{ id: number; at: number }>(
    `SELECT e.track_id AS id, l.on_air_at AS at
       FROM list_entries e JOIN lists l ON l.id = e.list_id
      WHERE l.kind = 'hour' AND NOT l.removed AND l.on_air_at IS NOT NULL AND e.track_id IS NOT NULL`,
  );
  const hours = new Map<number, number[]>();
  for (const { id, at } of rows) hours.set(id, [...(hours.get(id) ?? []), at]);
  return (ids, at) =>
    ids.find((id) => hours.get(id)?.some((hour) => Math.abs(at - hour) < AROUND_HOUR) ?? false) ??
    ids.find((id) => hours.has(id)) ??
    ids[0]!;
}

/** Finds the track of a line: by playout ID, by the name of its file, by title and artist. */
async function finder(database: Database): Promise<(line: LoggedLine) => number | null> {
  const tracks = await database.rows<Known>(
    'SELECT id, title, artist, path, playout_id AS "playoutId" FROM tracks ORDER BY id',
  );
  const byId = new Map(tracks.flatMap((t) => (t.playoutId === null ? [] : [[t.playoutId, t.id] as const])));
  const byFile = new Map<string, number>(),
    byName = new Map<string, number[]>();
  for (const { id, title, artist, path } of tracks) {
    if (!byFile.has(fileNameOf(path))) byFile.set(fileNameOf(path), id);
    const key = nameKey(artist ?? [], title ?? '');
    if (title) byName.set(key, [...(byName.get(key) ?? []), id]);
  }
  const choose = await planned(database);
  return ({ playoutId, path, title, artist, at }) => {
    const named = title ? byName.get(nameKey([artist], title)) : undefined;
    return (
      (playoutId === null ? undefined : byId.get(playoutId)) ??
      (path === null ? undefined : byFile.get(fileNameOf(path))) ??
      (named ? choose(named, at) : null)
    );
  };
}

const latestOf = (lines: readonly LoggedLine[]): number => lines.reduce((at, l) => Math.max(at, l.at), 0);

/** Lines are told apart by their time and title. */
const lineKey = (at: number, title: string): string => `${Math.round(at * 1000)} ${title}`;

/** Those of a log that no log has told before; what was taken back counts as never told. */
async function newLines(database: Database, lines: readonly LoggedLine[]): Promise<LoggedLine[]> {
  const earliest = lines.reduce((at, l) => Math.min(at, l.at), Infinity);
  const known = await database.rows<{ at: number; title: string }>(
    `SELECT extract(epoch FROM a.at)::float8 AS at, a.title FROM airings a
       LEFT JOIN change_sets c ON c.id = a.change_set_id
      WHERE c.undone_by IS NULL AND a.at >= to_timestamp($1) AND a.at <= to_timestamp($2)`,
    [earliest - 1, latestOf(lines) + 1],
  );
  const there = new Set(known.map((k) => lineKey(k.at, k.title)));
  return lines.filter((l) => {
    const key = lineKey(l.at, l.title);
    return !there.has(key) && there.add(key);
  });
}

/** Reads a log: its lines are kept, and count as use of their tracks, as one change. @throws Problem when it is none */
export const readLog = (context: ChangeContext, name: string, text: string): Promise<LogRead> =>
  context.inTurn(async () => {
    const { database } = context;
    const log = readPlayoutLog(text);
    if (typeof log === 'string') throw new Problem(400, 'no-log', `${name}: ${log}`);
    if (log.lines.length === 0) throw new Problem(400, 'no-log', `${name}: no line of it says what was on air`);
    const fresh = await newLines(database, log.lines);
    // Where all of it is known, as of a log that is read again, the library is not looked through.
    const find = fresh.length > 0 ? await finder(database) : () => null;
    const found = fresh.map((line) => ({ line, trackId: find(line) }));
    const told: LogRead = {
      applied: null,
      month: format(new Date(latestOf(log.lines) * 1000), 'yyyy-MM'),
      read: fresh.length,
      known: log.lines.length - fresh.length,
      matched: found.filter((f) => f.trackId !== null).length,
      unmatched: found.flatMap(({ line, trackId }) =>
        trackId === null ? [[line.artist, line.title].filter(Boolean).join(' - ')] : [],
      ),
      problems: log.problems,
    };
    if (fresh.length === 0) return told;
    const uses = new Map<number, { last: number; times: number }>();
    for (const { line, trackId } of found) {
      if (trackId === null) continue;
      const own = uses.get(trackId) ?? { last: 0, times: 0 };
      uses.set(trackId, { last: Math.max(own.last, line.at), times: own.times + 1 });
    }
    const held = await heldNow(database, [...uses.keys()], ['lastUsed', 'timesUsed']);
    const now = new Date().toISOString();
    const items = [...uses].flatMap(([id, { last, times }]) =>
      usesOf(id, (field) => held(id, field), new Date(last * 1000), now, times),
    );
    const rows = JSON.stringify(
      found.map(({ line, trackId }) => ({ ...line, trackId, at: new Date(line.at * 1000).toISOString() })),
    );
    const keep =
      (changeSet: 'NULL' | "currval('change_sets_id_seq')") => async (t?: Parameters<Database['run']>[2]) => {
        await database.run(
          'DELETE FROM airings a USING change_sets c WHERE c.id = a.change_set_id AND c.undone_by IS NOT NULL',
          [],
          t,
        );
        await database.run(
          `INSERT INTO airings (at, title, artist, track_id, seconds, change_set_id)
          SELECT v.at, v.title, v.artist, v."trackId", v.seconds, ${changeSet}
          FROM jsonb_to_recordset($1::jsonb) AS v(at timestamptz, title text, artist text, "trackId" int, seconds float8)
          ON CONFLICT DO NOTHING`,
          [rows],
          t,
        );
      };
    if (items.length === 0) {
      await keep('NULL')();
      return told;
    }
    const title = `On air: ${several(told.matched, 'track')} by ${quoted(name)}`;
    const { applied } = await applyDraft(context, { title, items, also: keep("currval('change_sets_id_seq')") });
    return { ...told, applied: applied satisfies Applied };
  });

/** What was on air in a month, "2026-12", where the desk stands. */
export async function airplayOf(database: Database, month: string): Promise<AirplayMonth> {
  const [year, of] = month.split('-').map(Number);
  const [from, to] = [new Date(year!, of! - 1, 1), new Date(year!, of!, 1)];
  const lines = await database.rows<AirplayMonth['lines'][number]>(
    `SELECT min(a.track_id) AS "trackId", COALESCE(min(t.title), min(a.title)) AS title,
        COALESCE(min(array_to_string(t.artist, '; ')), min(a.artist)) AS artist,
        COALESCE(min(array_to_string(t.composer, '; ')), '') AS composer, COALESCE(min(t.label), '') AS label,
        COALESCE(min(t.isrc), '') AS isrc, count(*)::int AS times,
        COALESCE(sum(COALESCE(a.seconds, t.duration_seconds)), 0)::float8 AS seconds
      FROM airings a LEFT JOIN tracks t ON t.id = a.track_id LEFT JOIN change_sets c ON c.id = a.change_set_id
      WHERE a.at >= $1 AND a.at < $2 AND c.undone_by IS NULL
      GROUP BY COALESCE(a.track_id::text, a.title || chr(10) || a.artist) ORDER BY times DESC, title, artist`,
    [from.toISOString(), to.toISOString()],
  );
  const months = await database.rows<{ month: string }>(
    `SELECT DISTINCT to_char(a.at AT TIME ZONE $1, 'YYYY-MM') AS month FROM airings a
       LEFT JOIN change_sets c ON c.id = a.change_set_id WHERE c.undone_by IS NULL ORDER BY 1 DESC`,
    [Intl.DateTimeFormat().resolvedOptions().timeZone],
  );
  return { month, lines, months: months.map((m) => m.month) };
}
