/**
 * Onset detection functions: log-filtered spectral flux with maximum filtering along frequency
 * (Böck & Widmer, "Maximum filter vibrato suppression for onset detection", DAFx 2013), in five bands.
 */
import type { Kernels } from '../../signal/kernels/kernels.ts';
import { createFramer, planMagnitudes } from '../../signal/spectrum.ts';
import { growing, growingShorts, hann, type Growing } from '../../signal/windows.ts';

/** The bands: kick, body, snare, presence, hats. */
export const ONSET_BANDS_HZ = [30, 160, 600, 2400, 6000, 11000] as const;
export const ONSET_BAND_COUNT = ONSET_BANDS_HZ.length - 1;

export interface Onsets {
  /** Flux per band, one value per frame. */
  bands: Float32Array[];
  /** Spectral centroid of each frame in whole Hz, for brightness. */
  centroidHz: Uint16Array;
  /** Frames a second. */
  frameRate: number;
  /** Time of frame 0 (its centre) in seconds. */
  startSeconds: number;
}

export interface OnsetDetector {
  push(mono: Float32Array, length: number): void;
  finish(): Onsets;
}

const FILTERS_PER_OCTAVE = 12;
const LAG = 2;

/**
 * Triangular filters in flat arrays: filter f weighs `spans[2f + 1]` bins (a multiple of 4) from bin `spans[2f]` + 1
 * on; its weights lie behind those of f − 1. The filters of band b end before `bandEnds[b]`.
 */
interface FilterBank {
  spans: number[];
  weights: number[];
  bandEnds: number[];
}

/**
 * Starts a detector for a mono stream of 8 to 48 kHz: frames of about 46 ms, every 10 ms.
 * @param seconds that it may last; 0 where nobody knows
 */
export function createOnsetDetector(sampleRate: number, kernels: Kernels, seconds = 0): OnsetDetector {
  const size = 2 ** Math.round(Math.log2(sampleRate * 0.0465));
  const hop = Math.round(sampleRate / 100);
  const spectrum = planMagnitudes(kernels, hann(size));
  const bank = logFilters(size, sampleRate);
  const count = bank.spans.length / 2;
  const integers = (values: number[]): number => {
    const own = kernels.floats(values.length);
    new Uint32Array(own.buffer, own.byteOffset, values.length).set(values);
    return own.byteOffset;
  };
  const spans = integers(bank.spans),
    bandEnds = integers(bank.bandEnds);
  const weights = kernels.floats(bank.weights.length);
  weights.set(bank.weights);
  const magnitudes = kernels.floats(size / 2 + 4);
  const inner = magnitudes.subarray(0, Math.ceil((size / 2 - 1) / 4) * 4);
  const flux = kernels.floats(ONSET_BAND_COUNT);
  // One empty filter at each side, so that neighbours need no bounds.
  const spectra = Array.from({ length: LAG + 1 }, () => kernels.floats(count + 8).byteOffset);
  const expected = (seconds * sampleRate) / hop;
  const output: Growing<Float32Array>[] = Array.from({ length: ONSET_BAND_COUNT }, () => growing(expected));
  const centroid = growingShorts(expected);
  const magnitudesAt = magnitudes.byteOffset,
    weightsAt = weights.byteOffset,
    fluxAt = flux.byteOffset;
  let frame = 0;

  const push = createFramer(kernels, size, hop, (pointer) => {
    spectrum(pointer, inner, 1);
    const now = spectra[frame % (LAG + 1)]!;
    const centre = kernels.filterBank(magnitudesAt, spans, weightsAt, count, now + 4);
    centroid.push(centre < 0 ? 0 : Math.round(ONSET_BANDS_HZ[0] * 2 ** (centre / FILTERS_PER_OCTAVE)));
    if (frame >= LAG) kernels.riseSince(spectra[(frame + 1) % (LAG + 1)]!, now, bandEnds, ONSET_BAND_COUNT, fluxAt);
    for (let b = 0; b < ONSET_BAND_COUNT; b++) output[b]!.push(flux[b]!);
    frame++;
  });

  return {
    push,
    finish: () => ({
      bands: output.map((list) => list.take()),
      centroidHz: centroid.take(),
      frameRate: sampleRate / hop,
      startSeconds: 0,
    }),
  };
}

function logFilters(size: number, sampleRate: number): FilterBank {
  const binHz = sampleRate / size;
  const top = Math.min(ONSET_BANDS_HZ[ONSET_BAND_COUNT]!, sampleRate * 0.48);
  const centres: number[] = [];
  for (let hz: number = ONSET_BANDS_HZ[0]; hz < top; hz *= 2 ** (1 / FILTERS_PER_OCTAVE)) {
    const bin = Math.round(hz / binHz);
    if (bin > 0 && bin !== centres.at(-1)) centres.push(bin);
  }
  const weights: number[] = [],
    spans: number[] = [];
  centres.forEach((centre, i) => {
    const left = centres[i - 1] ?? centre - 1,
      right = centres[i + 1] ?? centre + 1;
    for (let bin = left + 1; bin < right; bin++)
      weights.push(bin <= centre ? (bin - left) / (centre - left) : (right - bin) / (right - centre));
    while (weights.length % 4 !== 0) weights.push(0);
    spans.push(left, Math.ceil((right - left - 1) / 4) * 4);
  });
  const bandOf = (centre: number): number => {
    const above = ONSET_BANDS_HZ.findIndex((edge) => centre * binHz < edge);
    return above < 0 ? ONSET_BAND_COUNT - 1 : Math.max(0, above - 1);
  };
  return {
    spans,
    weights,
    bandEnds: Array.from({ length: ONSET_BAND_COUNT }, (_, b) => centres.filter((c) => bandOf(c) <= b).length),
  };
}
