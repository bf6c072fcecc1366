/** Playout points of chosen tracks for the `cart` chunks of their own WAV files. */
import type { PointsDraft } from '@early-set/core/api/stick';
import type { Selection } from '@early-set/core/api/types';
import { writeMarks, type WriteMarks } from '@early-set/core/changes/kinds/writeMarks';
import { endingOf } from '@early-set/core/files/paths';
import type { TrackValues } from '@early-set/core/fields/values';
import { cartOf, ITEM_FIELDS, needsOfItem } from '@early-set/core/playout/item';
import { TURNSTONE } from '@early-set/core/playout/system';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { wholeOf } from '../library/columns.ts';
import { selectedIds } from '../library/sheet.ts';

/** So many files are written at once. */
const MAX_FILES = 20_000;

interface Found {
  items: WriteMarks[];
  draft: PointsDraft;
}

/** What is written where the points are known; what is no WAV, and what lacks one, is counted. */
export async function pointsFor(database: Database, selection: Selection): Promise<Found> {
  const ids = await selectedIds(database, selection, 'path');
  const rows = await database.rows<{ id: number; path: string; values: TrackValues }>(
    `SELECT t.id, t.path, (SELECT to_json(v) FROM (SELECT ${wholeOf([...ITEM_FIELDS, 'sampleRate'])}) v) AS values
      FROM tracks t WHERE t.id = ANY($1::int[]) AND t.file_state = 'here' ORDER BY t.id`,
    [ids],
  );
  const items: WriteMarks[] = [];
  const draft: PointsDraft = { files: 0, others: ids.length - rows.length, lacking: 0, reasons: [] };
  const reasons = new Map<string, number>();
  for (const { id, path, values } of rows) {
    const { sampleRate, durationSeconds } = values;
    if (!/^\.wave?$/i.test(endingOf(path)) || typeof sampleRate !== 'number') {
      draft.others++;
      continue;
    }
    // Its loudness and its texts are not asked for: nothing of its sound changes.
    const system = { ...TURNSTONE, hertz: sampleRate };
    const needs = needsOfItem(values, system).filter((n) => n.mend === 'Sound' || n.field === 'playoutId');
    for (const { reason } of needs) reasons.set(reason, (reasons.get(reason) ?? 0) + 1);
    if (needs.length > 0) draft.lacking++;
    else items.push(writeMarks(id, cartOf(values, system, Math.round(Number(durationSeconds ?? 0) * sampleRate))));
  }
  if (items.length > MAX_FILES)
    throw new Problem(400, 'too-many', `At most ${MAX_FILES.toLocaleString('en-GB')} files are written at once`);
  draft.files = items.length;
  draft.reasons = [...reasons].sort(([, a], [, b]) => b - a).map(([reason, tracks]) => ({ reason, tracks }));
  return { items, draft };
}
