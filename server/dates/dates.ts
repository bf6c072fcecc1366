/** Dates to prepare for: gigs and shows, each with its crates and playlists, and how ready their tracks are. */
import type { Applied, DateInfo, DateLine } from '@early-set/core/api/types';
import { editDate } from '@early-set/core/changes/kinds/editDate';
import { compileCondition } from '../library/conditionSql.ts';
import { lacksOne, type GapRules } from '@early-set/core/conditions/needs';
import { applyDraft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import { literal, Op } from 'sequelize';
import type { Database } from '../db/database.ts';
import { PlannedDate } from '../db/models.ts';
import { notFound } from '../base/problem.ts';
import { deskSettings } from '../db/settings.ts';
import { infoOf, newDateId } from '../library/dateRows.ts';

type Kept = DateInfo & { id: number };

/** So many are told at most. */
const MAX_DATES = 100;

/** Those that are still ahead of a day, or have been, the nearest first. */
export async function dateLines(database: Database, today: string, past = false): Promise<DateLine[]> {
  const nearest = past ? 'DESC' : 'ASC';
  const found = await PlannedDate.findAll({
    where: { day: past ? { [Op.lt]: today } : { [Op.gte]: today } },
    order: [['day', nearest], literal(`starts_at ${nearest} NULLS LAST`), 'id'],
    limit: MAX_DATES,
  });
  const kept = found.map((date): Kept => ({ id: date.id, ...infoOf(date) }));
  const { gapRules } = await deskSettings();
  return Promise.all(kept.map((date) => withReadiness(database, date, gapRules)));
}

async function withReadiness(database: Database, date: Kept, rules: GapRules): Promise<DateLine> {
  const lists = await database.rows<DateLine['lists'][number] & { chosen: boolean }>(
    `WITH RECURSIVE below AS (SELECT id FROM lists WHERE id = ANY($1::uuid[]) AND NOT removed UNION SELECT l.id
      FROM lists l JOIN below b ON l.parent_id = b.id WHERE NOT l.removed)
     SELECT l.id, l.name, l.kind, l.id = ANY($1::uuid[]) AS chosen FROM below b JOIN lists l ON l.id = b.id
       ORDER BY l.kind, l.position, l.name`,
    [date.listIds],
  );
  const within = lists.map((l) => l.id);
  const values: unknown[] = [within];
  const filled = `NOT (${compileCondition(lacksOne(rules[date.asks]), values).text})`,
    measured = "t.analysis_state = 'done'",
    here = "t.file_state = 'here'",
    written = "cardinality(COALESCE(t.unwritten, '{}')) = 0";
  const [counts] = await database.rows<Omit<DateLine, keyof Kept | 'lists' | 'within'>>(
    `SELECT count(*) AS tracks, COALESCE(sum(t.duration_seconds), 0) AS seconds,
      count(*) FILTER (WHERE ${measured}) AS measured, count(*) FILTER (WHERE ${filled}) AS filled,
       count(*) FILTER (WHERE ${here}) AS here, count(*) FILTER (WHERE ${written}) AS written,
         count(*) FILTER (WHERE ${measured} AND ${filled} AND ${here} AND ${written}) AS ready
     FROM tracks t WHERE t.id IN (SELECT track_id FROM list_tracks WHERE list_id = ANY($1::uuid[]))`,
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
    const before = id === null ? null : await dateById(id);
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
    const before = await dateById(id);
    return (await applyDraft(context, { title: `Remove the date ${before.name}`, items: [editDate(id, before, null)] }))
      .applied;
  });

async function dateById(id: number): Promise<DateInfo> {
  const date = await PlannedDate.findByPk(id);
  if (!date) throw notFound('The date');
  return infoOf(date);
}
