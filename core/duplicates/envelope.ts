/**
 * What a recording sounds like over its whole length, coarsely: the levels of three bands, in decibels. They survive
 * encoding, gain and mono, and show where drums are missing or another ending was played.
 */
import { BYTE_LEVELS, QUIETEST_DB, WAVEFORM_BANDS as BANDS, WAVEFORM_RATE } from '../analysis/waveform.ts';
import { planRealFft, type RealFft } from '../signal/fft.ts';

/** Columns of the waveform in one of the envelope: 20 a second. */
const COLUMNS = 5;
/** What lies so far below a recording's loudest passages is not told apart, in dB: encoders leave it out. */
export const FLOOR = -42;

/** Levels in dB below the loudest of the recording, three bands interleaved, ENVELOPE_RATE columns a second. */
export type Envelope = Float32Array;

/** A recording's levels, 0 … 1, three bands interleaved, WAVEFORM_RATE columns a second; and how loud it becomes. */
export interface Levels {
  levels: Float32Array;
  /** dB below full scale that its loudest passages reach. */
  topDb: number;
  /** Below this nothing is known, in dB below the top: of the quietest, bytes tell less than down to FLOOR. */
  floor: number;
}

/** This share of the time a recording is quieter than its loudest passages. */
const BELOW_TOP = 0.98;

/** @param waveform as bytes (`core/analysis/waveform`) */
export function levelsOf(waveform: Uint8Array): Levels {
  const levels = Float32Array.from(waveform, (byte) => BYTE_LEVELS[byte]!);
  const counts = new Uint32Array(256);
  for (let i = 0; i + BANDS <= waveform.length; i += BANDS)
    counts[Math.max(waveform[i]!, waveform[i + 1]!, waveform[i + 2]!)]!++;
  // Silence is no passage.
  let left = (1 - BELOW_TOP) * (waveform.length / BANDS - counts[0]!),
    top = 255;
  while (top > 0 && (left -= counts[top]!) > 0) top--;
  const topDb = top === 0 ? 0 : 20 * Math.log10(BYTE_LEVELS[top]!);
  return { levels, topDb, floor: Math.max(FLOOR, QUIETEST_DB - topDb) };
}

/** @param from the column of the waveform with which the envelope begins */
export function envelopeOf({ levels: peaks, topDb, floor }: Levels, from = 0): Envelope {
  const count = Math.max(0, Math.floor((peaks.length / BANDS - from) / COLUMNS));
  const levels = new Float32Array(count * BANDS);
  for (let i = 0; i < count; i++)
    for (let band = 0; band < BANDS; band++) {
      let sum = 0;
      for (let k = 0, at = (from + i * COLUMNS) * BANDS + band; k < COLUMNS; k++, at += BANDS) sum += peaks[at]! ** 2;
      levels[i * BANDS + band] = Math.max(floor, 10 * Math.log10(sum / COLUMNS + 1e-12) - topDb);
    }
  return levels;
}

/** Columns of an envelope a second. */
export const ENVELOPE_RATE = WAVEFORM_RATE / COLUMNS;

/** Where something is heard: first column and the one behind the last; both 0 where nothing is. */
export interface Heard {
  from: number;
  to: number;
}

export function audible(levels: Envelope): Heard {
  const count = levels.length / BANDS;
  const loud = (i: number): boolean => levels.subarray(i * BANDS, (i + 1) * BANDS).some((level) => level > FLOOR + 3);
  let from = 0,
    to = count;
  while (from < count && !loud(from)) from++;
  while (to > from && !loud(to - 1)) to--;
  return from === to ? { from: 0, to: 0 } : { from, to };
}

/** What is slower than this is left out, in seconds: the form of a piece is much the same at any offset. */
const SLOW_SECONDS = 4;

/** How each column of a band stands out from what is around it, in dB. */
function contour(levels: Envelope, band: number, size: number): Float64Array {
  const count = levels.length / BANDS,
    reach = (SLOW_SECONDS * ENVELOPE_RATE) / 2;
  const sums = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) sums[i + 1] = sums[i]! + levels[i * BANDS + band]!;
  const out = new Float64Array(size);
  for (let i = 0; i < count; i++) {
    const from = Math.max(0, i - reach),
      to = Math.min(count, i + reach);
    out[i] = levels[i * BANDS + band]! - (sums[to]! - sums[from]!) / (to - from);
  }
  return out;
}

const plans = new Map<number, RealFft>();
function planOf(size: number): RealFft {
  const plan = plans.get(size) ?? planRealFft(size);
  plans.set(size, plan);
  return plan;
}

/**
 * The offsets at which two recordings follow each other best, the best first.
 * @param most how many, at most
 * @returns columns by which the second has to be moved to lie on the first
 */
export function likelyOffsets(a: Envelope, b: Envelope, most: number): number[] {
  const counts = [a.length / BANDS, b.length / BANDS] as const;
  let size = 4;
  while (size < counts[0] + counts[1]) size <<= 1;
  const plan = planOf(size);
  // The cross-spectrum of all bands, put back by forward transforms of its real and its imaginary part.
  const even = new Float64Array(size),
    odd = new Float64Array(size);
  for (let band = 0; band < BANDS; band++) {
    plan.transform(contour(a, band, size));
    const re = plan.re.slice(),
      im = plan.im.slice();
    plan.transform(contour(b, band, size));
    for (let k = 0; k <= size / 2; k++) {
      const real = re[k]! * plan.re[k]! + im[k]! * plan.im[k]!,
        imaginary = im[k]! * plan.re[k]! - re[k]! * plan.im[k]!;
      even[k]! += real;
      odd[k]! += imaginary;
      if (k > 0 && k < size / 2) {
        even[size - k]! += real;
        odd[size - k]! -= imaginary;
      }
    }
  }
  plan.transform(even);
  const back = plan.re.slice();
  plan.transform(odd);
  const at = (offset: number): number => {
    const k = Math.abs(offset);
    // The inverse of an odd imaginary spectrum is its sine part, with the sign of the offset.
    return back[k]! + Math.sign(offset) * plan.im[k]!;
  };
  const peaks: { offset: number; height: number }[] = [];
  for (let offset = 1 - counts[1]; offset < counts[0]; offset++) {
    const height = at(offset);
    if (height > 0 && height >= at(offset - 1) && height > at(offset + 1)) peaks.push({ offset, height });
  }
  return peaks
    .sort((x, y) => y.height - x.height)
    .slice(0, most)
    .map((p) => p.offset);
}
