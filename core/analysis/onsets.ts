/**
 * Onset detection functions: log-filtered spectral flux with maximum filtering along frequency
 * (Böck & Widmer, "Maximum filter vibrato suppression for onset detection", DAFx 2013), in five bands.
 */
import { planMagnitudes } from '../signal/fft.ts';
import { growing, hann, type Growing } from '../signal/windows.ts';

/** The bands: kick, body, snare, presence, hats. */
export const ONSET_BANDS_HZ = [30, 160, 600, 2400, 6000, 11000] as const;
export const ONSET_BAND_COUNT = ONSET_BANDS_HZ.length - 1;

export interface Onsets {
  /** Flux per band, one value per frame. */
  bands: Float32Array[];
  /** Spectral centroid of each frame in Hz, for brightness. */
  centroidHz: Float32Array;
  /** Frames a second. */
  frameRate: number;
  /** Time of frame 0 (its centre) in seconds. */
  startSeconds: number;
}

export interface OnsetDetector { push(mono: Float32Array, length: number): void; finish(): Onsets }

const FILTERS_PER_OCTAVE = 12;
const LAG = 2;

/** Triangular filters in flat arrays: filter f weighs bins first[f] … end[f], its weights behind those of f − 1. */
interface FilterBank { first: Int32Array; end: Int32Array; weights: Float64Array; band: Int32Array }

/** Starts a detector for a mono stream of 8 to 48 kHz: frames of about 46 ms, every 10 ms. */
export function createOnsetDetector(sampleRate: number): OnsetDetector {
  const size = 2 ** Math.round(Math.log2(sampleRate * 0.0465));
  const hop = Math.round(sampleRate / 100);
  const spectrum = planMagnitudes(size, hann(size));
  const bank = logFilters(size, sampleRate);
  const count = bank.first.length;
  // From bin 1 on: the lowest filter begins there or above.
  const magnitudes = new Float64Array(bank.end.at(-1)! - 1);
  const flux = new Float64Array(ONSET_BAND_COUNT);
  // One empty filter at each side, so that neighbours need no bounds.
  const spectra = Array.from({ length: LAG + 1 }, () => new Float64Array(count + 2));
  const output: Growing[] = Array.from({ length: ONSET_BAND_COUNT }, () => growing());
  const centroid = growing();
  const buffer = new Float32Array(size * 4);
  let filled = size / 2; // half a frame of silence before, so that frame k is centred on k·hop
  let frame = 0;

  const analyse = (at: number): void => {
    spectrum(buffer, at, magnitudes, 1);
    const now = spectra[frame % (LAG + 1)]!;
    centroid.push(filterSpectrum(bank, magnitudes, now));
    flux.fill(0);
    if (frame >= LAG) riseSince(spectra[(frame + 1) % (LAG + 1)]!, now, bank.band, flux);
    for (let b = 0; b < ONSET_BAND_COUNT; b++) output[b]!.push(flux[b]!);
    frame++;
  };

  return {
    push(mono, length) {
      for (let from = 0; from < length;) {
        const take = Math.min(length - from, buffer.length - filled);
        buffer.set(mono.subarray(from, from + take), filled);
        filled += take;
        from += take;
        let at = 0;
        for (; at + size <= filled; at += hop) analyse(at);
        buffer.copyWithin(0, at, filled);
        filled -= at;
      }
    },
    finish: () => ({
      bands: output.map((list) => list.view()),
      centroidHz: centroid.view(),
      frameRate: sampleRate / hop,
      startSeconds: 0,
    }),
  };
}

/** Writes the logarithmic magnitudes behind the filters to `out` from 1 on; returns the spectral centroid in Hz. */
function filterSpectrum(bank: FilterBank, magnitudes: Float64Array, out: Float64Array): number {
  const { first, end, weights } = bank;
  let weighted = 0, total = 0;
  for (let f = 0, w = 0, count = first.length; f < count; f++) {
    let sum = 0;
    for (let k = first[f]! - 1, stop = end[f]! - 1; k < stop; k++, w++) sum += magnitudes[k]! * weights[w]!;
    weighted += sum * f;
    total += sum;
    out[f + 1] = Math.log1p(sum) * Math.LOG10E;
  }
  return total > 1e-3 ? 30 * 2 ** (weighted / total / FILTERS_PER_OCTAVE) : 0;
}

/** Adds up, per band, how far each filter has risen over the highest of its three neighbours before. */
function riseSince(before: Float64Array, now: Float64Array, band: Int32Array, flux: Float64Array): void {
  for (let f = 1, count = band.length; f <= count; f++) {
    const left = before[f - 1]!, middle = before[f]!, right = before[f + 1]!;
    let past = middle > left ? middle : left;
    if (right > past) past = right;
    const rise = now[f]! - past;
    if (rise > 0) flux[band[f - 1]!]! += rise;
  }
}

function logFilters(size: number, sampleRate: number): FilterBank {
  const binHz = sampleRate / size;
  const top = Math.min(ONSET_BANDS_HZ[ONSET_BAND_COUNT]!, sampleRate * 0.48);
  const centres: number[] = [];
  for (let hz: number = ONSET_BANDS_HZ[0]; hz < top; hz *= 2 ** (1 / FILTERS_PER_OCTAVE)) {
    const bin = Math.round(hz / binHz);
    if (bin > 0 && bin !== centres.at(-1)) centres.push(bin);
  }
  const weights: number[] = [];
  const edges = centres.map((centre, i) => [centres[i - 1] ?? centre - 1, centres[i + 1] ?? centre + 1] as const);
  centres.forEach((centre, i) => {
    const [left, right] = edges[i]!;
    for (let bin = left + 1; bin < right; bin++) weights.push(bin <= centre ? (bin - left) / (centre - left) : (right - bin) / (right - centre));
  });
  return {
    first: Int32Array.from(edges, ([left]) => left + 1),
    end: Int32Array.from(edges, ([, right]) => right),
    weights: Float64Array.from(weights),
    band: Int32Array.from(centres, (centre) => {
      const above = ONSET_BANDS_HZ.findIndex((edge) => centre * binHz < edge);
      return above < 0 ? ONSET_BAND_COUNT - 1 : Math.max(0, above - 1);
    }),
  };
}
