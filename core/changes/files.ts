/** Drafts for files: other names. */
import { named, nameOf } from '../files/paths.ts';
import type { MoveFile } from './items.ts';

/** A wish for another file name, without its ending; `before` is the name that the draft has seen. */
export interface Renaming {
  trackId: number;
  path: string;
  before: string;
  after: string;
}

/**
 * Moves that give files other names in their folders. What was seen and is no longer so stays as before, so that it is a
 * conflict when it is applied. A file whose new name another one gives up goes after that one.
 */
export function renameFiles(wishes: readonly Renaming[]): MoveFile[] {
  const moves = wishes.map(({ trackId, path, before, after }): MoveFile => ({
    kind: 'move-file',
    trackId,
    before: nameOf(path) === before ? path : named(path, before),
    after: named(path, after),
  }));
  return inTurn(moves.filter((m) => m.before !== m.after));
}

/** Moves in an order in which each finds its place free, where there is one. */
function inTurn(moves: readonly MoveFile[]): MoveFile[] {
  const leaving = new Map(moves.map((m) => [m.before, m]));
  const out: MoveFile[] = [];
  const seen = new Set<MoveFile>();
  const put = (move: MoveFile): void => {
    if (seen.has(move)) return;
    seen.add(move);
    const first = leaving.get(move.after);
    if (first) put(first);
    out.push(move);
  };
  moves.forEach(put);
  return out;
}
