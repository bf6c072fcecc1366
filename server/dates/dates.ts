/** Dates to prepare for: gigs and shows, each with its crates and playlists, and how ready their tracks are. */
import type { Applied, DateInfo, DateLine } from '@early-set/core/api/types';
import { editDate } from '@early-set/core/changes/kinds/editDate';
import { compileCondition } from '../library/conditionSql.ts';
import { lacksOne, type GapRules } from '@early-set/core/conditions/needs';
import { applyDraft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import { notFound } from '../base/problem.ts';
import { deskSettings } from '../db/settings.ts';
import { DATE_SELECT, newDateId } from '../library/dateRows.ts';

type Kept = DateInfo & { id: number };

const SELECT = `SELECT ${DATE_SELECT} FROM dates`;

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

/** Makes a date, or changes one, as a change that can be taken back. @throws Problem when there is none */
export async function keepDate(context: ChangeContext, id: number | null, info: DateInfo): Promise<Kept> {
  const { database } = context;
  return context.inTurn(async () => {
    const before = id === null ? null : await dateById(database, id);
    const next = id ?? (await newDateId(database));
    const title = before ? `Change the date ${info.name}` : `New date ${info.name}`;
    if (before && JSON.stringify(before) === JSON.stringify(info)) return { ...info, id: next };
    await applyDraft(context, { title, items: [editDate(next, before, info)] });
    return { ...info, id: next };
  });
}

/** Takes a date off. @throws Problem when there is none */
export const removeDate = (context: ChangeContext, id: number): Promise<Applied> =>
  context.inTurn(async () => {
    const before = await dateById(context.database, id);
    return (await applyDraft(context, { title: `Remove the date ${before.name}`, items: [editDate(id, before, null)] }))
      .applied;
  });

async function dateById(database: Database, id: number): Promise<DateInfo> {
  const [row] = await database.rows<Kept>(`SELECT ${DATE_SELECT} FROM dates WHERE id = $1`, [id]);
  if (!row) throw notFound('The date');
  const { name, kind, day, startsAt, asks, listIds } = row;
  return { name, kind, day, startsAt, asks, listIds };
}
