/** Fit: how well one track follows another, from tempo, key and energy. */
import { fifthsApart } from '../fields/keys.ts';
import type { TrackValues } from '../fields/values.ts';

export interface FitReference {
  bpm: number | null;
  key: string | null;
  energy: number | null;
}

export interface Fit {
  /** 0 … 100; null when either side has no tempo. */
  score: number | null;
  /** How much faster the track is than the reference, in percent; negative: slower. */
  tempoStepPercent: number | null;
  /** The track counted at this multiple of its own tempo. */
  countedAt: 0.5 | 1 | 2;
  /** Steps around the circle of fifths, 0 … 6. */
  keySteps: number | null;
  sameKey: boolean;
  energyStep: number | null;
  /** In words, the weightiest first. */
  reasons: string[];
}

/** What each part counts for; their sum is 100. */
export const FIT_WEIGHTS = { tempo: 40, key: 30, energy: 30 } as const;
/** Tempo steps of this size or more, in percent, count nothing. */
export const TEMPO_REACH_PERCENT = 8;
/** Share of the key's weight by steps around the circle; −1 is the very same key. */
export const KEY_SHARES = [0.95, 0.85, 0.45, 0.2, 0.1, 0.05, 0] as const;
export const ENERGY_REACH = 50;

/**
 * A tempo counted whole, double or half, whichever comes nearest to a reference, and how much faster it is then, in
 * percent.
 */
export const countedTempo = (reference: number, bpm: number): { multiple: 0.5 | 1 | 2; step: number } =>
  ([1, 2, 0.5] as const)
    .map((multiple) => ({ multiple, step: ((bpm * multiple) / reference - 1) * 100 }))
    .reduce((a, b) => (Math.abs(b.step) < Math.abs(a.step) ? b : a));

/** Computes the fit of a track to a reference. */
export function fitOf(reference: FitReference, track: TrackValues): Fit {
  const bpm = typeof track.bpm === 'number' ? track.bpm : null;
  const key = typeof track.key === 'string' ? track.key : null;
  const energy = typeof track.energy === 'number' ? track.energy : null;
  const counted = reference.bpm && bpm ? countedTempo(reference.bpm, bpm) : null;
  const keySteps = reference.key && key ? fifthsApart(reference.key, key) : null;
  const sameKey = reference.key !== null && reference.key === key;
  const energyStep = reference.energy !== null && energy !== null ? energy - reference.energy : null;

  const tempoShare = counted ? Math.max(0, 1 - Math.abs(counted.step) / TEMPO_REACH_PERCENT) : 0;
  const keyShare = sameKey ? 1 : keySteps === null ? 0 : KEY_SHARES[keySteps]!;
  const energyShare = energyStep === null ? 0 : Math.max(0, 1 - Math.abs(energyStep) / ENERGY_REACH);
  const score = counted
    ? Math.round(FIT_WEIGHTS.tempo * tempoShare + FIT_WEIGHTS.key * keyShare + FIT_WEIGHTS.energy * energyShare)
    : null;
  return {
    score,
    tempoStepPercent: counted?.step ?? null,
    countedAt: counted?.multiple ?? 1,
    keySteps,
    sameKey,
    energyStep,
    reasons: [tempoWords(counted), keyWords(sameKey, keySteps), energyWords(energyStep)],
  };
}

export const signed = (value: number, digits: number): string =>
  `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`;

function tempoWords(counted: { multiple: 0.5 | 1 | 2; step: number } | null): string {
  if (!counted) return 'no tempo to match';
  const times = counted.multiple === 2 ? ', counted double' : counted.multiple === 0.5 ? ', counted half' : '';
  return Math.abs(counted.step) < 0.05 ? `same tempo${times}` : `${signed(counted.step, 1)} % tempo${times}`;
}

function keyWords(same: boolean, steps: number | null): string {
  if (same) return 'same key';
  if (steps === null) return 'no key to compare';
  if (steps === 0) return 'relative key';
  return `${steps} ${steps === 1 ? 'fifth' : 'fifths'} apart`;
}

const energyWords = (step: number | null): string =>
  step === null ? 'no energy to compare' : step === 0 ? 'same energy' : `${signed(step, 0)} energy`;
