/** How one track goes over into the next: one judgement, shared by lists, suggestions and ordering. */
import { transposed } from '../fields/keys.ts';
import type { TrackValues } from '../fields/values.ts';
import { fitOf, signed, type Fit } from './fit.ts';

/** Goes by itself, goes, wants work, or does not go together. */
export type Grade = 'good' | 'fair' | 'uneven' | 'hard';

export interface Transition {
  grade: Grade;
  fit: Fit;
  /** In words: key first, then tempo, then what else is to be minded. */
  reasons: readonly string[];
}

/** How it is played. */
export interface Playing {
  /** Keys stay when tempi are matched; else they move with the tempo. */
  keyLock?: boolean;
  /** Tempo at which the first one ends, in BPM; its own where it is left out. */
  tempo?: number | null;
  /** So many bars they lie over each other (null: not at all, or no bars are known); it is not asked where left out. */
  bars?: number | null;
}

/** Tempo steps in percent up to which a transition is of a grade. */
export const MAX_TEMPO_STEP = { good: 3, fair: 4, uneven: 8 } as const;
/** Steps around the circle of fifths, likewise. */
export const MAX_KEY_STEPS = { good: 0, fair: 1, uneven: 3 } as const;
/** From these on, a step is said, and takes a grade away: loudness in LU, energy, detuning in cents. */
export const MIN_LOUDNESS_STEP = 5,
  MIN_ENERGY_STEP = 30,
  MIN_DETUNING = 35;
/** So many bars of singing over singing are heard as such. */
export const MIN_BARS_OF_VOCALS = 4;

const number = (value: unknown): number | null => (typeof value === 'number' ? value : null);

/** Judges the way from one track to the next. */
export function transition(from: TrackValues, to: TrackValues, playing: Playing = {}): Transition {
  const key = typeof from.key === 'string' ? from.key : null,
    bpm = playing.tempo ?? number(from.bpm);
  const reference = { bpm, key, energy: number(from.energy) };
  const shift = playing.keyLock === false ? shiftOf(from, to, bpm, fitOf(reference, to).countedAt) : NO_SHIFT;
  const fit = fitOf(reference, shift.semitones && typeof to.key === 'string' ? moved(to, shift.semitones) : to);
  const besides = [
    ...tuning(shift),
    ...differences(from, to),
    ...(playing.bars === undefined ? [] : ways(from, to, playing.bars ?? 0)),
  ];
  const grade = gradeOf(fit);
  return {
    grade: besides.some((b) => b.costs) ? WORSE[grade] : grade,
    fit,
    reasons: [fit.reasons[1]!, fit.reasons[0]!, ...besides.map((b) => b.words)],
  };
}

/** What is known besides key and tempo never makes a transition impossible. */
const WORSE: Record<Grade, Grade> = { good: 'fair', fair: 'uneven', uneven: 'uneven', hard: 'hard' };

interface Besides {
  words: string;
  costs: boolean;
}

interface Shift {
  /** By which the second one sounds higher than the first, against what they are themselves. */
  semitones: number;
  /** What is left of it. */
  cents: number;
}
const NO_SHIFT: Shift = { semitones: 0, cents: 0 };

/** How far tempo matching moves the pitch of the second one against the first, where key lock is off. */
function shiftOf(from: TrackValues, to: TrackValues, tempo: number | null, counted: number): Shift {
  const own = number(from.bpm),
    next = number(to.bpm);
  if (!tempo || !own || !next) return NO_SHIFT;
  const semitones = 12 * Math.log2(tempo / (next * counted) / (tempo / own));
  const whole = Math.round(semitones);
  return { semitones: whole, cents: Math.round((semitones - whole) * 100) };
}

const moved = (track: TrackValues, semitones: number): TrackValues => ({
  ...track,
  key: transposed(String(track.key), semitones),
});

const tuning = ({ semitones, cents }: Shift): Besides[] => [
  ...(semitones ? [{ words: `${signed(semitones, 0)} semitone with the tempo`, costs: false }] : []),
  ...(Math.abs(cents) >= MIN_DETUNING ? [{ words: `${signed(cents, 0)} cents out of tune`, costs: true }] : []),
];

function differences(from: TrackValues, to: TrackValues): Besides[] {
  const step = (field: string): number => (number(to[field]) ?? NaN) - (number(from[field]) ?? NaN);
  const [energy, loudness] = [step('energy'), step('lufs')];
  return [
    ...(Math.abs(energy) >= MIN_ENERGY_STEP ? [{ words: `${signed(energy, 0)} energy`, costs: true }] : []),
    ...(Math.abs(loudness) >= MIN_LOUDNESS_STEP ? [{ words: `${signed(loudness, 1)} LU`, costs: true }] : []),
  ];
}

function ways(from: TrackValues, to: TrackValues, bars: number): Besides[] {
  const sung = from.vocals === 'yes' && to.vocals === 'yes' && bars >= MIN_BARS_OF_VOCALS;
  return [
    ...(sung ? [{ words: 'vocals over vocals', costs: true }] : []),
    ...(from.ending === 'hard' && bars < 1 ? [{ words: 'cold end', costs: false }] : []),
  ];
}

function gradeOf({ tempoStepPercent, keySteps, sameKey }: Fit): Grade {
  const step = tempoStepPercent === null ? null : Math.abs(tempoStepPercent),
    fifths = keySteps ?? 6;
  if (step === null || step > MAX_TEMPO_STEP.uneven || fifths > MAX_KEY_STEPS.uneven) return 'hard';
  if (step < MAX_TEMPO_STEP.good && (sameKey || fifths <= MAX_KEY_STEPS.good)) return 'good';
  return step < MAX_TEMPO_STEP.fair && fifths <= MAX_KEY_STEPS.fair ? 'fair' : 'uneven';
}
