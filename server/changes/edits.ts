/**
 * Changes as people make them: a draft, what it means for files by the settings, the library at once, the files behind
 * it.
 */
import type { Applied, WritingDraft } from '@early-set/core/api/types';
import type { WriteTags } from '@early-set/core/changes/kinds/writeTags';
import { withWriting, writeFields } from '@early-set/core/changes/tags';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { loadTracks } from '../library/trackStore.ts';
import { deskSettings } from '../db/settings.ts';
import { applyDraft, type Draft, type FilePart } from './apply.ts';
import { carryOut } from './carryOut.ts';
import type { ChangeContext } from './context.ts';
import { expectedFileFields } from './fileTags.ts';
import { UNKNOWN_DEVICE } from './kinds/kind.ts';
import { queueFiles } from './runs.ts';

/**
 * Makes a draft in its turn; its files are written when the turn has gone on to the next. @throws as applyDraft does
 */
export async function applyInTurn(context: ChangeContext, draft: () => Promise<Draft>): Promise<Applied> {
  const { applied, files } = await context.inTurn(async () => applyQueued(context, await draft()));
  return { ...applied, ...(await files()) };
}

/** Makes an edit of the library in its turn, with what it means for files when the settings say so. */
export const editInTurn = (context: ChangeContext, draft: () => Promise<Draft>): Promise<Applied> =>
  applyInTurn(context, async () => withFiles(context, await draft()));

/** Adds to a draft what has to be written into files for it. */
async function withFiles({ database }: ChangeContext, draft: Draft): Promise<Draft> {
  const settings = await deskSettings();
  if (settings.editsGoTo === 'library') return draft;
  const ids = [...new Set(draft.items.flatMap((i) => ('trackId' in i ? [i.trackId] : [])))];
  const known = await expectedFileFields(database, ids);
  return { ...draft, items: withWriting(draft.items, (id) => known.get(id) ?? null, settings) };
}

/** So many files are worked on while the person waits, however small; more become a run. */
const MAX_LINES_AT_ONCE = 200;

/** What is known of the files of a change set when they are written, or on their way. */
type FilesAnswer = Pick<Applied, 'files' | 'conflicts'>;

/**
 * Applies a draft and lines its files up. The answer holds what waits for the files: it may be awaited when the turn is
 * over. Much work becomes a run.
 */
export async function applyQueued(
  context: ChangeContext,
  draft: Draft,
): Promise<{ applied: Applied; files: () => Promise<FilesAnswer> }> {
  const { applied, files } = await applyDraft(context, draft);
  if (files.lines === 0) return { applied, files: () => Promise.resolve({ conflicts: applied.conflicts }) };
  if (files.bytes > context.maxBytesAtOnce || files.lines > MAX_LINES_AT_ONCE) {
    const runId = await queueFiles(context, applied.changeSetId, applied.title, files);
    const answer: FilesAnswer = {
      conflicts: applied.conflicts,
      files: { written: 0, waiting: files.lines, runId },
    };
    return { applied, files: () => Promise.resolve(answer) };
  }
  // Lined up before the turn goes on, so that what is asked for first is written first.
  const written = writeNow(context, applied, files);
  return { applied, files: () => written };
}

async function writeNow(context: ChangeContext, applied: Applied, { devices }: FilePart): Promise<FilesAnswer> {
  const report = await carryOut(context, applied.changeSetId, { device: devices[0] ?? UNKNOWN_DEVICE });
  return {
    conflicts: [...applied.conflicts, ...report.left],
    files: { written: report.written, waiting: 0, runId: null },
  };
}

/**
 * The writing that puts into files what the library says: given fields, or those that are not in the files yet.
 */
export async function draftWriting(
  { database }: ChangeContext,
  trackIds: readonly number[],
  fields: readonly string[] | null,
): Promise<WriteTags[]> {
  const settings = await deskSettings();
  const known = await expectedFileFields(database, trackIds);
  const tracks = await loadTracks(
    database,
    trackIds,
    TAG_FIELDS.map((f) => f.id),
  );
  return [...tracks].flatMap(([id, { values: all, unwritten }]) => {
    const values = Object.fromEntries((fields ?? unwritten).map((field) => [field, all[field] ?? null]));
    // Asked for by name, an empty field is passed over: it would take something out of the file that nobody looked at.
    const wanted = fields ? Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) : values;
    return writeFields(id, wanted, known.get(id) ?? null, settings) ?? [];
  });
}

/** So many lines of a draft are told in full. */
const TOLD_LINES = 200;

/** A draft of writing as the page shows it before it is made. */
export async function writingInWords(
  database: ChangeContext['database'],
  items: readonly WriteTags[],
): Promise<WritingDraft> {
  const first = items.slice(0, TOLD_LINES);
  const names = new Map(
    (
      await database.rows<{ id: number; name: string; path: string }>(
        'SELECT id, COALESCE(title, path) AS name, path FROM tracks WHERE id = ANY($1::int[])',
        [first.map((i) => i.trackId)],
      )
    ).map((n) => [n.id, n]),
  );
  return {
    tracks: items.length,
    fields: items.reduce((n, i) => n + Object.keys(i.fields).length, 0),
    lines: first.flatMap((i) => {
      const track = names.get(i.trackId);
      return track
        ? [
            {
              trackId: i.trackId,
              name: track.name,
              path: track.path,
              fields: Object.entries(i.fields).map(([field, texts]) => ({ field, ...texts })),
            },
          ]
        : [];
    }),
  };
}
