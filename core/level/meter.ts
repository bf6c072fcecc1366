/** Loudness and true peak alone, of sound that lies channel by channel. */
import { createLoudnessMeter } from '../analysis/loudness/loudness.ts';
import { createRunPeaks, RUN } from '../analysis/loudness/peaks.ts';
import { createTruePeakMeter } from '../analysis/loudness/truePeak.ts';
import { BLOCK, createKernels } from '../signal/kernels/kernels.ts';
import { decibelsOf, type Measured } from './level.ts';

export interface LevelMeter {
  /** Takes samples of each channel, as many of each. */
  push(channels: readonly Float32Array[]): void;
  finish(): Measured;
}

export function createLevelMeter(sampleRate: number, channelCount: number): LevelMeter {
  const kernels = createKernels();
  const planes = Array.from({ length: channelCount }, () => kernels.floats(BLOCK));
  const runs = planes.map(() => kernels.floats(BLOCK / RUN));
  const loudness = createLoudnessMeter(sampleRate, channelCount, kernels);
  const peaks = createTruePeakMeter(sampleRate, channelCount, kernels);
  const runPeaks = createRunPeaks(kernels);
  let filled = 0;
  const takeBlock = (): void => {
    loudness.push(planes, filled);
    planes.forEach((plane, c) => runPeaks(plane, filled, runs[c]!));
    peaks.push(planes, filled, runs);
    filled = 0;
  };
  return {
    push(channels) {
      const frames = channels[0]?.length ?? 0;
      for (let from = 0; from < frames;) {
        const take = Math.min(BLOCK - filled, frames - from);
        channels.forEach((samples, c) => planes[c]!.set(samples.subarray(from, from + take), filled));
        filled += take;
        from += take;
        if (filled === BLOCK) takeBlock();
      }
    },
    finish() {
      if (filled > 0) takeBlock();
      return { integratedLufs: loudness.finish().integratedLufs, truePeakDbtp: decibelsOf(peaks.finish().truePeak) };
    },
  };
}
