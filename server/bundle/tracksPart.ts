/** The part of the tracks: values with their origins and locks, and what is known of the main file. */
import { FIELDS } from '@early-set/core/fields/table';
import type { TrackValues } from '@early-set/core/fields/values';
import { assignmentsFor, EVERY_ASSIGNMENT } from '../library/columns.ts';

/** Made by the database itself, or said beside the values. */
const APART = new Set(['addedAt', 'fileName', 'folder', 'playoutId', 'unwritten']);
const VALUES = FIELDS.filter(({ id }) => !APART.has(id));

/** A line of it. */
export interface TrackLine {
  id: number;
  /** The id of its main file's folder. */
  folder: number;
  values: TrackValues;
  origins: Record<string, unknown>;
  /** Fields that the file does not say yet. */
  unwritten: string[] | null;
  art: string | null;
  added: string;
  playoutId: number;
  analysis: { reason: string | null; engine: number | null };
  modifiedMs: number;
  changedMs: number | null;
}

/** Lines as the database writes them. What waits to be measured there has not been measured. */
export const TRACK_LINES = `SELECT json_build_object('id', t.id, 'folder', t.root_id,
    'values', json_strip_nulls(row_to_json(v)), 'origins', COALESCE(o.origins, '{}'), 'unwritten', t.unwritten,
    'art', t.art_hash, 'added', t.added_at, 'playoutId', t.playout_id,
    'analysis', json_build_object('reason', t.analysis_reason, 'engine', t.analysis_engine),
    'modifiedMs', t.file_modified_ms, 'changedMs', t.file_changed_ms)::text AS line
  FROM tracks t JOIN bundled_tracks b ON b.id = t.id LEFT JOIN track_origins o ON o.track_id = t.id
  CROSS JOIN LATERAL (SELECT ${VALUES.map(({ id, column }) =>
    id === 'analysisState'
      ? `CASE WHEN t.${column} IN ('waiting', 'running') THEN 'none' ELSE t.${column} END AS "${id}"`
      : `t.${column} AS "${id}"`,
  ).join(', ')}) v
  ORDER BY t.id`;

const OWN: readonly [column: string, type: string][] = [
  ['id', 'int'],
  ['root_id', 'int'],
  ['unwritten', 'text[]'],
  ['art_hash', 'text'],
  ['added_at', 'timestamptz'],
  ['playout_id', 'int'],
  ['analysis_reason', 'text'],
  ['analysis_engine', 'int'],
  ['file_modified_ms', 'float8'],
  ['file_changed_ms', 'float8'],
];
const COLUMNS: readonly [column: string, type: string][] = [
  ...OWN,
  ...EVERY_ASSIGNMENT.filter(
    ({ column }) => !['added_at', 'playout_id', 'file_name', 'folder', 'unwritten'].includes(column),
  ).map(({ column, cast }): [string, string] => [column, cast]),
];

/** Stores rows made by `rowOfLine`, given as JSON. */
export const INSERT_TRACKS = `INSERT INTO tracks (${COLUMNS.map(([column]) => column).join(', ')})
  SELECT ${COLUMNS.map(([column]) => `r.${column}`).join(', ')}
  FROM jsonb_to_recordset($1::jsonb) AS r(${COLUMNS.map((c) => c.join(' ')).join(', ')})`;
export const INSERT_ORIGINS = `INSERT INTO track_origins (track_id, origins)
  SELECT r.id, r.origins FROM jsonb_to_recordset($1::jsonb) AS r(id int, origins jsonb)`;

/** @param measured the analyses come over as well */
export function rowOfLine(line: TrackLine, measured: boolean, hasCovers: boolean): Record<string, unknown> {
  const values = Object.fromEntries(VALUES.map(({ id }) => [id, line.values[id] ?? null])) as TrackValues;
  if (!measured) values.analysisState = 'none';
  const row: Record<string, unknown> = {
    id: line.id,
    root_id: line.folder,
    unwritten: line.unwritten,
    art_hash: hasCovers ? line.art : null,
    added_at: line.added,
    playout_id: line.playoutId,
    analysis_reason: measured ? line.analysis.reason : null,
    analysis_engine: measured ? line.analysis.engine : null,
    file_modified_ms: line.modifiedMs,
    file_changed_ms: line.changedMs,
  };
  for (const { column, value } of assignmentsFor(values, values)) row[column] = value;
  row.root ??= '';
  return row;
}
