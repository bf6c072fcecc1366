/** The analysis of one track: blocks of interleaved samples in, one result out. */
import { estimateEnergy, type EnergyEstimate } from './structure/energy.ts';
import { createFeatureExtractor, type Features } from './features.ts';
import type { BeatGrid } from './rhythm/beatGrid.ts';
import { layGrid } from './rhythm/grid.ts';
import { estimateKey, type Bars, type KeyCandidate } from './harmony/key.ts';
import { endingOf } from './structure/ending.ts';
import { densityChange } from './rhythm/meter.ts';
import { findSections, partsOf, type Section } from './structure/sections.ts';
import { judgeSound, type SoundJudgement, type SoundSource } from './sound/soundQuality.ts';
import { estimateTempo, MIN_PULSE, type TempoCandidate } from './rhythm/tempo.ts';
import type { MusicalKey } from '../fields/keys.ts';

/** Raised whenever a result could come out differently; stored with every result. */
export const ENGINE_VERSION = 6;

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
  finish(): AnalysisResult;
}

/**
 * Starts an analysis.
 * @param source how the file holds its sound, where that is known: what its bandwidth is measured against
 * @throws RangeError for a sample rate under 4 kHz or over 768 kHz, or no channels.
 */
export function createAnalysis(
  format: { sampleRate: number; channels: number },
  source: SoundSource | null = null,
): Analysis {
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

function tempoOf(features: Features): { tempo: AnalysisResult['tempo']; bars: Bars } {
  const none = {
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
  const { candidates, pulse, novelty } = estimateTempo(features.onsets);
  const best = candidates[0];
  if (!best || pulse < MIN_PULSE) return { tempo: { ...none, candidates }, bars: { times: [], change: [] } };
  const grid = layGrid(features, novelty, best.bpm);
  return {
    tempo: {
      bpm: grid.bpm,
      // A pulse is claimed only where it repeats and attacks are there to carry it.
      confidence: Math.min(0.99, best.weight * Math.min(1, 0.6 + grid.support) * Math.min(1, pulse * 5)),
      steady: grid.steady,
      candidates: [{ bpm: grid.bpm, weight: best.weight }, ...candidates.slice(1)],
      beatsPerBar: grid.beatsPerBar,
      firstBeatSeconds: grid.beats[0] ?? null,
      firstDownbeatSeconds: grid.beats[grid.firstDownbeat] ?? null,
      segments: grid.segments,
      driftingBeats: grid.steady ? null : Array.from(grid.beats),
    },
    bars: barsOf(grid, features),
  };
}

/** The bars of a grid. */
export function barsOf({ beats, firstDownbeat, beatsPerBar, bpm }: BeatGrid, { onsets }: Features): Bars {
  const times = beats.filter((_, i) => i >= firstDownbeat && (i - firstDownbeat) % beatsPerBar === 0);
  return { times, change: densityChange(times, 60 / bpm, onsets) };
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
