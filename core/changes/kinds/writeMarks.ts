/** Playout points and what a playout system has to know, written into a WAV file where it lies: its `cart` chunk. */
import type { Cart } from '../../playout/cart.ts';
import { defineKind, GONE_TRACK } from './kind.ts';

export interface WriteMarks {
  kind: 'write-marks';
  trackId: number;
  /** What the chunk says, with places in samples of the file. What others wrote there besides is kept. */
  cart: Cart;
  /** Taken back: the bytes that were there. */
  back?: true;
}

export const writeMarks = (trackId: number, cart: Cart): WriteMarks => ({ kind: 'write-marks', trackId, cart });

export const writeMarksKind = defineKind<WriteMarks>({
  kind: 'write-marks',
  area: 'files',
  inFiles: true,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict: ({ trackId }, { tracks }) => (tracks.has(trackId) ? null : GONE_TRACK),
  // The file is looked at when its turn comes.
  apply: () => undefined,
  inverse: ({ back, ...item }) => (back ? item : { ...item, back: true }),
  words: ({ cart, back }) => ({
    show: 'sentence',
    text: back
      ? 'In the file: as it was before its playout points'
      : `In the file: ${cart.timers.length} playout points, playout ID ${cart.cutId}`,
  }),
  searched: ({ cart }) => cart.cutId,
});
