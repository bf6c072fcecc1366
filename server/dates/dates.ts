/** Dates to prepare for: gigs and shows, each with its crates and playlists, and how ready their tracks are. */
import type { DateInfo, DateLine } from '@early-set/core/api/types';
import { compileCondition } from '@early-set/core/conditions/compile';
import { lacksOne, type GapRules } from '@early-set/core/conditions/needs';
import type { Database } from '../db/database.ts';
import { notFound } from '../problem.ts';
import { deskSettings } from '../settings.ts';

type Kept = DateInfo & { id: number };

const SELECT = `SELECT id, name, kind, to_char(day, 'YYYY-MM-DD') AS day, starts_at AS "startsAt", asks, list_ids::text[] AS "listIds" FROM dates`;

/** Those that are still ahead of a day, or have been, the nearest first. */
export async function dateLines(database: Database, today: string, past = false): Promise<DateLine[]> {
  const kept = await database.rows<Kept>(
    past
      ? `${SELECT} WHERE day < $1::date ORDER BY day DESC, starts_at DESC NULLS LAST, id LIMIT 100`
      : `${SELECT} WHERE day >= $1::date ORDER BY day, starts_at NULLS LAST, id LIMIT 100`,
    [today],
  );
  const { gapRules } = await deskSettings();
  return Promise.all(kept.map((date) => withReadiness(database, date, gapRules)));
}

async function withReadiness(database: Database, date: Kept, rules: GapRules): Promise<DateLine> {
  const lists = await database.rows<DateLine['lists'][number] & { chosen: boolean }>(
    `WITH RECURSIVE below AS (SELECT id FROM lists WHERE id = ANY($1::uuid[]) AND NOT removed UNION SELECT l.id FROM lists l JOIN below b ON l.parent_id = b.id WHERE NOT l.removed)
     SELECT l.id, l.name, l.kind, l.id = ANY($1::uuid[]) AS chosen FROM below b JOIN lists l ON l.id = b.id ORDER BY l.kind, l.position, l.name`,
    [date.listIds],
  );
  const within = lists.map((l) => l.id);
  const values: unknown[] = [within];
  const filled = `NOT (${compileCondition(lacksOne(rules[date.asks]), values).text})`,
    measured = "t.analysis_state = 'done'",
    here = "t.file_state = 'here'",
    written = "cardinality(COALESCE(t.unwritten, '{}')) = 0";
  const [counts] = await database.rows<Omit<DateLine, keyof Kept | 'lists' | 'within'>>(
    `SELECT count(*) AS tracks, COALESCE(sum(t.duration_seconds), 0) AS seconds, count(*) FILTER (WHERE ${measured}) AS measured, count(*) FILTER (WHERE ${filled}) AS filled,
       count(*) FILTER (WHERE ${here}) AS here, count(*) FILTER (WHERE ${written}) AS written, count(*) FILTER (WHERE ${measured} AND ${filled} AND ${here} AND ${written}) AS ready
     FROM tracks t WHERE t.id IN (SELECT track_id FROM list_entries WHERE list_id = ANY($1::uuid[]))`,
    values,
  );
  return {
    ...date,
    lists: lists.filter((l) => l.chosen).map(({ id, name, kind }) => ({ id, name, kind })),
    within,
    ...counts!,
  };
}

const fieldsOf = ({ name, kind, day, startsAt, asks, listIds }: DateInfo): unknown[] => [
  name,
  kind,
  day,
  startsAt,
  asks,
  listIds,
];

/** Keeps a date: a new one, or another in place of one. @throws Problem when there is none */
export async function keepDate(database: Database, id: number | null, info: DateInfo): Promise<Kept> {
  const [row] =
    id === null
      ? await database.rows<{ id: number }>(
          'INSERT INTO dates (name, kind, day, starts_at, asks, list_ids) VALUES ($1, $2, $3::date, $4, $5, $6::uuid[]) RETURNING id',
          fieldsOf(info),
        )
      : await database.rows<{ id: number }>(
          'UPDATE dates SET name = $1, kind = $2, day = $3::date, starts_at = $4, asks = $5, list_ids = $6::uuid[] WHERE id = $7 RETURNING id',
          [...fieldsOf(info), id],
        );
  if (!row) throw notFound('The date');
  await database.notify({ kind: 'dates' });
  return { ...info, id: row.id };
}

/** Takes a date off; what it was is given back, so that it can be kept again. @throws Problem when there is none */
export async function removeDate(database: Database, id: number): Promise<Kept> {
  const [row] = await database.rows<Kept>(`${SELECT} WHERE id = $1`, [id]);
  if (!row) throw notFound('The date');
  await database.run('DELETE FROM dates WHERE id = $1', [id]);
  await database.notify({ kind: 'dates' });
  return row;
}
