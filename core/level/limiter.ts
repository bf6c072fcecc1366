/**
 * A look-ahead limiter for true peaks: what would stand above the ceiling is turned down before it comes, and let go
 * slowly behind it; what stands under it passes with the plain gain, to the last bit of the arithmetic.
 *
 * The gain that each sample needs is found between samples too (ITU-R BS.1770-5, Annex 2, 4× up to 96 kHz). Its minimum
 * over the look-ahead, let go exponentially, is smoothed by two running means that together are as long as the
 * look-ahead: so the gain is down in full when the peak arrives, without a corner in it (after Giannoulis, Massberg &
 * Reiss, "Digital dynamic range compressor design", JAES 60, 2012, and the usual window-minimum design).
 */
import { BEFORE, interpolators, oversampling, TAPS } from '../analysis/loudness/truePeak.ts';

export interface LimiterOptions {
  sampleRate: number;
  channels: number;
  /** Linear, of everything. */
  gain: number;
  /** Linear amplitude that no true peak is to stand above; null: the plain gain. */
  ceiling: number | null;
  /** How slowly it lets go, in seconds. */
  release?: number;
}

export interface Limiter {
  /**
   * Takes `frames` samples of each channel.
   * @returns as many, later by the look-ahead; less at first
   */
  push(channels: readonly Float32Array[], frames: number): Float32Array[];
  /** What is still to come. */
  finish(): Float32Array[];
}

/** So long before a peak it begins to turn down. */
const LOOK_AHEAD = 0.005;
const RELEASE = 0.15;
/** Between two samples a wave stands at most so many times as high as the larger, in anything but test tones. */
const MOST_BETWEEN = 2;

export function createLimiter(options: LimiterOptions): Limiter {
  const { sampleRate, channels, gain, ceiling, release = RELEASE } = options;
  if (ceiling === null) return plainGain(channels, gain);
  const ahead = Math.max(4, Math.round(LOOK_AHEAD * sampleRate));
  const needed = neededGain(sampleRate, channels, ceiling / gain);
  const least = slidingMinimum(ahead + 1);
  const letGo = 1 - Math.exp(-1 / (release * sampleRate));
  const first = runningMean(Math.ceil(ahead / 2)),
    second = runningMean(Math.floor(ahead / 2) + 1);
  const waiting = Array.from({ length: channels }, () => delay(ahead + BEFORE));
  let held = 1,
    seen = 0;

  const run = (input: readonly Float32Array[], frames: number): Float32Array[] => {
    const out = input.map(() => new Float32Array(frames));
    const gains = needed(input, frames);
    let made = 0;
    for (let i = 0; i < frames; i++) {
      const wanted = least(gains[i]!);
      held = wanted < held ? wanted : held + (wanted - held) * letGo;
      const now = second(first(held));
      // What comes out now came in that long ago.
      const late = seen++ >= ahead + BEFORE;
      for (let c = 0; c < channels; c++) {
        const sample = waiting[c]!(input[c]![i]!);
        if (late) out[c]![made] = sample * gain * now;
      }
      if (late) made++;
    }
    return out.map((samples) => samples.subarray(0, made));
  };

  return {
    push: run,
    finish() {
      const silence = new Float32Array(ahead + BEFORE);
      return run(
        Array.from({ length: channels }, () => silence),
        silence.length,
      );
    },
  };
}

function plainGain(channels: number, gain: number): Limiter {
  return {
    push: (input, frames) => input.map((samples) => samples.slice(0, frames).map((sample) => sample * gain)),
    finish: () => Array.from({ length: channels }, () => new Float32Array(0)),
  };
}

/** Of each sample the gain under which it, and the wave on both sides, stay within a limit; BEFORE samples late. */
function neededGain(
  sampleRate: number,
  channels: number,
  limit: number,
): (input: readonly Float32Array[], frames: number) => Float64Array {
  const factor = oversampling(sampleRate),
    filters = interpolators(factor);
  const history = 2 * BEFORE;
  const tails = Array.from({ length: channels }, () => new Float32Array(history));
  let before = 0; // the highest just behind the sample before
  return (input, frames) => {
    const peaks = new Float64Array(frames); // of each sample and the wave up to the next
    for (let c = 0; c < channels; c++) {
      const joined = new Float32Array(history + frames);
      joined.set(tails[c]!);
      joined.set(input[c]!.subarray(0, frames), history);
      for (let i = 0; i < frames; i++) {
        const at = i + BEFORE;
        const here = Math.abs(joined[at]!),
          next = Math.abs(joined[at + 1]!);
        let top = here;
        if (Math.max(here, next) * MOST_BETWEEN > limit)
          for (let p = 0; p < factor - 1; p++) {
            let sum = 0;
            for (let k = 0; k < TAPS; k++) sum += joined[at - BEFORE + 1 + k]! * filters[p * TAPS + k]!;
            if (Math.abs(sum) > top) top = Math.abs(sum);
          }
        if (top > peaks[i]!) peaks[i] = top;
      }
      tails[c]!.set(joined.subarray(frames, frames + history));
    }
    for (let i = 0; i < frames; i++) {
      const top = Math.max(before, peaks[i]!);
      before = peaks[i]!;
      peaks[i] = top > limit ? limit / top : 1;
    }
    return peaks;
  };
}

/** The smallest of the last `width` values (a queue that only rises, after Lemire 2006). */
function slidingMinimum(width: number): (value: number) => number {
  const values = new Float64Array(width),
    places = new Float64Array(width);
  let head = 0,
    count = 0,
    at = 0;
  return (value) => {
    while (count > 0 && values[(head + count - 1) % width]! >= value) count--;
    if (count > 0 && places[head]! <= at - width) {
      head = (head + 1) % width;
      count--;
    }
    const tail = (head + count) % width;
    values[tail] = value;
    places[tail] = at++;
    count++;
    return values[head]!;
  };
}

/** The mean of the last `width` values; before the first all were 1. */
function runningMean(width: number): (value: number) => number {
  const ring = new Float64Array(width).fill(1);
  let at = 0,
    sum = width;
  return (value) => {
    sum += value - ring[at]!;
    ring[at] = value;
    // Rounding adds up: begin anew once a round.
    if (++at === width) {
      at = 0;
      sum = 0;
      for (let i = 0; i < width; i++) sum += ring[i]!;
    }
    return sum / width;
  };
}

function delay(length: number): (value: number) => number {
  const ring = new Float32Array(length);
  let at = 0;
  return (value) => {
    const out = ring[at]!;
    ring[at] = value;
    at = (at + 1) % length;
    return out;
  };
}
