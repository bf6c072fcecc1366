/**
 * What a recording loses that was cut anywhere: each piece once more, from a moment within one of its bars on. Music
 * begins with a bar or a pick-up, its excerpts do not.
 */
import { seeded } from '@early-set/core/signal/random';
import { longestTempo, type MadePiece } from './makePieces.ts';

/** A piece from a moment on, with times counted from there. */
export interface Excerpt extends MadePiece {
  /** Seconds of the piece before it. */
  from: number;
}

/** Seconds after its beginning between which a piece is cut. */
const FIRST = 5,
  LAST = 20;

/** Each piece's excerpt; the same pieces, the same moments. */
export function excerptsOf(pieces: readonly MadePiece[]): Excerpt[] {
  const random = seeded(29);
  return pieces.map((piece) => excerptOf(piece, FIRST + (LAST - FIRST) * random()));
}

/** True beats begin with the first whole bar. */
export function excerptOf(piece: MadePiece, from: number): Excerpt {
  const first = piece.beats.findIndex((time, i) => i % piece.beatsPerBar === 0 && time >= from);
  const beats = first < 0 ? [] : piece.beats.slice(first).map((time) => time - from);
  const sections = piece.sections
    .map((part) => ({ ...part, start: part.start - from }))
    .filter(({ start }) => start >= 0);
  return longestTempo({ ...piece, from, beats, sections });
}
