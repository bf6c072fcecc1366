/** Tracks with what would become of each, as the sheet of the Clean stage shows them. */
import type { FieldChange, Question } from '@early-set/core/clean/runSteps';
import type { CleanRow } from './CleanSheet.tsx';

const NO_CHANGES: FieldChange[] = [],
  NO_QUESTIONS: Question[] = [];

export function rowsOf(
  tracks: readonly CleanRow['track'][],
  changes: readonly { id: number; fields: FieldChange[] }[],
  questions: readonly Question[],
  leftOut: ReadonlySet<number>,
): CleanRow[] {
  const byId = new Map(changes.map((c) => [c.id, c.fields]));
  const asked = new Map<number, Question[]>();
  for (const q of questions) asked.set(q.trackId, [...(asked.get(q.trackId) ?? []), q]);
  return tracks.map((track) => ({
    track,
    changes: byId.get(track.id) ?? NO_CHANGES,
    questions: asked.get(track.id) ?? NO_QUESTIONS,
    leftOut: leftOut.has(track.id),
  }));
}
