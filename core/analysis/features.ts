/**
 * One pass over a decoded stream: everything that is later interpreted. Streams in blocks; memory grows
 * only with the features kept (about 400 kB a minute), not with the audio.
 */
import { createDecimator } from '../signal/filters.ts';
import { BLOCK, createKernels } from '../signal/kernels/kernels.ts';
import { createBandSplit, type Bands } from './rhythm/bands.ts';
import { createChromaExtractor, type Chroma } from './harmony/chroma.ts';
import { createEdgeFinder, type Edges } from './structure/edges.ts';
import { createLoudnessMeter, type Loudness } from './loudness/loudness.ts';
import { createOnsetDetector, type Onsets } from './rhythm/onsets.ts';
import { createRunPeaks, RUN } from './loudness/peaks.ts';
import { createSoundMeter, type SoundMeasures } from './sound/soundMeter.ts';
import { createTruePeakMeter } from './loudness/truePeak.ts';

export interface Features {
  durationSeconds: number;
  loudness: Loudness;
  /** Mean K-weighted power of each 100 ms. */
  powers: Float32Array;
  /** Linear amplitudes, 0 for silence. */
  truePeak: number;
  samplePeak: number;
  edges: Edges;
  bands: Bands;
  onsets: Onsets;
  chroma: Chroma;
  sound: SoundMeasures;
}

export interface FeatureExtractor {
  /** Takes interleaved samples; the length is a multiple of the channel count. */
  push(interleaved: Float32Array): void;
  /** Once, and last: what the extraction worked with goes to the next one. */
  finish(): Features;
}

export interface StreamFormat {
  sampleRate: number;
  channels: number;
  /** How long it may last, where that is known: room for so much is made at once. */
  seconds?: number | null;
}

/** Seconds beyond which no room is made beforehand: broken files say any length. */
const LONGEST = 6 * 3600;

/**
 * Starts an extraction.
 * @throws RangeError for a sample rate under 4 kHz or over 768 kHz, or no channels.
 */
export function createFeatureExtractor(format: StreamFormat): FeatureExtractor {
  const { sampleRate, channels } = format;
  // A little more than a file says of itself: encoders pad.
  const expected = (format.seconds ?? 0) > 0 && format.seconds! < LONGEST ? format.seconds! * 1.002 + 1 : 0;
  if (!(sampleRate >= 4000 && sampleRate <= 768000))
    throw new RangeError(`Sample rate ${sampleRate} Hz is out of range`);
  if (!(channels >= 1 && channels <= 64)) throw new RangeError(`${channels} channels cannot be analysed`);
  const factor = Math.max(1, Math.floor(sampleRate / 22000));
  const midRate = sampleRate / factor;
  const lowFactor = Math.max(1, Math.floor(midRate / 5500));
  const kernels = createKernels();
  const staged = kernels.floats(BLOCK * channels);
  const planes = kernels.floats(BLOCK * channels),
    stride = BLOCK * 4;
  const split = Array.from({ length: channels }, (_, c) => planes.subarray(c * BLOCK, (c + 1) * BLOCK));
  const runsOf = Array.from({ length: channels }, () => kernels.floats(BLOCK / RUN));
  const mono = kernels.floats(BLOCK);
  const loudness = createLoudnessMeter(sampleRate, channels, kernels);
  const runPeaks = createRunPeaks(kernels);
  const peaks = createTruePeakMeter(sampleRate, channels, kernels);
  const edges = createEdgeFinder(sampleRate, expected);
  const sound = createSoundMeter(sampleRate, channels, kernels);
  const toMid = createDecimator(factor, BLOCK, kernels);
  const toLow = createDecimator(lowFactor, BLOCK, kernels);
  const bands = createBandSplit(midRate, kernels, expected);
  const onsets = createOnsetDetector(midRate, kernels, expected);
  const chroma = createChromaExtractor(midRate / lowFactor, kernels, expected);
  let frames = 0;
  let filled = 0;

  /** Hands on what has been filled: whole blocks, and at the end the rest. */
  const takeBlock = (): void => {
    const count = filled;
    filled = 0;
    if (channels === 2)
      kernels.splitStereo(staged.byteOffset, count, planes.byteOffset, planes.byteOffset + stride, mono.byteOffset);
    else kernels.splitMany(staged.byteOffset, count, channels, planes.byteOffset, stride, mono.byteOffset);
    loudness.push(split, count);
    let runs = 0;
    for (let c = 0; c < channels; c++) runs = runPeaks(split[c]!, count, runsOf[c]!);
    peaks.push(split, count, runsOf);
    edges.push(runsOf, runs);
    sound.push(split, count, runsOf);
    const midCount = toMid.push(mono, count);
    bands.push(toMid.output, midCount);
    onsets.push(toMid.output, midCount);
    chroma.push(toLow.output, toLow.push(toMid.output, midCount));
    frames += count;
  };

  return {
    push(interleaved) {
      const total = Math.floor(interleaved.length / channels);
      for (let from = 0; from < total;) {
        const take = Math.min(BLOCK - filled, total - from);
        staged.set(interleaved.subarray(from * channels, (from + take) * channels), filled * channels);
        filled += take;
        from += take;
        if (filled === BLOCK) takeBlock();
      }
    },
    finish() {
      if (filled > 0) takeBlock();
      const { powers, ...level } = loudness.finish();
      const heard = {
        durationSeconds: frames / sampleRate,
        loudness: level,
        powers,
        ...peaks.finish(),
        edges: edges.finish(level.integratedLufs),
        bands: bands.finish(),
        onsets: onsets.finish(),
        chroma: chroma.finish(),
        sound: sound.finish(),
      };
      kernels.release();
      return heard;
    },
  };
}
