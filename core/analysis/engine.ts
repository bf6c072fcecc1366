/**
 * The analysis of one track: blocks of interleaved samples in, one result out. Everything streams;
 * memory grows only with the features kept (about 20 kB a minute), not with the audio.
 */
import { createDecimator } from '../signal/filters.ts';
import { createBandSplit } from './bands.ts';
import { createChromaExtractor } from './chroma.ts';
import { findBars } from './downbeat.ts';
import { createEdgeFinder } from './edges.ts';
import { estimateEnergy, type EnergyEstimate } from './energy.ts';
import { layGrid } from './grid.ts';
import { estimateKey, type KeyCandidate } from './key.ts';
import { createLoudnessMeter } from './loudness.ts';
import { createOnsetDetector } from './onsets.ts';
import { estimateTempo, type TempoCandidate } from './tempo.ts';
import { RUN, runPeaks } from './peaks.ts';
import { createTruePeakMeter } from './truePeak.ts';
import type { MusicalKey } from '../fields/keys.ts';

/** Raised whenever a result could come out differently; stored with every result. */
export const ENGINE_VERSION = 1;

export interface AnalysisResult {
  engine: number;
  durationSeconds: number;
  loudness: {
    integratedLufs: number | null;
    rangeLu: number | null;
    maxMomentaryLufs: number | null;
    maxShortTermLufs: number | null;
    truePeakDbtp: number | null;
    samplePeakDbfs: number | null;
    /** LUFS once a second from 3 s on. */
    shortTermCurve: number[];
  };
  tempo: {
    bpm: number | null;
    confidence: number;
    steady: boolean;
    candidates: TempoCandidate[];
    beatsPerBar: number;
    firstBeatSeconds: number | null;
    firstDownbeatSeconds: number | null;
    /** Beats of a drifting track; a steady one's follow from bpm and first beat. */
    driftingBeats: number[] | null;
  };
  key: { key: MusicalKey | null; confidence: number; tuningCents: number; candidates: KeyCandidate[]; overTime: (MusicalKey | null)[] };
  energy: EnergyEstimate;
  edges: { audibleStartSeconds: number | null; audibleEndSeconds: number | null };
  /** Three bands interleaved, WAVEFORM_RATE columns a second, 0 … 255. */
  waveform: Uint8Array;
}

export interface Analysis {
  /** Takes interleaved samples; the length is a multiple of the channel count. */
  push(interleaved: Float32Array): void;
  finish(): AnalysisResult;
}

const BLOCK_FRAMES = 8192;

/**
 * Starts an analysis.
 * @throws RangeError for a sample rate under 4 kHz or over 768 kHz, or no channels.
 */
export function createAnalysis(format: { sampleRate: number; channels: number }): Analysis {
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
      const duration = frames / sampleRate;
      const level = loudness.finish();
      const { truePeak, samplePeak } = peaks.finish();
      const flux = onsets.finish();
      const energy = estimateEnergy(flux, level.integratedLufs, level.maxShortTermLufs);
      const pitch = chroma.finish();
      const drawn = bands.finish();
      const { overTime, ...key } = estimateKey(pitch);
      const tempo = tempoOf(drawn, flux, pitch, duration);
      return {
        engine: ENGINE_VERSION,
        durationSeconds: duration,
        loudness: { ...level, truePeakDbtp: toDecibels(truePeak), samplePeakDbfs: toDecibels(samplePeak) },
        tempo,
        key: { ...key, overTime },
        energy,
        edges: edges.finish(level.integratedLufs),
        waveform: drawn.waveform,
      };
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

function tempoOf(...[bands, onsets, chroma, duration]: [
  ReturnType<ReturnType<typeof createBandSplit>['finish']>,
  ReturnType<ReturnType<typeof createOnsetDetector>['finish']>,
  ReturnType<ReturnType<typeof createChromaExtractor>['finish']>,
  number,
]): AnalysisResult['tempo'] {
  const none = { bpm: null, confidence: 0, steady: false, candidates: [], beatsPerBar: 4, firstBeatSeconds: null, firstDownbeatSeconds: null, driftingBeats: null };
  const { candidates, pulse, novelty } = estimateTempo(onsets);
  const best = candidates[0];
  if (!best) return none;
  const grid = layGrid(bands, novelty, onsets, best.bpm, duration);
  // A pulse is claimed only where it repeats and attacks are there to carry it.
  const confidence = Math.min(0.99, Math.sqrt(Math.max(0, pulse)) * Math.min(1, 0.35 + grid.support) * Math.min(1, best.weight * 2.2));
  if (pulse < MIN_PULSE) return { ...none, candidates };
  const bars = findBars(grid.beats, onsets, chroma);
  return {
    bpm: grid.bpm,
    confidence,
    steady: grid.steady,
    candidates: [{ bpm: grid.bpm, weight: best.weight }, ...candidates.slice(1)],
    beatsPerBar: bars.beatsPerBar,
    firstBeatSeconds: grid.beats[0] ?? null,
    firstDownbeatSeconds: grid.beats[bars.firstDownbeat] ?? null,
    driftingBeats: grid.steady ? null : Array.from(grid.beats),
  };
}

const MIN_PULSE = 0.08;

const toDecibels = (amplitude: number): number | null => (amplitude > 0 ? 20 * Math.log10(amplitude) : null);

/** All beat times of a result in seconds, up to its duration. */
export function beatsOf(result: AnalysisResult): number[] {
  const { tempo, durationSeconds } = result;
  if (tempo.driftingBeats) return tempo.driftingBeats;
  if (tempo.bpm === null || tempo.firstBeatSeconds === null) return [];
  const period = 60 / tempo.bpm;
  const beats: number[] = [];
  for (let k = 0; ; k++) {
    const time = tempo.firstBeatSeconds + k * period;
    if (time >= durationSeconds) return beats;
    beats.push(time);
  }
}
