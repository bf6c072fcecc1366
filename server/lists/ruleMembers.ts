/**
 * Who is in self-filling crates. Worked out once for each rule, and then only for tracks that have changed, and only
 * where the change can concern a rule.
 */
import { asksTheDay, fieldsOfRule, inTurn, listsOfRule, readRule, type Rule } from '@early-set/core/conditions/rule';
import type { Condition } from '@early-set/core/conditions/condition';
import { findField } from '@early-set/core/fields/table';
import type { Transaction } from 'sequelize';
import { log } from '../base/log.ts';
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import type { Database } from '../db/database.ts';
import { compileCondition, type Sql } from '../library/conditionSql.ts';
import { createCounts, type Counts } from '../library/facets/counts.ts';
import { MAX_TOUCHED, takeTouched, type Touched } from '../library/facets/touched.ts';
import { byFolder, exchange, folderOfRule, type Member } from './members.ts';

export interface RuleMembers {
  /** Something has changed that rules may ask about. */
  changed(): void;
  /** Resolves when everybody is where they belong. */
  fresh(): Promise<void>;
}

/** Held while members are worked out, so that two processes do not do it at once. */
const LOCK = 0x5e1f;

interface Crate {
  id: string;
  text: string;
  rule: Rule;
  /** The rule by which it was filled last, and on which day. */
  filled: string | null;
  day: string | null;
}

/**
 * Keeps members up to date.
 * @param moved told of the crates whose tracks have changed
 * @param counts what hands changed tracks on
 */
export function createRuleMembers(
  database: Database,
  moved: (listIds: string[]) => void = () => undefined,
  now: () => Date = () => new Date(),
  counts: Counts = createCounts(database),
): RuleMembers {
  let stale = true,
    lastDay = '';
  let running: Promise<void> | null = null;
  const run = async (): Promise<void> => {
    while (stale) {
      stale = false;
      try {
        lastDay = dayOf(now());
        await counts.take();
        const ids = await database.transaction((t) => workOut(database, now(), t));
        if (ids.length) moved(ids);
      } catch (error) {
        stale = true;
        throw error;
      }
    }
  };
  return {
    changed() {
      stale = true;
      counts.changed();
    },
    async fresh() {
      if (lastDay !== dayOf(now())) stale = true;
      // What is under way may have looked already.
      while (stale || running) {
        running ??= run().finally(() => (running = null));
        await running;
      }
    },
  };
}

const SOON_MS = 150;

/** Keeps crates filled, and counts, without being asked: soon after each change, and when a day begins. */
export function keepFilled(members: RuleMembers, counts: Counts): SoonAndDaily {
  const work = (): Promise<void> => members.fresh().then(() => counts.refill());
  const kept = soonAndDaily(work, SOON_MS, 'self-filling crates and counts could not be brought up to date');
  return {
    ...kept,
    soon() {
      members.changed();
      kept.soon();
    },
  };
}

const dayOf = (at: Date): string => `${at.getFullYear()}-${at.getMonth() + 1}-${at.getDate()}`;

/** Works out what has to be; answers which crates have other tracks now. */
async function workOut(database: Database, now: Date, t: Transaction): Promise<string[]> {
  await database.run('SELECT pg_advisory_xact_lock($1)', [LOCK], t);
  const touched = await takeTouched(database, t, 'touched_for_rules');
  const crates = await selfFilling(database, t);
  const before = new Set(await frozen(database, t));
  if (crates.length === 0) return [...before];
  const today = dayOf(now);
  const moved = new Map<string, Set<number>>();
  const note = (listId: string, trackId: number): void => {
    moved.set(listId, (moved.get(listId) ?? new Set()).add(trackId));
  };
  const counted = new Set<string>();
  for (const level of levelsOf(crates)) {
    const concerned = level.filter((c) => concerns(c, touched, moved));
    const whole = level.filter(
      (c) =>
        touched.lost ||
        c.filled !== c.text ||
        (asksTheDay(c.rule) && c.day !== today) ||
        (concerned.includes(c) && (c.rule.limit !== undefined || touched.count > MAX_TOUCHED)),
    );
    const plain = (crate: Crate): boolean => folderOfRule(crate.rule) === null;
    for (const crate of whole.filter(plain)) for (const id of await fill(database, crate, now, t)) note(crate.id, id);
    for (const crate of whole) counted.add(crate.id);
    const ids = [...new Set([...touched.ids, ...[...moved.values()].flatMap((s) => [...s])])];
    const rest = concerned.filter((c) => !whole.includes(c));
    for (const { listId, trackId } of [
      ...(await adjust(database, rest.filter(plain), ids, now, t)),
      // Mirrors of folders have hundreds of crates, and a track is in one of them.
      ...(await byFolder(database, rest, ids, t)),
      ...(await byFolder(database, whole, null, t)),
    ])
      note(listId, trackId);
  }
  for (const id of moved.keys()) counted.add(id);
  if (touched.fields === null || touched.fields.has('durationSeconds'))
    for (const { id } of await holding(database, touched, t)) counted.add(id);
  await count(database, [...counted], today, t);
  await withoutFrozen(database, crates, t);
  return [...new Set([...before, ...moved.keys(), ...counted])];
}

const concerns = ({ rule }: Crate, { count, fields }: Touched, moved: ReadonlyMap<string, unknown>): boolean => {
  const asked = fieldsOfRule(rule);
  if ([...listsOfRule(rule)].some((id) => moved.has(id))) return true;
  return count > 0 && (fields === null || [...asked].some((f) => fields.has(f)));
};

async function selfFilling(database: Database, t: Transaction): Promise<Crate[]> {
  const rows = await database.rows<{ id: string; text: string; filled: string | null; day: string | null }>(
    `SELECT l.id, l.rule AS text, f.rule AS filled, f.day FROM lists l LEFT JOIN rule_fillings f ON f.list_id = l.id
      WHERE l.rule IS NOT NULL ORDER BY l.id`,
    [],
    t,
  );
  return rows.map((row) => ({ ...row, rule: readRule(row.text) ?? { where: { any: [] } } }));
}

/** What was self-filling and is not any more, or is gone, keeps no members of that kind. */
async function frozen(database: Database, t: Transaction): Promise<string[]> {
  const rows = await database.rows<{ id: string }>(
    `DELETE FROM rule_fillings f
      WHERE NOT EXISTS (SELECT 1 FROM lists l WHERE l.id = f.list_id AND l.rule IS NOT NULL) RETURNING list_id AS id`,
    [],
    t,
  );
  const ids = rows.map((r) => r.id);
  if (ids.length) await database.run('DELETE FROM rule_members WHERE list_id = ANY($1::uuid[])', [ids], t);
  return ids;
}

/**
 * Takes out again what was put into crates that were frozen since they were read: they have entries of their own by
 * now. One that is frozen later still is noted as filled, which tells the next time.
 */
const withoutFrozen = (database: Database, crates: readonly Crate[], t: Transaction): Promise<void> =>
  database.run(
    `DELETE FROM rule_members m USING unnest($1::uuid[]) AS c(id) WHERE m.list_id = c.id
      AND NOT EXISTS (SELECT 1 FROM lists l WHERE l.id = c.id AND l.rule IS NOT NULL)`,
    [crates.map((c) => c.id)],
    t,
  );

/** Crates by how far they are from those that ask about no other. */
function levelsOf(crates: readonly Crate[]): Crate[][] {
  const level = new Map<string, number>();
  const levels: Crate[][] = [];
  for (const crate of inTurn(crates) ?? crates) {
    const asked = [...listsOfRule(crate.rule)].flatMap((id) => level.get(id) ?? []);
    const own = Math.max(-1, ...asked) + 1;
    level.set(crate.id, own);
    (levels[own] ??= []).push(crate);
  }
  return levels;
}

/** A condition as SQL; a field that is no longer known is met by nobody. */
function conditionText(where: Condition, values: unknown[], now: Date): string {
  try {
    return compileCondition(where, values, now).text;
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    log.warn(error, 'a self-filling crate asks about something that is not known');
    return 'FALSE';
  }
}

/** SELECT of the ids of the tracks that a rule names, in its order. */
export function membersSql({ where, limit }: Rule, now: Date = new Date()): Sql {
  const values: unknown[] = [];
  const text = `SELECT t.id FROM tracks t WHERE ${conditionText(where, values, now)}`;
  return limit
    ? { text: `${text} ORDER BY ${orderSql(limit, values)} LIMIT $${values.push(limit.count)}`, values }
    : { text, values };
}

function orderSql(limit: NonNullable<Rule['limit']>, values: unknown[]): string {
  if (limit.by === 'random' && 'seed' in limit) return `md5(t.id || ':' || $${values.push(String(limit.seed))}), t.id`;
  const field = findField(limit.by);
  if (!field || !('descending' in limit)) return 't.id';
  const by =
    field.type === 'texts' && field.sortColumn === field.column
      ? `array_to_string(t.${field.column}, '; ')`
      : `t.${field.sortColumn}`;
  return `${by} ${limit.descending ? 'DESC' : 'ASC'} NULLS LAST, t.id`;
}

/** Asks a rule about all tracks; answers who came or went. */
async function fill(database: Database, { id, rule }: Crate, now: Date, t: Transaction): Promise<number[]> {
  const { text, values } = membersSql(rule, now);
  const list = `$${values.push(id)}::uuid`;
  const rows = await database.rows<{ id: number }>(
    `WITH wanted AS MATERIALIZED (${text}),
      gone AS (DELETE FROM rule_members m WHERE m.list_id = ${list}
        AND NOT EXISTS (SELECT 1 FROM wanted w WHERE w.id = m.track_id) RETURNING m.track_id),
      came AS (INSERT INTO rule_members SELECT ${list}, w.id FROM wanted w ON CONFLICT DO NOTHING RETURNING track_id)
     SELECT track_id AS id FROM gone UNION ALL SELECT track_id FROM came`,
    values,
    t,
  );
  return rows.map((r) => r.id);
}

/** Asks rules about some tracks; answers who came or went. */
async function adjust(
  database: Database,
  crates: readonly Crate[],
  ids: readonly number[],
  now: Date,
  t: Transaction,
): Promise<Member[]> {
  if (crates.length === 0 || ids.length === 0) return [];
  const values: unknown[] = [ids];
  const holds = crates.map((c) => conditionText(c.rule.where, values, now));
  const [rows, there] = [
    await database.rows<{ id: number; holds: boolean[] }>(
      `SELECT t.id, ARRAY[${holds.join(', ')}]::boolean[] AS holds FROM tracks t WHERE t.id = ANY($1::int[])`,
      values,
      t,
    ),
    await database.rows<Member>(
      `SELECT list_id AS "listId", track_id AS "trackId" FROM rule_members
        WHERE track_id = ANY($1::int[]) AND list_id = ANY($2::uuid[])`,
      [ids, crates.map((c) => c.id)],
      t,
    ),
  ];
  const wanted = rows.flatMap(({ id, holds: row }) =>
    crates.flatMap((c, i): Member[] => (row[i] ? [{ listId: c.id, trackId: id }] : [])),
  );
  return exchange(database, there, wanted, t);
}

/** The crates in which changed tracks are; all of them after many changes. Who has been deleted is in none. */
const holding = (database: Database, { ids, count }: Touched, t: Transaction): Promise<{ id: string }[]> =>
  count > MAX_TOUCHED
    ? database.rows('SELECT list_id AS id FROM rule_fillings', [], t)
    : database.rows(
        `SELECT DISTINCT list_id AS id FROM rule_members WHERE track_id = ANY($1::int[])
         UNION SELECT list_id FROM rule_fillings WHERE EXISTS (SELECT 1 FROM unnest($1::int[]) AS v(id)
           WHERE NOT EXISTS (SELECT 1 FROM tracks t WHERE t.id = v.id))`,
        [ids],
        t,
      );

/** Counts the tracks of crates, and notes by which rule and on which day they were filled. */
const count = (database: Database, listIds: readonly string[], day: string, t: Transaction): Promise<void> =>
  database.run(
    `INSERT INTO rule_fillings (list_id, rule, day, tracks, seconds)
      SELECT l.id, l.rule, $2, count(t.id), COALESCE(sum(t.duration_seconds), 0) FROM lists l
        LEFT JOIN rule_members m ON m.list_id = l.id LEFT JOIN tracks t ON t.id = m.track_id
       WHERE l.id = ANY($1::uuid[]) AND l.rule IS NOT NULL GROUP BY l.id
     ON CONFLICT (list_id) DO UPDATE SET rule = excluded.rule, day = excluded.day, tracks = excluded.tracks,
       seconds = excluded.seconds`,
    [[...listIds], day],
    t,
  );
