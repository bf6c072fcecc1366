/**
 * What the sound itself tells of its past: how far up it reaches, flat tops, DC, and how its sides belong together.
 * Spectra are taken sparsely, over the whole width of the file.
 */
import type { Kernels } from '../../signal/kernels/kernels.ts';
import { planMagnitudes } from '../../signal/spectrum.ts';
import { hann } from '../../signal/windows.ts';
import { EXCERPT } from './traces/blocks.ts';
import { EXCERPT_STEP, type Excerpt } from './traces/traces.ts';

/** Width of the bands whose levels are kept. */
export const BAND_HZ = 100;
const FRAME_SECONDS = 0.0929;
const FIRST_HOP_SECONDS = 0.5;
/** When there are more, every second is dropped and the distance doubled. */
const MAX_FRAMES = 1200;

/** There are always fewer excerpts. */
const MAX_EXCERPTS = 64;
/** Beyond the rates of encoders their blocks are not to be found, as the sound was resampled. */
const FASTEST_ENCODED_HZ = 48_000;

export interface SoundMeasures {
  /** Levels in dB of each BAND_HZ from 0 on, one row a frame; 0 dB is a full-scale sine. */
  spectra: Float32Array[];
  /** Stretches of three samples or more at the top that hardly differ. */
  flatTops: number;
  /** Samples of the longest. */
  longestFlatTop: number;
  /** Means of the first two channels, as shares of full scale. */
  dcOffset: [number, number];
  /** Correlation of the first two channels, −1 … 1; null for one channel or silence. */
  phaseCorrelation: number | null;
  /**
   * How far the difference of the sides lies under their sum, dB; Infinity when they are the same, null for one
   * channel or silence.
   */
  sideBelowMidDb: number | null;
  /** Stretches of the first two channels, spread over the whole, in which an encoder may have left its traces. */
  excerpts: Excerpt[];
}

export interface SoundMeter {
  push(planes: Float32Array[], count: number, runs: Float32Array[]): void;
  finish(): SoundMeasures;
}

/** Starts a meter over planes in the kernels' memory, with the peaks of their runs. */
export function createSoundMeter(sampleRate: number, channels: number, kernels: Kernels): SoundMeter {
  const size = 2 ** Math.round(Math.log2(sampleRate * FRAME_SECONDS));
  const spectrum = planMagnitudes(kernels, hann(size));
  const frame = kernels.floats(size),
    magnitudes = kernels.floats(size / 2 - 1);
  const bandOf = Int32Array.from(magnitudes, (_, i) => Math.floor(((i + 1) * sampleRate) / size / BAND_HZ));
  const bandCount = bandOf.at(-1)! + 1;
  const spectra: Float32Array[] = [];
  const sums = kernels.doubles(5);
  const flats = Array.from({ length: channels }, () => kernels.floats(2));
  const keeper = sampleRate <= FASTEST_ENCODED_HZ ? createExcerptKeeper() : null;
  let hop = Math.round(sampleRate * FIRST_HOP_SECONDS);
  let flatTops = 0,
    frames = 0,
    filled = 0,
    due = hop >> 1;

  const takeFrame = (): void => {
    spectrum(frame.byteOffset, magnitudes, 1);
    const row = new Float32Array(bandCount);
    for (let i = 0; i < magnitudes.length; i++) row[bandOf[i]!]! += magnitudes[i]! * magnitudes[i]!;
    const unit = (size / 4) ** 2;
    for (let b = 0; b < bandCount; b++) row[b] = 10 * Math.log10(row[b]! / unit + 1e-15);
    spectra.push(row);
    if (spectra.length <= MAX_FRAMES) return;
    for (let i = 0; 2 * i < spectra.length; i++) spectra[i] = spectra[2 * i]!;
    spectra.length = Math.ceil(spectra.length / 2);
    hop *= 2;
  };
  const collect = (x: Float32Array, count: number): void => {
    for (let at = 0; at < count;) {
      if (filled === 0 && frames + count <= due) return;
      if (filled === 0) at = Math.max(at, due - frames);
      const take = Math.min(size - filled, count - at);
      frame.set(x.subarray(at, at + take), filled);
      filled += take;
      at += take;
      if (filled < size) return;
      filled = 0;
      takeFrame();
      due = Math.max(due + hop, frames + at);
    }
  };

  return {
    push(planes, count, runs) {
      const first = planes[0]!,
        second = planes[1] ?? first;
      kernels.stereoSums(first.byteOffset, second.byteOffset, count, sums.byteOffset);
      for (let c = 0; c < channels; c++)
        flatTops += kernels.flatTops(planes[c]!.byteOffset, count, runs[c]!.byteOffset, flats[c]!.byteOffset);
      collect(first, count);
      keeper?.push(first, second, count);
      frames += count;
    },
    finish() {
      const [l, r, ll, rr, lr] = sums as unknown as [number, number, number, number, number];
      const power = Math.sqrt(ll * rr);
      const heard = channels > 1 && ll + rr > frames * 1e-9;
      const side = Math.max(0, ll + rr - 2 * lr),
        mid = ll + rr + 2 * lr;
      return {
        spectra,
        flatTops,
        longestFlatTop: Math.max(...flats.map((state) => state[1]!)),
        dcOffset: frames > 0 ? [l / frames, r / frames] : [0, 0],
        phaseCorrelation: heard && power > 0 ? lr / power : null,
        sideBelowMidDb: !heard ? null : side <= mid * 1e-9 ? Infinity : 10 * Math.log10(mid / side),
        excerpts: keeper?.excerpts ?? [],
      };
    },
  };
}

/**
 * Keeps whole excerpts at even distances; when there are too many, every second is dropped and the distance doubled.
 */
function createExcerptKeeper(): {
  push(left: Float32Array, right: Float32Array, count: number): void;
  excerpts: Excerpt[];
} {
  const excerpts: Excerpt[] = [];
  let open: Excerpt | null = null;
  let filled = 0,
    frames = 0,
    hop = 4 * EXCERPT_STEP,
    due = EXCERPT_STEP;
  return {
    excerpts,
    push(left, right, count) {
      for (let at = Math.max(0, open ? 0 : due - frames); at < count;) {
        open ??= [new Float32Array(EXCERPT), new Float32Array(EXCERPT)];
        const take = Math.min(EXCERPT - filled, count - at);
        open[0].set(left.subarray(at, at + take), filled);
        open[1].set(right.subarray(at, at + take), filled);
        filled += take;
        at += take;
        if (filled < EXCERPT) break;
        excerpts.push(open);
        open = null;
        filled = 0;
        due += hop;
        if (excerpts.length === MAX_EXCERPTS) {
          for (let i = 0; 2 * i < excerpts.length; i++) excerpts[i] = excerpts[2 * i]!;
          excerpts.length = MAX_EXCERPTS / 2;
          hop *= 2;
        }
        at = Math.max(at, due - frames);
      }
      frames += count;
    },
  };
}
