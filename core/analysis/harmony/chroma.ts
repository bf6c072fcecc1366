/**
 * Pitch content over time: tuning and harmonic pitch-class profiles (Gómez 2006) from spectra whose
 * percussion has been taken out by a running median over time (Fitzgerald 2010).
 */
import type { Kernels } from '../../signal/kernels/kernels.ts';
import { createFramer, planMagnitudes } from '../../signal/spectrum.ts';
import { growingShorts, hann } from '../../signal/windows.ts';

/** Pitch classes per octave in the fine profile; folded to 12 when the tuning is known. */
export const FINE_BINS = 60;
/** So many make one of a peak at full height: no bin gathers as many peaks as 16 bits hold. */
export const FINE_UNITS = 4096;
const LOWEST_HZ = 55;
const HIGHEST_HZ = 2000;
const BASS_TOP_HZ = 220;
const MEDIAN_FRAMES = 5;

export interface Chroma {
  /** FINE_BINS values a frame, in FINE_UNITS; bin 0 is A at 440 Hz tuning, 5 bins a semitone. */
  frames: Uint16Array;
  /** The same over 55 to 220 Hz. */
  bass: Uint16Array;
  frameCount: number;
  frameRate: number;
  /** Deviation of the track's tuning from A = 440 Hz, −50 to +50 cents. */
  tuningCents: number;
}

export interface ChromaExtractor {
  push(mono: Float32Array, length: number): void;
  finish(): Chroma;
}

/**
 * Starts an extractor for a mono stream of about 5 to 12 kHz.
 * @param seconds that it may last; 0 where nobody knows
 */
export function createChromaExtractor(sampleRate: number, kernels: Kernels, seconds = 0): ChromaExtractor {
  const size = 2 ** Math.round(Math.log2(sampleRate * 0.74));
  const hop = size / 4;
  const binHz = sampleRate / size;
  const spectrum = planMagnitudes(kernels, hann(size));
  const lowBin = Math.floor(LOWEST_HZ / binHz);
  const highBin = Math.min(size / 2 - 2, Math.ceil(HIGHEST_HZ / binHz));
  const width = highBin - lowBin + 1;
  const history = Array.from({ length: MEDIAN_FRAMES }, () => kernels.floats(width));
  const smooth = kernels.floats(width);
  const sums = new Float64Array(width + 1);
  const expected = (seconds * sampleRate * FINE_BINS) / hop;
  const frames = growingShorts(expected),
    bass = growingShorts(expected);
  const all = new Float32Array(FINE_BINS),
    low = new Float32Array(FINE_BINS);
  const logs = kernels.floats(width);
  const rows = history.map((row) => row.byteOffset),
    smoothAt = smooth.byteOffset,
    logsAt = logs.byteOffset,
    padded = Math.ceil(width / 4) * 4;
  /** Semitones of each bin above 440 Hz. */
  const pitches = Float64Array.from({ length: width }, (_, k) => 12 * Math.log2(((lowBin + k) * binHz) / 440));
  let frameCount = 0;
  const tuning = new Float64Array(100);
  let seen = 0;

  const takeFrame = (): void => {
    kernels.medianOf5(rows[0]!, rows[1]!, rows[2]!, rows[3]!, rows[4]!, smoothAt, padded);
    kernels.logarithms(smoothAt, padded, 1e-9, logsAt);
    all.fill(0);
    low.fill(0);
    let top = 0;
    for (let k = 0; k < width; k++) {
      const m = smooth[k]!;
      if (m > top) top = m;
      sums[k + 1] = sums[k]! + m;
    }
    for (let k = 2; top > 1e-4 && k < width - 2; k++) {
      const m = smooth[k]!;
      if (m < top * 0.003 || m <= smooth[k - 1]! || m < smooth[k + 1]!) continue;
      // Whitening: the peak counts by how far it stands above its neighbourhood.
      const from = Math.max(0, k - 12),
        to = Math.min(width, k + 13);
      const floor = (sums[to]! - sums[from]!) / (to - from);
      if (m < floor * 1.5) continue;
      const a = logs[k - 1]!,
        b = logs[k]!,
        c = logs[k + 1]!;
      const shift = Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / (a - 2 * b + c || -1)));
      // The logarithm of 1 + part, by its series: no peak lies further from its bin than a hundredth of its pitch.
      const part = shift / (lowBin + k);
      const semitones = pitches[k]! + (12 / Math.LN2) * part * (1 - part * (1 / 2 - part / 3));
      const weight = Math.sqrt(m / top);
      const cents = Math.round((semitones - Math.round(semitones)) * 100);
      tuning[((cents | 0) + 100) % 100]! += weight * Math.min(1, ((lowBin + k + shift) * binHz) / 200);
      spread(all, semitones, weight);
      // A peak is also taken as the second and third harmonic of a lower note, with less weight.
      spread(all, semitones - 19.02, weight * 0.25);
      if ((lowBin + k + shift) * binHz < BASS_TOP_HZ) spread(low, semitones, weight);
    }
    for (let b = 0; b < FINE_BINS; b++) {
      frames.push(inUnits(all[b]!));
      bass.push(inUnits(low[b]!));
    }
    frameCount++;
  };

  const push = createFramer(kernels, size, hop, (pointer) => {
    spectrum(pointer, history[seen % MEDIAN_FRAMES]!, lowBin);
    seen++;
    if (seen >= Math.ceil(MEDIAN_FRAMES / 2)) takeFrame();
  });

  return {
    push,
    finish: () => ({
      frames: frames.take(),
      bass: bass.take(),
      frameCount,
      frameRate: sampleRate / hop,
      tuningCents: tuningOf(tuning),
    }),
  };
}

const inUnits = (weight: number): number => Math.min(65_535, Math.round(weight * FINE_UNITS));

function spread(profile: Float32Array, semitones: number, weight: number): void {
  // Octaves are added so that all are positive; the remainder of 32-bit integers is the quick one.
  const at = semitones * 5 + 10 * FINE_BINS;
  const low = at | 0;
  const part = at - low;
  profile[low % FINE_BINS]! += weight * (1 - part);
  profile[(low + 1) % FINE_BINS]! += weight * part;
}

/** Circular mean of the deviations, in cents. */
function tuningOf(histogram: Float64Array): number {
  let re = 0,
    im = 0;
  histogram.forEach((w, cents) => {
    re += w * Math.cos((2 * Math.PI * cents) / 100);
    im += w * Math.sin((2 * Math.PI * cents) / 100);
  });
  return re === 0 && im === 0 ? 0 : (Math.atan2(im, re) * 100) / (2 * Math.PI);
}

/** For each fine bin at a tuning: its class (0 = C), and how much of it counts there. */
interface Folding {
  tuningCents: number;
  classes: Uint8Array;
  shares: Float64Array;
}

let folding: Folding | null = null;

/** The last one is kept: a track is folded thousands of times at one tuning. */
function foldingAt(tuningCents: number): Folding {
  if (folding?.tuningCents === tuningCents) return folding;
  const semitones = Float64Array.from({ length: FINE_BINS }, (_, b) => b / 5 - tuningCents / 100);
  return (folding = {
    tuningCents,
    classes: Uint8Array.from(semitones, (s) => (Math.round(s) + 9 + 12) % 12), // A is class 9 when C is 0
    shares: semitones.map((s) => 1 - Math.abs(s - Math.round(s))),
  });
}

/**
 * Folds `count` fine frames from `first` on into 12 classes (0 = C) at a tuning, each frame normalised.
 * @param out is added to and given back
 */
export function foldChroma(
  fine: Uint16Array,
  first: number,
  count: number,
  tuningCents: number,
  out = new Float64Array(12),
): Float64Array {
  const { classes, shares } = foldingAt(tuningCents);
  for (let f = first; f < first + count; f++) {
    let total = 0;
    for (let b = 0; b < FINE_BINS; b++) total += fine[f * FINE_BINS + b]!;
    if (total <= 0) continue;
    for (let b = 0; b < FINE_BINS; b++) {
      const v = fine[f * FINE_BINS + b]!;
      if (v !== 0) out[classes[b]!]! += (v / total) * shares[b]!;
    }
  }
  return out;
}
