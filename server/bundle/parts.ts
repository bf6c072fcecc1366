/**
 * The parts of a bundle and the tables they come from. Names in lines are the columns' names without underscores; they
 * are what docs/formats/bundle.md says, and stay when tables change.
 */
import type { Category } from '@early-set/core/bundle/manifest';

export interface TablePart {
  name: string;
  category: Category;
  table: string;
  columns: readonly string[];
  /** Rows, aliased "x"; what is chosen stands in the tables `bundled_tracks` and `bundled_lists`. */
  where: string;
  order: string;
  /** Columns of bytes: base64 in lines. */
  bytes?: readonly string[];
  /** Other than the column itself when it is written. */
  written?: Readonly<Record<string, string>>;
  /** Refers to other rows of the same table, and is filled in when all are there. */
  later?: readonly string[];
  /** Its number is given by this sequence. */
  sequence?: string;
  /** So many lines at a time: some are long. */
  batch: number;
}

const ofTracks = 'x.track_id IN (SELECT id FROM bundled_tracks)';
const whole = '(SELECT is_whole FROM bundled)';
const BATCH = 1000;

/** In an order in which each finds what it refers to. */
export const TABLE_PARTS: readonly TablePart[] = [
  {
    ...{ name: 'presets', category: 'settings', table: 'presets', batch: BATCH, order: 'id', where: 'true' },
    ...{ columns: ['id', 'name', 'steps', 'updated_at'], sequence: 'presets_id_seq' },
  },
  {
    ...{ name: 'settings', category: 'settings', table: 'settings', batch: BATCH, order: 'name' },
    columns: ['name', 'value'],
    // Those that say how this very computer stands are its own.
    where: "x.name IN ('desk')",
  },
  {
    ...{ name: 'folders', category: 'tracks', table: 'roots', batch: BATCH, order: 'id', sequence: 'roots_id_seq' },
    columns: [
      ...['id', 'path', 'label', 'created_at', 'scanned_at', 'measure', 'purpose', 'removed', 'watch', 'preset_id'],
      'put_by_rules',
    ],
    where: `${whole} OR EXISTS (SELECT 1 FROM track_files f JOIN bundled_tracks b ON b.id = f.track_id
      WHERE f.root_id = x.id)`,
  },
  {
    ...{
      name: 'files',
      category: 'tracks',
      table: 'track_files',
      batch: BATCH,
      order: 'track_id, id',
      where: ofTracks,
    },
    columns: [
      ...['id', 'track_id', 'root_id', 'path', 'role', 'companion', 'state', 'state_since', 'size', 'modified_ms'],
      ...['changed_ms', 'container', 'codec', 'bitrate', 'sample_rate', 'channels', 'duration_seconds', 'audio_hash'],
    ],
  },
  {
    ...{ name: 'tags', category: 'tracks', table: 'file_tags', batch: BATCH, order: 'track_id', where: ofTracks },
    columns: ['track_id', 'tag_hash', 'fields', 'looked_at'],
  },
  {
    ...{ name: 'aside', category: 'tracks', table: 'put_aside', batch: BATCH, order: 'id', where: whole },
    columns: ['id', 'root_id', 'path', 'was', 'size', 'modified_ms', 'reason', 'since'],
  },
  {
    ...{ name: 'analyses', category: 'analyses', table: 'analyses', batch: 100, order: 'track_id', where: ofTracks },
    columns: ['track_id', 'engine', 'analysed_at', 'result', 'waveform', 'fingerprint', 'waveform_form'],
    bytes: ['waveform', 'fingerprint'],
  },
  {
    ...{ name: 'compared', category: 'analyses', table: 'compared_tracks', batch: BATCH, order: 'track_id' },
    ...{ columns: ['track_id', 'analysed_at'], where: ofTracks },
  },
  {
    ...{ name: 'duplicates', category: 'analyses', table: 'duplicate_pairs', batch: BATCH, order: 'first, second' },
    columns: ['first', 'second', 'relation', 'offset_seconds', 'parts_at'],
    where: 'x.first IN (SELECT id FROM bundled_tracks) AND x.second IN (SELECT id FROM bundled_tracks)',
  },
  {
    ...{ name: 'noDuplicates', category: 'analyses', table: 'no_duplicates', batch: BATCH, order: 'first, second' },
    columns: ['first', 'second'],
    where: 'x.first IN (SELECT id FROM bundled_tracks) AND x.second IN (SELECT id FROM bundled_tracks)',
  },
  {
    ...{ name: 'covers', category: 'covers', table: 'arts', batch: BATCH, order: 'hash' },
    columns: ['hash', 'mime', 'bytes', 'width', 'height'],
    where: `${whole} OR x.hash IN (SELECT art_hash FROM tracks t JOIN bundled_tracks b ON b.id = t.id)`,
  },
  {
    ...{ name: 'lists', category: 'lists', table: 'lists', batch: 100, order: 'id', later: ['parent_id'] },
    columns: [
      ...['id', 'kind', 'name', 'parent_id', 'position', 'removed', 'starts_at', 'created_at', 'updated_at', 'shape'],
      ...['rule', 'colour', 'note', 'wished_seconds', 'reserve_id', 'mirror', 'mirror_of', 'clock', 'on_air_at'],
    ],
    where: 'x.id IN (SELECT id FROM bundled_lists)',
  },
  {
    ...{ name: 'entries', category: 'lists', table: 'list_entries', batch: BATCH, order: 'list_id, position, id' },
    columns: ['id', 'list_id', 'track_id', 'position', 'kind', 'data'],
    // Crates that the chosen ones stand in come along without what is in them.
    where: 'x.list_id IN (SELECT id FROM bundled_lists WHERE own)',
  },
  {
    ...{ name: 'dates', category: 'lists', table: 'dates', batch: BATCH, order: 'id', sequence: 'dates_id_seq' },
    ...{ columns: ['id', 'name', 'kind', 'day', 'starts_at', 'asks', 'list_ids', 'counted'], where: whole },
  },
  {
    ...{ name: 'destinations', category: 'destinations', table: 'destinations', batch: BATCH, order: 'id' },
    columns: ['id', 'kind', 'name', 'folder', 'settings', 'synced', 'synced_at'],
    // Bundles that are compared lie on this computer.
    where: `${whole} AND x.kind <> 'bundle'`,
    sequence: 'destinations_id_seq',
  },
  {
    ...{ name: 'sticks', category: 'destinations', table: 'sticks', batch: BATCH, order: 'id', where: whole },
    columns: ['id', 'player', 'name', 'folder', 'settings', 'written', 'aimed', 'written_at', 'report', 'played'],
    sequence: 'sticks_id_seq',
  },
  {
    ...{ name: 'taken', category: 'destinations', table: 'taken_tracks', batch: BATCH, order: 'source, other_id' },
    ...{ columns: ['source', 'other_id', 'track_id', 'same_file'], where: ofTracks },
  },
  {
    ...{ name: 'changes', category: 'history', table: 'change_sets', batch: BATCH, order: 'id', where: whole },
    columns: ['id', 'title', 'made_at', 'done', 'conflicts', 'undo_of', 'undone_by'],
    ...{ later: ['undo_of', 'undone_by'], sequence: 'change_sets_id_seq' },
  },
  {
    ...{ name: 'changeLines', category: 'history', table: 'change_items', batch: BATCH, where: whole },
    order: 'change_set_id, seq',
    columns: [
      ...['change_set_id', 'seq', 'item', 'state', 'reason', 'undone_by', 'area', 'track_id', 'list_id', 'date_id'],
      ...['searched', 'restores_set', 'restores_seq'],
    ],
    // What waits for its turn there is not to be done here.
    written: {
      state: "CASE WHEN x.state = 'waiting' THEN 'cancelled' ELSE x.state END",
      reason: "CASE WHEN x.state = 'waiting' THEN 'It was waiting when the bundle was made' ELSE x.reason END",
    },
  },
  {
    ...{ name: 'journal', category: 'history', table: 'file_journal', batch: 100, order: 'change_set_id, seq' },
    columns: ['change_set_id', 'seq', 'track_id', 'state', 'begun_at', 'intent'],
    where: `${whole} AND x.state = 'done'`,
  },
  {
    ...{ name: 'removed', category: 'history', table: 'removed_tracks', batch: 100, order: 'track_id', where: whole },
    columns: ['track_id', 'removed_at', 'kept'],
  },
  {
    ...{ name: 'given', category: 'history', table: 'file_ledger', batch: BATCH, order: 'id', where: whole },
    columns: ['id', 'track_id', 'file_id', 'root_id', 'path', 'audio_hash', 'given_to', 'list_id', 'given_at'],
    sequence: 'file_ledger_id_seq',
  },
  {
    ...{ name: 'played', category: 'history', table: 'airings', batch: BATCH, order: 'id', where: whole },
    columns: ['id', 'at', 'title', 'artist', 'track_id', 'seconds', 'change_set_id'],
    sequence: 'airings_id_seq',
  },
];

/** "track_id" as lines say it: "trackId". */
export const camel = (column: string): string => column.replace(/_(\w)/g, (_, letter: string) => letter.toUpperCase());

/** Kept files of the data folder that go with a category, by their folder there and in the bundle. */
export const KEPT_FILES: readonly { category: Category; from: string }[] = [
  { category: 'covers', from: 'art/originals' },
  { category: 'destinations', from: 'handover' },
  { category: 'destinations', from: 'sticks' },
];
