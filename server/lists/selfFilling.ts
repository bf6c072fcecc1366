/** Self-filling crates: their rules are checked, their tracks read, and they are made plain crates. */
import type { Applied, ListEntryRow, SheetRow } from '@early-set/core/api/types';
import { inTurn, readRule, writeRule, type Rule } from '@early-set/core/conditions/rule';
import { addTracks, describeList } from '@early-set/core/changes/lists';
import type { ListInfo, ListState } from '@early-set/core/changes/snapshot';
import { randomUUID } from 'node:crypto';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { compileCondition } from '../library/conditionSql.ts';
import { sheetRows } from '../library/sheet.ts';
import { membersSql } from './ruleMembers.ts';

/** So many of its tracks are read for the page; the rest is in the sheet. */
export const SHOWN_MEMBERS = 2000;

/** A rule as it is kept. @throws Problem when crates would ask about each other in a circle, or it makes no sense */
export async function checkedRule(database: Database, listId: string, rule: Rule): Promise<string> {
  compileCondition(rule.where); // every field is known
  const others = await database.rows<{ id: string; text: string }>(
    'SELECT id, rule AS text FROM lists WHERE rule IS NOT NULL AND id <> $1::uuid',
    [listId],
  );
  const all = others.flatMap(({ id, text }) => {
    const read = readRule(text);
    return read ? [{ id, rule: read }] : [];
  });
  if (inTurn([...all, { id: listId, rule }]) === null)
    throw new Problem(400, 'circle', 'A self-filling crate cannot ask about itself, by way of others either');
  return writeRule(rule);
}

/** Ids of the tracks in a self-filling crate, in its order: that of its limit, or by artist and title. */
export async function memberIds(database: Database, listId: string, { rule: text }: ListInfo): Promise<number[]> {
  const rule = text === null ? null : readRule(text);
  if (!rule) return [];
  const { text: sql, values } = rule.limit
    ? membersSql(rule)
    : {
        text: `SELECT t.id FROM rule_members m JOIN tracks t ON t.id = m.track_id WHERE m.list_id = $1::uuid
          ORDER BY t.artist_sort NULLS LAST, t.title_sort NULLS LAST, t.id`,
        values: [listId],
      };
  return (await database.rows<{ id: number }>(sql, values)).map((r) => r.id);
}

/** Its tracks as entries, and how many there are. */
export async function memberEntries(
  database: Database,
  listId: string,
  info: ListInfo,
  { limit, fields }: { limit?: number; fields?: readonly string[] },
): Promise<{ entries: ListEntryRow[]; total: number }> {
  const ids = await memberIds(database, listId, info);
  const rows: SheetRow[] = await sheetRows(database, ids.slice(0, limit), fields);
  return {
    entries: rows.map((row) => ({ ...row, entryId: `member-${row.id}`, kind: 'track', data: {} })),
    total: ids.length,
  };
}

/** Makes a self-filling crate a plain one that holds what it holds now. */
export async function freezeList(context: Applying, listId: string, state: ListState): Promise<Applied> {
  if (state.info.rule === null) throw new Problem(409, 'nothing-to-do', 'The crate does not fill itself');
  const plain: ListState = { info: { ...state.info, rule: null }, entries: [] };
  const items = [
    ...describeList(listId, state, { rule: null }),
    ...addTracks(listId, plain, await memberIds(context.database, listId, state.info), randomUUID),
  ];
  return (await applyDraft(context, { title: `Freeze "${state.info.name}" into a plain crate`, items })).applied;
}
