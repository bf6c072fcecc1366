/**
 * True peak by polyphase oversampling (ITU-R BS.1770-5, Annex 2): 4× up to 96 kHz, 2× up to 192 kHz.
 * The interpolated values are computed only where they could exceed the running maximum.
 */
export interface TruePeakMeter {
  push(channels: Float32Array[], frames: number): void;
  /** Peaks as linear amplitudes; both 0 for silence. */
  finish(): { truePeak: number; samplePeak: number };
}

const TAPS = 16; // taps per phase; the filter sees TAPS samples around the point
const CHUNK = 8;
/** Samples this far from the ends of the filter are left out of the local maximum … */
const REACH = 5;
/**
 * … since the signal between two samples never stands higher than this over the six around it but in
 * material far above half the sample rate's musical use: a full-scale tone at 0.42 of the rate stays below.
 */
const OVERSHOOT = 1.5;

/** Windowed-sinc interpolators for the phases between two samples, each of TAPS coefficients. */
function phases(factor: number): Float64Array[] {
  return Array.from({ length: factor - 1 }, (_, p) => {
    const shift = (p + 1) / factor;
    const taps = new Float64Array(TAPS);
    let sum = 0;
    for (let k = 0; k < TAPS; k++) {
      const x = k - (TAPS / 2 - 1) - shift;
      const window = 0.5 + 0.5 * Math.cos((Math.PI * x) / (TAPS / 2));
      taps[k] = (Math.sin(Math.PI * x) / (Math.PI * x)) * window;
      sum += taps[k]!;
    }
    return taps.map((t) => t / sum);
  });
}

/** Starts a meter for a sample rate and a number of channels. */
export function createTruePeakMeter(sampleRate: number, channelCount: number): TruePeakMeter {
  const factor = sampleRate <= 96000 ? 4 : sampleRate <= 192000 ? 2 : 1;
  const filters = phases(factor);
  const tails = Array.from({ length: channelCount }, () => new Float32Array(TAPS - 1));
  let scratch = new Float32Array(0);
  let truePeak = 0;
  let samplePeak = 0;

  const pushChannel = (samples: Float32Array, frames: number, tail: Float32Array): void => {
    const history = TAPS - 1;
    if (scratch.length < history + frames) scratch = new Float32Array(history + frames);
    const joined = scratch;
    joined.set(tail);
    joined.set(samples.subarray(0, frames), history);
    for (let from = 0; from < frames; from += CHUNK) {
      const to = Math.min(frames, from + CHUNK);
      let local = 0;
      for (let i = from + REACH; i < to + history - REACH; i++) {
        const v = joined[i]!;
        if (v > local) local = v; else if (-v > local) local = -v;
      }
      if (local > samplePeak) samplePeak = local;
      if (local > truePeak) truePeak = local;
      if (local * OVERSHOOT <= truePeak) continue;
      for (const taps of filters) {
        for (let i = from; i < to; i++) {
          let sum = 0;
          for (let k = 0; k < TAPS; k++) sum += joined[i + k]! * taps[k]!;
          if (sum < 0) sum = -sum;
          if (sum > truePeak) truePeak = sum;
        }
      }
    }
    tail.set(joined.subarray(frames, frames + history));
  };

  return {
    push(channels, frames) {
      for (let c = 0; c < channelCount; c++) pushChannel(channels[c]!, frames, tails[c]!);
    },
    finish() {
      const silence = new Float32Array(TAPS / 2); // lets the filter see past the last sample
      for (let c = 0; c < channelCount; c++) pushChannel(silence, silence.length, tails[c]!);
      return { truePeak, samplePeak };
    },
  };
}
