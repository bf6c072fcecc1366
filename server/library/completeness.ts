/** How much is filled: per field, and per folder, album or list; and the same as a spreadsheet with a line per file. */
import type { Writable } from 'node:stream';
import { stringify } from 'csv-stringify';
import type { Completeness, CompletenessGroup, CompletenessWish, Selection } from '@early-set/core/api/types';
import { compileCondition } from './conditionSql.ts';
import type { Condition } from '@early-set/core/conditions/condition';
import { lacksOne, RULE_CHOICES, type GapRules } from '@early-set/core/conditions/needs';
import { FIELDS, fieldOf } from '@early-set/core/fields/table';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { deskSettings } from '../db/settings.ts';
import { FIELD_SELECT } from './columns.ts';
import { selectedIds } from './sheet.ts';

const MAX_GROUPS = 300;

/** Expressions that count what is filled, and what is ready. */
function counts(rules: GapRules): { text: string; values: unknown[] } {
  const values: unknown[] = [];
  const filled = RULE_CHOICES.map(
    (id, i) => `count(*) FILTER (WHERE NOT (${compileCondition(lacksOne([id]), values).text})) AS f${i}`,
  );
  const ready = (['floor', 'playout'] as const).map(
    (name) => `count(*) FILTER (WHERE NOT (${compileCondition(lacksOne(rules[name]), values).text})) AS ${name}`,
  );
  return { text: ['count(*) AS tracks', ...filled, ...ready].join(', '), values };
}

/** Counts by the names of `counts`. */
type Row = Record<string, number>;
type Grouped<T> = { counts: Row } & T;
const toGroup = (row: Row, name: string, condition: Condition | null): CompletenessGroup => ({
  name,
  condition,
  tracks: row.tracks!,
  floor: row.floor!,
  playout: row.playout!,
  filled: Object.fromEntries(RULE_CHOICES.map((id, i) => [id, row[`f${i}`]!])),
});

/** Counts over the chosen tracks, and by groups of them; the largest groups first. */
export async function completeness(database: Database, { selection, by }: CompletenessWish): Promise<Completeness> {
  const { gapRules } = await deskSettings();
  const ids = await selectedIds(database, selection);
  const { text, values } = counts(gapRules);
  const chosen = `t.id = ANY($${values.length + 1}::int[])`,
    bound = [...values, ids];
  const [all] = await database.rows<Row>(`SELECT ${text} FROM tracks t WHERE ${chosen}`, bound);
  const groups = by === 'none' ? [] : await groupRows(database, by, text, chosen, bound);
  return { all: toGroup(all!, '', null), groups, rules: gapRules };
}

async function groupRows(
  database: Database,
  by: 'folder' | 'album' | 'list',
  text: string,
  chosen: string,
  bound: unknown[],
): Promise<CompletenessGroup[]> {
  const rows = <T extends object>(select: string, rest: string): Promise<Grouped<T>[]> =>
    database.rows<Grouped<T>>(
      `SELECT ${select}, to_jsonb(c) AS counts FROM (SELECT ${rest} ORDER BY tracks DESC, 1 LIMIT ${MAX_GROUPS}) c`,
      bound,
    );
  if (by === 'folder') {
    // What lies deeper has a line of its own.
    const folders = await rows<{ name: string; root: string; rootId: number }>(
      'c.name, c.root, c."rootId"',
      `t.folder AS name, t.root, t.root_id AS "rootId", ${text} FROM tracks t WHERE ${chosen}
        GROUP BY t.root_id, t.root, t.folder`,
    );
    const severalRoots = new Set(folders.map((f) => f.rootId)).size > 1;
    return folders.map((r) => {
      const name = r.name ? (severalRoots ? `${r.root} / ${r.name}` : r.name) : r.root;
      return toGroup(r.counts, name, { inFolder: { rootId: r.rootId, path: r.name }, below: false });
    });
  }
  if (by === 'album') {
    return (
      await rows<{ name: string; owner: string | null }>(
        'c.name, c.owner',
        `t.album AS name, max(t.album_artist) AS owner, ${text} FROM tracks t WHERE ${chosen} AND t.album IS NOT NULL
          GROUP BY 1`,
      )
    ).map((r) =>
      toGroup(r.counts, r.owner ? `${r.name}, ${r.owner}` : r.name, {
        field: 'album',
        test: 'one of',
        values: [r.name],
      }),
    );
  }
  return (
    await rows<{ name: string; id: string }>(
      'c.name, c.id',
      `l.name, l.id::text AS id, ${text} FROM lists l JOIN (SELECT DISTINCT list_id, track_id
        FROM list_tracks) e ON e.list_id = l.id JOIN tracks t ON t.id = e.track_id WHERE NOT l.removed AND ${chosen}
        GROUP BY l.id`,
    )
  ).map((r) => ({ ...toGroup(r.counts, r.name, { inLists: [r.id] }), listId: r.id }));
}

const BATCH = 1000;
const COLUMNS = FIELDS.filter((f) => f.type !== 'marks');

async function* lines(database: Database, selection: Selection): AsyncGenerator<Record<string, FieldValue>> {
  const ids = await selectedIds(database, selection, 'path');
  for (let from = 0; from < ids.length; from += BATCH) {
    const rows = await database.rows<Record<string, FieldValue> & { id: number }>(
      `SELECT t.id, r.path AS root, ${FIELD_SELECT} FROM tracks t JOIN roots r ON r.id = t.root_id
        WHERE t.id = ANY($1::int[]) ORDER BY array_position($1::int[], t.id)`,
      [ids.slice(from, from + BATCH)],
    );
    yield* rows;
  }
}

const cell = (value: FieldValue | undefined): string | number =>
  value === null || value === undefined
    ? ''
    : Array.isArray(value)
      ? value.join('; ')
      : typeof value === 'boolean'
        ? value
          ? 'yes'
          : 'no'
        : value;
const withRoot = (row: Record<string, FieldValue>, id: string): FieldValue | undefined =>
  id === 'path' ? `${String(row.root)}/${String(row.path)}` : row[id];

/** One line per file and all fields, as CSV (RFC 4180, UTF-8 with a mark so that spreadsheets see it). */
export async function writeCsv(database: Database, selection: Selection, out: Writable): Promise<void> {
  const csv = stringify({
    bom: true,
    escape_formulas: true,
    header: true,
    columns: COLUMNS.map((f) => ({ key: f.id, header: f.label })),
  });
  csv.pipe(out);
  for await (const row of lines(database, selection)) {
    const ready = csv.write(Object.fromEntries(COLUMNS.map((f) => [f.id, cell(withRoot(row, f.id))])));
    if (!ready) await new Promise((resolve) => csv.once('drain', resolve));
  }
  csv.end();
  await new Promise((resolve, reject) => {
    out.once('finish', resolve);
    out.once('error', reject);
    out.once('close', resolve);
  });
}

/** The same as a spreadsheet, with a second page that says how much is filled. */
export async function writeXlsx(database: Database, selection: Selection, out: Writable): Promise<void> {
  const { default: Excel } = await import('exceljs'); // takes most of a second to load
  const book = new Excel.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true });
  const head = (sheet: { getRow(n: number): { font: object; commit(): void } }): void => {
    const row = sheet.getRow(1);
    row.font = { bold: true };
    row.commit();
  };
  const files = book.addWorksheet('Files', { views: [{ state: 'frozen', ySplit: 1 }] });
  files.columns = COLUMNS.map((f) => ({ header: f.label, key: f.id, width: Math.max(8, Math.round(f.width / 7)) }));
  head(files);
  for await (const row of lines(database, selection))
    files.addRow(Object.fromEntries(COLUMNS.map((f) => [f.id, cell(withRoot(row, f.id))]))).commit();
  files.commit();
  const { all } = await completeness(database, { selection, by: 'none' });
  const filled = book.addWorksheet('How much is filled');
  filled.columns = [
    { header: 'Field', key: 'field', width: 24 },
    { header: 'Filled', key: 'filled', width: 10 },
    { header: 'Of', key: 'of', width: 10 },
    { header: 'Share', key: 'share', width: 10, style: { numFmt: '0 %' } },
  ];
  head(filled);
  for (const id of RULE_CHOICES)
    filled
      .addRow({
        field: fieldOf(id).label,
        filled: all.filled[id],
        of: all.tracks,
        share: all.tracks ? all.filled[id]! / all.tracks : 0,
      })
      .commit();
  filled.commit();
  await book.commit();
}
