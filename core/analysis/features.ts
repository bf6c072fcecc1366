/**
 * One pass over a decoded stream: everything that is later interpreted. Streams in blocks; memory grows
 * only with the features kept (about 20 kB a minute), not with the audio.
 */
import { createDecimator } from '../signal/filters.ts';
import { createBandSplit, type Bands } from './bands.ts';
import { createChromaExtractor, type Chroma } from './chroma.ts';
import { createEdgeFinder, type Edges } from './edges.ts';
import { createLoudnessMeter, type Loudness } from './loudness.ts';
import { createOnsetDetector, type Onsets } from './onsets.ts';
import { RUN, runPeaks } from './peaks.ts';
import { createTruePeakMeter } from './truePeak.ts';

export interface Features {
  durationSeconds: number;
  loudness: Loudness;
  /** Linear amplitudes, 0 for silence. */
  truePeak: number;
  samplePeak: number;
  edges: Edges;
  bands: Bands;
  onsets: Onsets;
  chroma: Chroma;
}

export interface FeatureExtractor {
  /** Takes interleaved samples; the length is a multiple of the channel count. */
  push(interleaved: Float32Array): void;
  finish(): Features;
}

const BLOCK_FRAMES = 8192;

/**
 * Starts an extraction.
 * @throws RangeError for a sample rate under 4 kHz or over 768 kHz, or no channels.
 */
export function createFeatureExtractor(format: { sampleRate: number; channels: number }): FeatureExtractor {
  const { sampleRate, channels } = format;
  if (!(sampleRate >= 4000 && sampleRate <= 768000)) throw new RangeError(`Sample rate ${sampleRate} Hz is out of range`);
  if (!(channels >= 1 && channels <= 64)) throw new RangeError(`${channels} channels cannot be analysed`);
  const factor = Math.max(1, Math.floor(sampleRate / 22000));
  const midRate = sampleRate / factor;
  const lowFactor = Math.max(1, Math.floor(midRate / 5500));
  const loudness = createLoudnessMeter(sampleRate, channels);
  const peaks = createTruePeakMeter(sampleRate, channels);
  const edges = createEdgeFinder(sampleRate);
  const toMid = createDecimator(factor, BLOCK_FRAMES);
  const toLow = createDecimator(lowFactor, BLOCK_FRAMES);
  const bands = createBandSplit(midRate);
  const onsets = createOnsetDetector(midRate);
  const chroma = createChromaExtractor(midRate / lowFactor);

  const split = Array.from({ length: channels }, () => new Float32Array(BLOCK_FRAMES));
  const runsOf = Array.from({ length: channels }, () => new Float32Array(BLOCK_FRAMES / RUN));
  const mono = new Float32Array(BLOCK_FRAMES);
  const mid = new Float32Array(BLOCK_FRAMES + 1);
  const low = new Float32Array(BLOCK_FRAMES + 1);
  let frames = 0;
  let filled = 0;

  const fill = (interleaved: Float32Array, from: number, count: number): void => {
    if (channels === 2) deinterleaveStereo(interleaved, from, count, filled, split[0]!, split[1]!, mono);
    else deinterleave(interleaved, from, count, filled, split, mono);
    filled += count;
  };
  /** Hands on what has been filled: whole blocks, and at the end the rest. */
  const takeBlock = (): void => {
    const count = filled;
    filled = 0;
    loudness.push(split, count);
    let runs = 0;
    for (let c = 0; c < channels; c++) runs = runPeaks(split[c]!, count, runsOf[c]!);
    peaks.push(split, count, runsOf);
    edges.push(runsOf, runs);
    const midCount = toMid.push(mono, count, mid);
    bands.push(mid, midCount);
    onsets.push(mid, midCount);
    chroma.push(low, toLow.push(mid, midCount, low));
    frames += count;
  };

  return {
    push(interleaved) {
      const total = Math.floor(interleaved.length / channels);
      for (let from = 0; from < total;) {
        const take = Math.min(BLOCK_FRAMES - filled, total - from);
        fill(interleaved, from, take);
        from += take;
        if (filled === BLOCK_FRAMES) takeBlock();
      }
    },
    finish() {
      if (filled > 0) takeBlock();
      const level = loudness.finish();
      return { durationSeconds: frames / sampleRate, loudness: level, ...peaks.finish(), edges: edges.finish(level.integratedLufs), bands: bands.finish(), onsets: onsets.finish(), chroma: chroma.finish() };
    },
  };
}

/** NaN and absurd values of a broken float file count as silence. */
const sane = (v: number): number => (v > -64 && v < 64 ? v : 0);

function deinterleaveStereo(x: Float32Array, from: number, count: number, to: number, left: Float32Array, right: Float32Array, mono: Float32Array): void {
  for (let i = to, at = from * 2, end = to + count; i < end; i++, at += 2) {
    const l = sane(x[at]!), r = sane(x[at + 1]!);
    left[i] = l;
    right[i] = r;
    mono[i] = (l + r) * 0.5;
  }
}

function deinterleave(x: Float32Array, from: number, count: number, to: number, split: Float32Array[], mono: Float32Array): void {
  const channels = split.length;
  for (let i = to, at = from * channels, end = to + count; i < end; i++) {
    let sum = 0;
    for (let c = 0; c < channels; c++, at++) {
      const v = sane(x[at]!);
      split[c]![i] = v;
      sum += v;
    }
    mono[i] = sum / channels;
  }
}

