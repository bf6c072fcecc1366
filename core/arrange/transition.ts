/** How one track goes over into the next: one judgement, shared by lists, suggestions and ordering. */
import type { TrackValues } from '../fields/values.ts';
import { fitOf, type Fit } from './fit.ts';

/** Goes by itself, goes, wants work, or does not go together. */
export type Grade = 'good' | 'fair' | 'uneven' | 'hard';

export interface Transition {
  grade: Grade;
  fit: Fit;
  /** In words: key first, then tempo. */
  reasons: readonly string[];
}

/** Tempo steps in percent up to which a transition is of a grade. */
export const MAX_TEMPO_STEP = { good: 3, fair: 4, uneven: 8 } as const;
/** Steps around the circle of fifths, likewise. */
export const MAX_KEY_STEPS = { good: 0, fair: 1, uneven: 3 } as const;

const number = (value: unknown): number | null => (typeof value === 'number' ? value : null);

/** Judges the way from one track to the next. */
export function transition(from: TrackValues, to: TrackValues): Transition {
  const fit = fitOf(
    { bpm: number(from.bpm), key: typeof from.key === 'string' ? from.key : null, energy: number(from.energy) },
    to,
  );
  return { grade: gradeOf(fit), fit, reasons: [fit.reasons[1]!, fit.reasons[0]!] };
}

function gradeOf({ tempoStepPercent, keySteps, sameKey }: Fit): Grade {
  const step = tempoStepPercent === null ? null : Math.abs(tempoStepPercent),
    fifths = keySteps ?? 6;
  if (step === null || step > MAX_TEMPO_STEP.uneven || fifths > MAX_KEY_STEPS.uneven) return 'hard';
  if (step < MAX_TEMPO_STEP.good && (sameKey || fifths <= MAX_KEY_STEPS.good)) return 'good';
  return step < MAX_TEMPO_STEP.fair && fifths <= MAX_KEY_STEPS.fair ? 'fair' : 'uneven';
}
