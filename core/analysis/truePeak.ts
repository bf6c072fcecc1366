/**
 * True peak by polyphase oversampling (ITU-R BS.1770-5, Annex 2): 4× up to 96 kHz, 2× up to 192 kHz.
 * The signal between samples is computed only around local maxima that could exceed the running one.
 */
import { RUN } from './peaks.ts';

export interface TruePeakMeter {
  /** Takes `frames` samples of each channel, and the peaks of their runs (see peaks.ts). */
  push(channels: Float32Array[], frames: number, runs: Float32Array[]): void;
  /** Peaks as linear amplitudes; both 0 for silence. */
  finish(): { truePeak: number; samplePeak: number };
}

const TAPS = 16; // taps per phase; the filter sees TAPS/2 samples on either side of the point
const BEFORE = TAPS / 2;
/** Between two samples the signal stands at most this far above the larger one in anything but test tones near half the rate. */
const OVERSHOOT = 1.6;
/** A parabola through a maximum and its neighbours underrates the peak by up to 14 % (a tone at a quarter of the rate). */
const PARABOLA_MARGIN = 1.3;

/** Windowed-sinc interpolators for the phases between two samples, each of TAPS coefficients, one behind the other. */
function phases(factor: number): Float64Array {
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

/** Starts a meter for a sample rate and a number of channels. */
export function createTruePeakMeter(sampleRate: number, channelCount: number): TruePeakMeter {
  const filters = phases(sampleRate <= 96000 ? 4 : sampleRate <= 192000 ? 2 : 1);
  const history = 2 * BEFORE;
  const tails = Array.from({ length: channelCount }, () => new Float32Array(history));
  let joined = new Float32Array(0);
  const peaks = new Float64Array(2); // true peak, sample peak

  const pushChannel = (samples: Float32Array, frames: number, tail: Float32Array, runs: Float32Array): void => {
    if (joined.length < history + frames) joined = new Float32Array(history + frames);
    joined.set(tail);
    joined.set(frames === samples.length ? samples : samples.subarray(0, frames), history);
    // The last BEFORE samples wait for what follows them; first come those that waited the last time.
    search(joined, BEFORE, history, filters, peaks);
    for (let run = 0, from = 0; from < frames; run++, from += RUN) {
      const end = Math.min(frames, from + RUN);
      if (runs[run]! > Math.min(peaks[0]! / OVERSHOOT, peaks[1]!)) search(joined, history + from, Math.min(history + end, frames + BEFORE), filters, peaks);
    }
    tail.set(joined.subarray(frames, frames + history));
  };

  return {
    push(channels, frames, runs) {
      for (let c = 0; c < channelCount; c++) pushChannel(channels[c]!, frames, tails[c]!, runs[c]!);
    },
    finish() {
      const silence = new Float32Array(BEFORE); // lets the filter see past the last sample
      for (let c = 0; c < channelCount; c++) pushChannel(silence, BEFORE, tails[c]!, silence);
      return { truePeak: peaks[0]!, samplePeak: peaks[1]! };
    },
  };
}

/** Raises the peaks by what stands at and around the local maxima of x[from … to). */
function search(x: Float32Array, from: number, to: number, filters: Float64Array, peaks: Float64Array): void {
  let truePeak = peaks[0]!, samplePeak = peaks[1]!;
  let gate = Math.min(truePeak / OVERSHOOT, samplePeak);
  for (let i = from; i < to; i++) {
    const value = x[i]!;
    const height = value < 0 ? -value : value;
    if (height <= gate) continue;
    const left = value < 0 ? -x[i - 1]! : x[i - 1]!, right = value < 0 ? -x[i + 1]! : x[i + 1]!;
    if (height < left || height < right) continue;
    if (height > samplePeak) samplePeak = height;
    if (height > truePeak) truePeak = height;
    const bend = 2 * height - left - right;
    const top = bend > 0 ? height + ((right - left) * (right - left)) / (8 * bend) : height;
    if (top * PARABOLA_MARGIN > truePeak) truePeak = Math.max(truePeak, between(x, i - 1, filters), between(x, i, filters));
    gate = Math.min(truePeak / OVERSHOOT, samplePeak);
  }
  peaks[0] = truePeak;
  peaks[1] = samplePeak;
}

/** The largest magnitude between x[i] and x[i + 1]. */
function between(x: Float32Array, i: number, filters: Float64Array): number {
  let top = 0;
  for (let f = 0; f < filters.length; f += TAPS) {
    let sum = 0;
    for (let k = 0, at = i - BEFORE + 1; k < TAPS; k++, at++) sum += x[at]! * filters[f + k]!;
    top = Math.max(top, Math.abs(sum));
  }
  return top;
}
