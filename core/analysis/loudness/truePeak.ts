/**
 * True peak by polyphase oversampling (ITU-R BS.1770-5, Annex 2): 4× up to 96 kHz, 2× up to 192 kHz.
 * The signal between samples is computed only around local maxima that could exceed the running one: between two
 * samples it stands at most 1.6 times as high as the larger one in anything but test tones near half the rate, and a
 * parabola through a maximum and its neighbours underrates the peak by at most 14 % (a tone at a quarter of the rate).
 */
import { BLOCK, type Kernels } from '../../signal/kernels/kernels.ts';
import { RUN } from './peaks.ts';

export interface TruePeakMeter {
  /** Takes `frames` samples of each channel, and the peaks of their runs (see peaks.ts). */
  push(channels: Float32Array[], frames: number, runs: Float32Array[]): void;
  /** Peaks as linear amplitudes; both 0 for silence. */
  finish(): { truePeak: number; samplePeak: number };
}

/** Taps per phase; the filter sees TAPS/2 samples on either side of the point. */
export const TAPS = 16;
export const BEFORE = TAPS / 2;
/** Windowed-sinc interpolators for the phases between two samples, each of TAPS coefficients, one behind the other. */
export function interpolators(factor: number): Float64Array {
  const out = new Float64Array((factor - 1) * TAPS);
  for (let p = 0; p < factor - 1; p++) {
    const shift = (p + 1) / factor;
    let sum = 0;
    for (let k = 0; k < TAPS; k++) {
      const x = k - (BEFORE - 1) - shift;
      const window = 0.5 + 0.5 * Math.cos((Math.PI * x) / BEFORE);
      sum += out[p * TAPS + k] = (Math.sin(Math.PI * x) / (Math.PI * x)) * window;
    }
    for (let k = 0; k < TAPS; k++) out[p * TAPS + k]! /= sum;
  }
  return out;
}

/** How many times as many points as samples are looked at. */
export const oversampling = (sampleRate: number): number => (sampleRate <= 96000 ? 4 : sampleRate <= 192000 ? 2 : 1);

/** Starts a meter for a sample rate and a number of channels. */
export function createTruePeakMeter(sampleRate: number, channelCount: number, kernels: Kernels): TruePeakMeter {
  const factor = oversampling(sampleRate);
  const filters = kernels.floats((factor - 1) * TAPS);
  filters.set(interpolators(factor));
  const history = 2 * BEFORE;
  const tails = Array.from({ length: channelCount }, () => kernels.floats(history));
  const joined = kernels.floats(history + BLOCK),
    joinedRuns = kernels.floats(BLOCK / RUN + 1);
  const peaks = kernels.floats(2); // true peak, sample peak

  const pushBlock = (samples: Float32Array, tail: Float32Array, runs: Float32Array): void => {
    const frames = samples.length;
    joined.set(tail);
    joined.set(samples, history);
    joinedRuns.set(runs);
    // The last BEFORE samples wait for what follows them; first come those that waited the last time.
    kernels.searchPeaks(joined.byteOffset, BEFORE, history, filters.byteOffset, factor - 1, peaks.byteOffset);
    kernels.searchRuns(
      joined.byteOffset,
      history,
      frames,
      BEFORE,
      joinedRuns.byteOffset,
      filters.byteOffset,
      factor - 1,
      peaks.byteOffset,
    );
    tail.set(joined.subarray(frames, frames + history));
  };

  return {
    push(channels, frames, runs) {
      for (let from = 0; from < frames; from += BLOCK) {
        const end = Math.min(frames, from + BLOCK);
        for (let c = 0; c < channelCount; c++)
          pushBlock(channels[c]!.subarray(from, end), tails[c]!, runs[c]!.subarray(from / RUN, Math.ceil(end / RUN)));
      }
    },
    finish() {
      const silence = new Float32Array(BEFORE); // lets the filter see past the last sample
      for (let c = 0; c < channelCount; c++) pushBlock(silence, tails[c]!, silence.subarray(0, 1));
      return { truePeak: peaks[0]!, samplePeak: peaks[1]! };
    },
  };
}
