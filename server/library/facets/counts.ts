/**
 * Counts over the whole library that are kept up to date: the pictures on the left without a filter, and the figures of
 * the stages. What each track counts under is kept (`counted_tracks`), so that a change costs what it changes: it no
 * longer counts under what it did, and counts under what it does. After a change of very many, all is counted anew, and
 * who asks meanwhile counts by a query.
 */
import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { fieldsOfRule } from '@early-set/core/conditions/rule';
import { anyOnDisk, needsOf, type Need } from '@early-set/core/conditions/needs';
import { fieldOf } from '@early-set/core/fields/table';
import type { Database } from '../../db/database.ts';
import { deskSettings } from '../../db/settings.ts';
import { binSql, filledSql, HISTOGRAMS, LIST_NAMES, LISTS, needSql } from './shapes.ts';
import { MAX_TOUCHED, takeTouched, type Touched } from './touched.ts';

export interface Counts {
  /** Something has changed that is counted. */
  changed(): void;
  /** Hands changed tracks on to who is next, once they are counted. */
  take(): Promise<void>;
  /** Are the counts those of now? If not, `refill` is what makes them. */
  ready(): Promise<boolean>;
  /** Counts everything, where the counts are not those of now. */
  refill(): Promise<void>;
}

const MANY = 4000,
  SHARE = 0.1;
/** Held while counts are changed, so that two processes do not do it at once. */
const LOCK = 0x5e20;

/** @param many with more changed tracks than this, and than a tenth of all, everything is counted anew */
export function createCounts(database: Database, many = MANY): Counts {
  let stale = true,
    ready = false;
  let taking: Promise<void> | null = null,
    filling: Promise<void> | null = null;
  const run = async (): Promise<void> => {
    while (stale) {
      stale = false;
      try {
        ready = await database.transaction((t) => bringUpToDate(database, many, t));
      } catch (error) {
        stale = true;
        throw error;
      }
    }
  };
  const take = async (): Promise<void> => {
    await filling;
    taking ??= run().finally(() => (taking = null));
    await taking;
  };
  const fill = async (): Promise<void> => {
    await database.transaction((t) => countAll(database, t));
    stale = true;
  };
  return {
    changed() {
      stale = true;
    },
    take,
    async ready() {
      if (filling) return false;
      await take();
      return ready;
    },
    async refill() {
      await take();
      if (ready) return;
      filling ??= fill().finally(() => (filling = null));
      await filling;
    },
  };
}

interface Definition {
  /** What a track counts under, as an array "facet:value". */
  counted: string;
  fields: ReadonlySet<string>;
  /** Another one when anything is counted otherwise. */
  id: string;
}

async function definition(): Promise<Definition> {
  const needs = needsOf((await deskSettings()).gapRules);
  const counted = countedSql(needs);
  const fields = new Set([
    ...HISTOGRAMS.map((h) => (h.facet === 'tempo' ? 'bpm' : h.facet === 'length' ? 'durationSeconds' : h.facet)),
    ...['key', 'root', 'folder', 'path', 'analysisState', 'fileState', 'unwritten', 'durationSeconds'],
    ...LIST_NAMES,
    ...needs.flatMap(({ condition }) => [...fieldsOfRule({ where: condition })]),
  ]);
  return { counted, fields, id: createHash('sha256').update(counted).digest('hex') };
}

/** What a track aliased "t" counts under. */
function countedSql(needs: readonly Need[]): string {
  const column = (field: string): string => `t.${fieldOf(field).column}`;
  const one = [
    `'stage:tracks'`,
    `CASE WHEN t.analysis_state = 'done' THEN 'stage:measured' END`,
    ...HISTOGRAMS.map((h) => `'${h.facet}:' || COALESCE((${binSql(h, 't.')})::text, '')`),
    `'key:' || COALESCE(t.key, '')`,
    `'folder:' || jsonb_build_array(t.root_id, t.root, t.folder)::text`,
    `CASE WHEN ${needSql(anyOnDisk(needs))} THEN 'stage:disk' END`,
    ...needs.map(({ id, condition }) => `CASE WHEN ${needSql(condition)} THEN 'needs:${id}' END`),
    ...LIST_NAMES.flatMap((name) =>
      LISTS[name] === 'one'
        ? [`'${name}:' || COALESCE(${column(name)}::text, '')`]
        : LISTS[name] === 'filled'
          ? [`CASE WHEN ${filledSql(name)} THEN '${name}:yes' ELSE '${name}:' END`]
          : [],
    ),
  ];
  const several = LIST_NAMES.filter((name) => LISTS[name] === 'several').map(
    (name) => `CASE WHEN ${column(name)} IS NULL OR ${column(name)} = '{}' THEN ARRAY['${name}:']
      ELSE (SELECT array_agg('${name}:' || v) FROM unnest(${column(name)}) v) END`,
  );
  return [`array_remove(ARRAY[${one.join(', ')}], NULL)`, ...several].join(' || ');
}

const MS = 'round(COALESCE(t.duration_seconds, 0) * 1000)::bigint';

/** Counts what has changed; answers whether the counts are those of now. */
async function bringUpToDate(database: Database, many: number, t: Transaction): Promise<boolean> {
  await database.run('SELECT pg_advisory_xact_lock($1)', [LOCK], t);
  const touched = await takeTouched(database, t, 'touched_tracks', 'touched_for_rules');
  const { id, counted, fields } = await definition();
  const [by] = await database.rows<{ definition: string }>('SELECT definition FROM counted_by', [], t);
  const most = touched.count > many ? await mostAtOnce(database, many, t) : many;
  if (by?.definition !== id || touched.lost || touched.count > most) {
    await database.run('DELETE FROM counted_by', [], t);
    return false;
  }
  if (touched.count > 0 && concerns(touched, fields)) await recount(database, counted, touched.ids, t);
  return true;
}

/** So many changed tracks are looked at one by one. */
async function mostAtOnce(database: Database, many: number, t: Transaction): Promise<number> {
  const [all] = await database.rows<{ n: number }>(
    `SELECT n FROM kept_counts WHERE md5(counted) = md5('stage:tracks')`,
    [],
    t,
  );
  return Math.min(MAX_TOUCHED, Math.max(many, (all?.n ?? 0) * SHARE));
}

const concerns = (touched: Touched, fields: ReadonlySet<string>): boolean =>
  touched.fields === null || [...touched.fields].some((f) => fields.has(f));

const recount = (database: Database, counted: string, ids: readonly number[], t: Transaction): Promise<void> =>
  database.run(
    `WITH now AS MATERIALIZED (SELECT t.id, ${counted} AS counts, ${MS} AS ms FROM tracks t WHERE t.id = ANY($1::int[])),
      was AS MATERIALIZED (SELECT * FROM counted_tracks WHERE track_id = ANY($1::int[])),
      gone AS (DELETE FROM counted_tracks c
        WHERE c.track_id = ANY($1::int[]) AND NOT EXISTS (SELECT 1 FROM now n WHERE n.id = c.track_id)),
      put AS (INSERT INTO counted_tracks AS c SELECT id, counts, ms FROM now
        ON CONFLICT (track_id) DO UPDATE SET counts = excluded.counts, ms = excluded.ms
          WHERE (c.counts, c.ms) IS DISTINCT FROM (excluded.counts, excluded.ms)),
      each AS (SELECT unnest(counts) AS counted, -1 AS n FROM was UNION ALL SELECT unnest(counts), 1 FROM now
        UNION ALL SELECT 'stage:ms', -ms FROM was UNION ALL SELECT 'stage:ms', ms FROM now)
     INSERT INTO kept_counts AS k SELECT counted, sum(n) AS n FROM each GROUP BY counted HAVING sum(n) <> 0
       ON CONFLICT (md5(counted)) DO UPDATE SET n = k.n + excluded.n`,
    [ids],
    t,
  );

async function countAll(database: Database, t: Transaction): Promise<void> {
  await database.run('SELECT pg_advisory_xact_lock($1)', [LOCK], t);
  const { id, counted } = await definition();
  await database.run('TRUNCATE counted_tracks', [], t);
  await database.run(`INSERT INTO counted_tracks SELECT t.id, ${counted}, ${MS} FROM tracks t`, [], t);
  await database.run('DELETE FROM kept_counts', [], t);
  await database.run(
    `INSERT INTO kept_counts SELECT counted, count(*) FROM counted_tracks, unnest(counts) counted GROUP BY counted
     UNION ALL SELECT 'stage:ms', COALESCE(sum(ms), 0) FROM counted_tracks`,
    [],
    t,
  );
  await database.run('DELETE FROM counted_by', [], t);
  await database.run('INSERT INTO counted_by VALUES ($1)', [id], t);
}

export interface KeptCount {
  facet: string;
  value: string;
  n: number;
}

/**
 * Counts as they are kept, by facet; null when there are none, as after a crash of the database, or when they were
 * counted by other rules than those of now: the word of changed settings may be on its way still.
 * @param most values of a facet, those that count most; the empty one besides
 */
export async function keptCounts(
  database: Database,
  facets: readonly string[],
  most: (facet: string) => number | null = () => null,
): Promise<KeptCount[] | null> {
  const { id } = await definition();
  const rows = await database.rows<KeptCount>(
    `SELECT facet, value, n
      FROM (SELECT k.*, row_number() OVER (PARTITION BY facet, value = '' ORDER BY n DESC, value) AS place
        FROM (SELECT split_part(counted, ':', 1) AS facet, substr(counted, strpos(counted, ':') + 1) AS value, n
          FROM kept_counts WHERE n > 0) k) k
      JOIN unnest($1::text[], $2::int[]) AS f(name, most) ON f.name = facet
     WHERE most IS NULL OR place <= most
     UNION ALL SELECT '${KEPT}', '', 1 FROM counted_by WHERE definition = $3`,
    [[...facets], facets.map(most), id],
  );
  return rows.some((r) => r.facet === KEPT) ? rows.filter((r) => r.facet !== KEPT) : null;
}
const KEPT = 'kept';
