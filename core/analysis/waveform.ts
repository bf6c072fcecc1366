/**
 * Waveforms as they are stored: peaks of three bands (low, mid, high, interleaved), WAVEFORM_RATE columns a second, a
 * byte each. A byte is a level in decibels, so that the quietest piece is drawn and compared as finely as the loudest.
 */

/** Columns a second. */
export const WAVEFORM_RATE = 100;
/** Bands of a column. */
export const WAVEFORM_BANDS = 3;
/** What bytes mean: 1, as an earlier engine stored them, a share of full scale (0 … 255); 2, decibels. */
export const WAVEFORM_FORM = 2;

/** Decibels from one byte to the next; 255 is full scale. */
const STEP_DB = 0.3;
/** The quietest that has a byte of its own, in dB below full scale; below it is nothing, byte 0. */
export const QUIETEST_DB = -254 * STEP_DB;

/** The level of each byte, 0 … 1. */
export const BYTE_LEVELS = Float64Array.from({ length: 256 }, (_, byte) =>
  byte === 0 ? 0 : 10 ** ((-(255 - byte) * STEP_DB) / 20),
);

/** @param level 0 … 1, full scale; what is louder counts as full scale */
export function levelByte(level: number): number {
  const db = 20 * Math.log10(level);
  return db < QUIETEST_DB - STEP_DB / 2 ? 0 : Math.min(255, Math.round(255 + db / STEP_DB));
}

const FROM_SHARES = Uint8Array.from({ length: 256 }, (_, share) => levelByte(share / 255));

/** Bytes as an earlier engine stored them, as they are now. */
export const fromShares = (waveform: Uint8Array): Uint8Array => waveform.map((share) => FROM_SHARES[share]!);
