/** The analysis of one track: blocks of interleaved samples in, one result out. */
import { estimateEnergy, type EnergyEstimate } from './structure/energy.ts';
import { createFeatureExtractor, type Features, type StreamFormat } from './features.ts';
import type { BeatGrid } from './rhythm/beatGrid.ts';
import { barBegun, firstAttack, type FirstAttack } from './rhythm/beginning.ts';
import { layGrid } from './rhythm/grid.ts';
import { estimateKey, type Bars, type KeyCandidate } from './harmony/key.ts';
import { endingOf } from './structure/ending.ts';
import { densityChanges } from './rhythm/changes.ts';
import { findSections, partsOf, type Section } from './structure/sections.ts';
import { judgeSound, type SoundJudgement, type SoundSource } from './sound/soundQuality.ts';
import { reread } from './rhythm/reread.ts';
import { weighReadings, type Reading, type WeighedReading } from './rhythm/readings.ts';
import { estimateTempo, MIN_PULSE } from './rhythm/tempo.ts';
import { FITTED } from './fitted/fitted.ts';
import type { Fitted } from './fitted/network.ts';
import type { MusicalKey } from '../fields/keys.ts';

/** Raised whenever a result could come out differently; stored with every result. */
export const ENGINE_VERSION = 11;

export interface TempoCandidate {
  bpm: number;
  weight: number;
}

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
    /** Stretches of one tempo each, where it changes for good; else none. */
    segments: { startSeconds: number; bpm: number }[];
    /** Beats of a drifting track; a steady one's follow from bpm and first beat. */
    driftingBeats: number[] | null;
  };
  key: {
    key: MusicalKey | null;
    confidence: number;
    tuningCents: number;
    candidates: KeyCandidate[];
    overTime: (MusicalKey | null)[];
  };
  energy: EnergyEstimate;
  edges: {
    audibleStartSeconds: number | null;
    audibleEndSeconds: number | null;
    /** Where the full band (or the voice over it) enters; null without an intro. */
    introEndSeconds: number | null;
    outroStartSeconds: number | null;
    /** Where the next track may come in. */
    segueSeconds: number | null;
    ending: 'fade' | 'hard' | null;
    longestSilence: { startSeconds: number; seconds: number } | null;
  };
  sections: Section[];
  sound: SoundJudgement;
  /** Peaks of three bands as bytes (`core/analysis/waveform`). */
  waveform: Uint8Array;
}

export interface Analysis {
  /** Takes interleaved samples; the length is a multiple of the channel count. */
  push(interleaved: Float32Array): void;
  /** Once, and last. */
  finish(): AnalysisResult;
}

/**
 * Starts an analysis.
 * @param source how the file holds its sound, where that is known: what its bandwidth is measured against
 * @throws RangeError for a sample rate under 4 kHz or over 768 kHz, or no channels.
 */
export function createAnalysis(format: StreamFormat, source: SoundSource | null = null): Analysis {
  const extractor = createFeatureExtractor(format);
  return { push: extractor.push, finish: () => interpret(extractor.finish(), source) };
}

/** What the features of a track say. */
export function interpret(features: Features, source: SoundSource | null = null): AnalysisResult {
  const { durationSeconds, loudness, bands, onsets, chroma } = features;
  const { tempo, bars } = tempoOf(features);
  const { overTime, ...key } = estimateKey(chroma, bars);
  const { audibleStartSeconds, audibleEndSeconds } = features.edges;
  const sections =
    audibleStartSeconds === null || audibleEndSeconds === null
      ? []
      : findSections(features, bars.times, audibleStartSeconds, audibleEndSeconds);
  const ending = endingOf(features.powers, audibleEndSeconds);
  return {
    engine: ENGINE_VERSION,
    durationSeconds,
    loudness: {
      ...loudness,
      truePeakDbtp: toDecibels(features.truePeak),
      samplePeakDbfs: toDecibels(features.samplePeak),
    },
    tempo,
    key: { ...key, overTime },
    energy: estimateEnergy(onsets, loudness.integratedLufs, loudness.maxShortTermLufs),
    edges: { ...features.edges, ...partsOf(sections), segueSeconds: ending.segueSeconds, ending: ending.kind },
    sections,
    sound: judgeSound(features.sound, source),
    waveform: bands.waveform,
  };
}

/** What is needed to hear tempo, bars and key. */
export type Heard = Pick<Features, 'bands' | 'onsets' | 'chroma' | 'durationSeconds'>;

const NO_TEMPO: AnalysisResult['tempo'] = {
  bpm: null,
  confidence: 0,
  steady: false,
  candidates: [],
  beatsPerBar: 4,
  firstBeatSeconds: null,
  firstDownbeatSeconds: null,
  segments: [],
  driftingBeats: null,
};

export interface HeardTempo {
  tempo: AnalysisResult['tempo'];
  bars: Bars;
  /** What speaks for the tempo: what its confidence is made of. */
  speaks: number[];
}

/** Tempo, grid and bars. @param fitted what was learnt; the benchmarks leave music out of it */
export function tempoOf(heard: Heard, fitted: Fitted = FITTED): HeardTempo {
  const { bpm, pulse, novelty, knownOf } = estimateTempo(heard.onsets);
  if (bpm === null || pulse < MIN_PULSE)
    return { tempo: NO_TEMPO, bars: { times: [], change: [], begins: null }, speaks: [] };
  const first = firstAttack(heard.onsets);
  let readings: WeighedReading[] = [];
  const grid = layGrid(heard, novelty, bpm, (laid, part) => {
    // A stretch between two changes of tempo begins where they are found, not as music does.
    const begun = { ...part, firstAttack: part === heard ? first : null };
    const weighed = weighReadings(laid.beats, begun, knownOf, fitted.readings);
    if (part === heard || readings.length === 0) readings = weighed;
    return weighed[0] ? reread(laid, weighed[0], part) : laid;
  });
  const best = readings[0];
  const candidates = best ? candidatesOf(readings, best, grid.bpm) : [{ bpm: grid.bpm, weight: 0.5 }];
  const speaks = speaksFor(candidates[0]!.weight, pulse, grid);
  return {
    tempo: {
      bpm: grid.bpm,
      confidence: best ? sureness(fitted.tempoSure, speaks) : 0,
      steady: grid.steady,
      candidates,
      beatsPerBar: grid.beatsPerBar,
      firstBeatSeconds: grid.beats[0] ?? null,
      firstDownbeatSeconds: grid.beats[grid.firstDownbeat] ?? null,
      segments: grid.segments,
      driftingBeats: grid.steady ? null : Array.from(grid.beats),
    },
    bars: barsOf(grid, heard, first),
    speaks,
  };
}

/** Tempi of all readings, the chosen one first. They are parts and multiples of one period, so half is exactly half. */
function candidatesOf(readings: readonly WeighedReading[], best: Reading, bpm: number): TempoCandidate[] {
  const weights = new Map<number, number>();
  for (const { ratio, probability } of readings) weights.set(ratio, (weights.get(ratio) ?? 0) + probability);
  const all = [...weights].map(([ratio, weight]) => ({ bpm: (bpm * best.ratio) / ratio, weight, ratio }));
  const order = all.sort(
    (a, b) => Number(b.ratio === best.ratio) - Number(a.ratio === best.ratio) || b.weight - a.weight,
  );
  return order.slice(0, MOST_CANDIDATES).map((c) => ({ bpm: c.bpm, weight: c.weight }));
}
const MOST_CANDIDATES = 6;

/** The terms of a tempo's confidence: a constant first. What is much faster or slower than usual is less likely. */
function speaksFor(weight: number, pulse: number, { bpm, support, steady }: BeatGrid): number[] {
  const odds = Math.log((weight + 1e-4) / (1 - weight + 1e-4));
  const octaves = Math.log2(bpm / USUAL_BPM);
  return [1, odds, Math.min(1, support), Math.min(0.5, pulse), steady ? 1 : 0, octaves * octaves];
}
const USUAL_BPM = 115;

/** The probability that a tempo is right, from what speaks for it. */
export function sureness(weights: readonly number[], speaks: readonly number[]): number {
  const sum = speaks.reduce((total, x, i) => total + x * weights[i]!, 0);
  return Math.min(0.99, 1 / (1 + Math.exp(-sum)));
}

/** The bars of a grid. */
function barsOf(
  { beats, firstDownbeat, beatsPerBar, bpm }: BeatGrid,
  { onsets }: Pick<Heard, 'onsets'>,
  first: FirstAttack | null,
): Bars {
  const times = beats.filter((_, i) => i >= firstDownbeat && (i - firstDownbeat) % beatsPerBar === 0);
  return { times, change: densityChanges(onsets)(times.slice(), 60 / bpm), begins: barBegun(times, first) };
}

const toDecibels = (amplitude: number): number | null => (amplitude > 0 ? 20 * Math.log10(amplitude) : null);

/** All beat times of a result in seconds, up to its duration. */
export function beatsOf(result: Pick<AnalysisResult, 'tempo' | 'durationSeconds'>): number[] {
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
