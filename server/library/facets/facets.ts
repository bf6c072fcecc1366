/** The pictures on the left: how the tracks that meet a condition spread over tempo, key, energy and so on. */
import type { Facets } from '@early-set/core/api/types';
import { fieldOf } from '@early-set/core/fields/table';
import { compileCondition } from '../conditionSql.ts';
import { allOf, EVERYTHING, type Condition } from '@early-set/core/conditions/condition';
import { createRemembered } from '../../base/remembered.ts';
import type { Database } from '../../db/database.ts';
import { needsOf, type Need } from '@early-set/core/conditions/needs';
import { deskSettings } from '../../db/settings.ts';
import { keptCounts, type Counts } from './counts.ts';
import { binSql, filledSql, HISTOGRAMS, isList, LIST_NAMES, LISTS, needSql, type Histogram } from './shapes.ts';

/** A filter as the page holds it: one condition per facet, so that a facet's own filter does not narrow its picture. */
export type FacetFilters = Record<string, Condition>;

const LIST_LIMIT = 200;
const MAX_FOLDERS = 5000;

/** The part of one facet that is grouped, as SELECT … of (facet, value, count) over the narrowed rows "m". */
function groupedSql(facet: string): string | null {
  const histogram = HISTOGRAMS.find((h) => h.facet === facet);
  if (histogram) {
    return `SELECT '${facet}' AS facet, b::text AS value, n FROM (SELECT ${binSql(histogram)} AS b, count(*) AS n
      FROM m GROUP BY 1) h`;
  }
  if (facet === 'folder')
    return `(SELECT 'folder' AS facet, jsonb_build_array(root_id, root, folder)::text AS value, count(*) AS n FROM m
      GROUP BY root_id, root, folder ORDER BY n DESC LIMIT ${MAX_FOLDERS})`;
  if (facet === 'needs' || (isList(facet) && LISTS[facet] === 'filled')) return null;
  const { column } = fieldOf(facet);
  return isList(facet) && LISTS[facet] === 'several'
    ? `(SELECT '${facet}' AS facet, v AS value, count(*) AS n
        FROM (SELECT unnest(${column}) AS v FROM m WHERE ${column} IS NOT NULL) u GROUP BY v ORDER BY n DESC, v LIMIT ${LIST_LIMIT})`
    : `SELECT '${facet}' AS facet, COALESCE(${column}::text, '') AS value, count(*) AS n FROM m GROUP BY ${column}`;
}

/** What is counted under a condition, all of it in one pass over the rows. */
function countedSql(facets: readonly string[], needs: readonly Need[]): string | null {
  const counts = facets.flatMap((facet): { facet: string; value: string; when: string }[] => {
    if (facet === 'needs') return needs.map(({ id }, i) => ({ facet, value: id, when: `need_${i}` }));
    if (!isList(facet) || LISTS[facet] === 'one') return [];
    const { column } = fieldOf(facet);
    if (LISTS[facet] === 'several') return [{ facet, value: '', when: `${column} IS NULL OR ${column} = '{}'` }];
    return [
      { facet, value: 'yes', when: column },
      { facet, value: '', when: `NOT ${column}` },
    ];
  });
  if (counts.length === 0) return null;
  return `SELECT x.facet, x.value, x.n
    FROM (SELECT ${counts.map(({ when }, i) => `count(*) FILTER (WHERE ${when}) AS n${i}`).join(', ')} FROM m) s,
    LATERAL (VALUES ${counts.map((c, i) => `('${c.facet}', '${c.value}', s.n${i})`).join(', ')}) AS x(facet, value, n)`;
}

/** What a group of facets needs of each track. */
function columnsFor(facets: string[], needs: readonly Need[]): string {
  const columns = new Set<string>();
  for (const facet of facets) {
    const histogram = HISTOGRAMS.find((h) => h.facet === facet);
    if (histogram) columns.add(`t.${histogram.column}`);
    else if (facet === 'needs') needs.forEach((need, i) => columns.add(`(${needSql(need.condition)}) AS need_${i}`));
    else if (facet === 'folder') ['t.root_id', 't.root', 't.folder'].forEach((c) => columns.add(c));
    else if (isList(facet) && LISTS[facet] === 'filled')
      columns.add(`(${filledSql(facet)}) AS ${fieldOf(facet).column}`);
    else columns.add(`t.${isList(facet) ? fieldOf(facet).column : facet}`);
  }
  return [...columns].join(', ');
}

const ALL_FACETS = [...HISTOGRAMS.map((h) => h.facet), 'key', ...LIST_NAMES, 'folder', 'needs'];

export interface FacetCache {
  /** Facets as they are now; equal questions are counted once until something changes. */
  facets(filters: FacetFilters): Promise<Facets>;
  /** Tracks have changed. */
  forget(): void;
}

const MAX_CACHED = 60;

/** Keeps counts of pictures that have been asked for. */
export function createFacetCache(database: Database, counts: Counts): FacetCache {
  const known = createRemembered<Facets>(MAX_CACHED);
  return {
    facets: (filters) => known.of(JSON.stringify(filters), () => facetsOf(database, filters, counts)),
    forget: known.forget,
  };
}

type Counted = { facet: string; value: string | null; n: number };

/**
 * Counts all facets; each ignores its own filter. Facets under the same condition share one scan; those under none are
 * taken from the counts that are kept, where there are such.
 */
export async function facetsOf(database: Database, filters: FacetFilters, counts?: Counts): Promise<Facets> {
  const kept = (await counts?.ready()) === true;
  const needs = needsOf((await deskSettings()).gapRules);
  const groups = new Map<string, { where: Condition; facets: string[] }>();
  for (const facet of ALL_FACETS) {
    const where = allOf(
      ...Object.entries(filters)
        .filter(([name]) => name !== facet)
        .map(([, c]) => c),
    );
    const id = JSON.stringify(where);
    const group = groups.get(id) ?? { where, facets: [] };
    group.facets.push(facet);
    groups.set(id, group);
  }
  const results = await Promise.all(
    [...groups].map(async ([id, { where, facets }]): Promise<Counted[]> => {
      const there = kept && id === ALL_OF_THEM ? await keptOf(database, facets, needs) : null;
      if (there) return there;
      const { text, values } = compileCondition(where);
      return database.rows<Counted>(
        `WITH m AS MATERIALIZED (SELECT ${columnsFor(facets, needs)} FROM tracks t
          WHERE ${text}) ${[...facets.map(groupedSql), countedSql(facets, needs)].filter(Boolean).join(' UNION ALL ')}`,
        values,
      );
    }),
  );
  return arrange(results.flat());
}

const ALL_OF_THEM = JSON.stringify(EVERYTHING);

async function keptOf(
  database: Database,
  facets: readonly string[],
  needs: readonly Need[],
): Promise<Counted[] | null> {
  const most = (facet: string): number | null =>
    facet === 'folder' ? MAX_FOLDERS : isList(facet) && LISTS[facet] === 'several' ? LIST_LIMIT : null;
  const rows = await keptCounts(database, facets, most);
  if (!rows) return null;
  const bars = new Set<string>(HISTOGRAMS.map((h) => h.facet));
  const counted = rows.map((row) => (bars.has(row.facet) && row.value === '' ? { ...row, value: null } : row));
  // What nothing counts under is a figure too, where it is one of few.
  const always = facets.flatMap((facet) => {
    const values =
      facet === 'needs' ? needs.map((n) => n.id) : isList(facet) && LISTS[facet] === 'filled' ? ['yes'] : [];
    return values.map((value) => ({ facet, value, n: 0 }));
  });
  return [...counted, ...always.filter((a) => !rows.some((r) => r.facet === a.facet && r.value === a.value))];
}

function arrange(rows: Counted[]): Facets {
  const of = (facet: string): Counted[] => rows.filter((r) => r.facet === facet);
  const histogram = ({ facet, low, high, step }: Histogram) => {
    const counts = Array.from({ length: (high - low) / step }, () => 0);
    let none = 0;
    for (const { value, n } of of(facet)) {
      if (value === null) none += n;
      else counts[Number(value)] = n;
    }
    return [facet, { low, high, step, counts, none }] as const;
  };
  const list = (facet: string) =>
    of(facet)
      .filter((r) => r.value)
      .map((r) => ({ value: r.value!, count: r.n }))
      .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1));
  const noneOf = (facet: string): number => of(facet).find((r) => r.value === '')?.n ?? 0;
  return {
    histograms: Object.fromEntries(HISTOGRAMS.map(histogram)) as Facets['histograms'],
    keys: Object.fromEntries(of('key').map((r) => [r.value ?? '', r.n])),
    lists: Object.fromEntries(LIST_NAMES.map((name) => [name, list(name)])) as Facets['lists'],
    none: Object.fromEntries(LIST_NAMES.map((name) => [name, noneOf(name)])) as Facets['none'],
    folders: of('folder').map(({ value, n }) => {
      const [rootId, root, path] = JSON.parse(value!) as [number, string, string];
      return { rootId, root, path, count: n };
    }),
    needs: Object.fromEntries(of('needs').map((r) => [r.value ?? '', r.n])),
  };
}
