/**
 * Ways to read a grid as beats and bars. A grid whose tempo and attacks are right may still count two beats as one,
 * begin between the beats, or begin its bars on another beat. All such readings are weighed by what is heard on each
 * part of beat and bar under them (networks fitted on music of several makers, `npm run bench:fit`).
 */
import { outputOf, type ReadingNetworks } from '../fitted/network.ts';
import type { Chroma } from '../harmony/chroma.ts';
import { BEFORE_FIRST, type FirstAttack } from './beginning.ts';
import { BARS, foldBars, PARTS, placeOf, surroundingsOf, type BarBeats, type BarFold } from './barFold.ts';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';
import { LAGS } from './repetition.ts';
import { KNOWN_OF_TEMPO } from './tempo.ts';

/** Beats of a reading as multiples of the grid's. */
export const RATIOS = [1 / 3, 1 / 2, 2 / 3, 3 / 4, 1, 4 / 3, 3 / 2, 2, 3] as const;
const MIN_BPM = 30,
  MAX_BPM = 240;
/** Parts of a beat by which a reading may begin later, and at which it is listened to. */
export const OFFSETS = [0, 3, 4, 6, 8, 9] as const;

/** How a grid may be read. */
export interface Reading {
  /** Beats of the grid in one of its own. */
  ratio: number;
  /** PARTS of its own beat by which it begins after the grid. */
  offset: number;
  beatsPerBar: BarBeats;
  /** Which of its beats begins the first whole bar. */
  firstDownbeat: number;
}

export interface WeighedReading extends Reading {
  bpm: number;
  probability: number;
}

/** A period of the grid as it is weighed: what repetition says of it, and what is heard on its parts. */
export interface HeardPeriod {
  ratio: number;
  bpm: number;
  /** KNOWN_OF_PERIOD values. */
  known: Float64Array;
  fold: BarFold;
  /** The first attack, so many of its beats after the grid's first; null where that says nothing. */
  firstAttack: { at: number; after: FirstAttack['after'] } | null;
}
/** What is known of a tempo, then how alike beats of that length are in their attacks. */
export const KNOWN_OF_PERIOD = KNOWN_OF_TEMPO + LAGS.length;

/** What readings are weighed by. */
export interface HeardOfGrid {
  onsets: Onsets;
  chroma: Chroma;
  /** Of the whole track; null for a stretch of it that begins anywhere. */
  firstAttack: FirstAttack | null;
}

/** All periods at which a grid may be read. @param beats at least two, in seconds */
export function heardPeriods(
  beats: ArrayLike<number>,
  heard: HeardOfGrid,
  knownOf: (bpm: number) => Float64Array,
): HeardPeriod[] {
  const bpm = (60 * (beats.length - 1)) / (beats[beats.length - 1]! - beats[0]!);
  const around = surroundingsOf(heard);
  const first = heard.firstAttack,
    place = first && placeOf(beats, first.seconds);
  return RATIOS.filter((ratio) => bpm / ratio >= MIN_BPM && bpm / ratio <= MAX_BPM).map((ratio) => {
    const fold = foldBars(beats, ratio, around);
    return {
      ratio,
      bpm: bpm / ratio,
      known: Float64Array.from([...knownOf(bpm / ratio), ...fold.repeats.attacks]),
      fold,
      firstAttack: first && { at: place! / ratio, after: first.after },
    };
  });
}

/** Everything that the networks are asked about one period in bars of so many beats. */
export function picturesOf(
  { fold, ratio, bpm, firstAttack }: HeardPeriod,
  bar: BarBeats,
): { reading: Reading; seen: Float32Array }[] {
  const attacks = levelled(fold.attacks[bar], ONSET_BAND_COUNT, 0.05),
    harmony = levelled(fold.harmony[bar], 1, 0.02),
    density = levelled(fold.density[bar], 1, 0.01);
  const spread = spreadsOf(fold, bar);
  const slots = bar * PARTS;
  return OFFSETS.flatMap((offset) =>
    Array.from({ length: bar }, (_, firstDownbeat) => {
      const seen = new Float32Array(pictureSize(bar));
      let n = 0;
      for (let beat = 0; beat < bar; beat++)
        for (const part of OFFSETS) {
          const at = (((beat + firstDownbeat) * PARTS + part + offset) % slots) * ONSET_BAND_COUNT;
          for (let b = 0; b < ONSET_BAND_COUNT; b++) seen[n++] = attacks[at + b]!;
        }
      const half = Math.round(offset / (PARTS / 2));
      for (let beat = 0; beat < bar; beat++)
        for (const h of [half, half + 1]) seen[n++] = harmony[(2 * (beat + firstDownbeat) + h) % (2 * bar)]!;
      const later = offset >= PARTS / 2 ? 1 : 0;
      for (let beat = 0; beat < bar; beat++) seen[n++] = density[(beat + firstDownbeat + later) % bar]!;
      seen.set(spread, n);
      seen.set(fold.repeats.attacks, (n += spread.length));
      seen.set(fold.repeats.harmony, (n += LAGS.length));
      if (firstAttack) {
        const from = n + LAGS.length + BEFORE_FIRST.indexOf(firstAttack.after) * (1 + bar);
        lookAtFirst(firstAttack.at - offset / PARTS, 60 / bpm, firstDownbeat, seen.subarray(from, from + 1 + bar));
      }
      return { reading: { ratio, offset, beatsPerBar: bar, firstDownbeat }, seen };
    }),
  );
}

const SPREADS = 4 * ONSET_BAND_COUNT + 3;
/** Where in a picture of a bar of so many beats its parts begin: bands by part of a beat come first, then harmony … */
export function pictureParts(bar: BarBeats): Record<'heard' | 'spreads' | 'repeats' | 'first' | 'end', number> {
  const heard = bar * OFFSETS.length * ONSET_BAND_COUNT,
    spreads = heard + 3 * bar,
    repeats = spreads + SPREADS,
    first = repeats + 2 * LAGS.length;
  return { heard, spreads, repeats, first, end: first + BEFORE_FIRST.length * (1 + bar) };
}
/** How many values a picture of a bar of so many beats has. */
export const pictureSize = (bar: BarBeats): number => pictureParts(bar).end;

/** So far from a beat it is as good as beside it, in seconds. */
const BESIDE = 0.04;

/**
 * How a track begins under a reading: whether its first attack is on a beat, and on which of the bar.
 * @param at in beats @param into one value, then one for each beat of the bar
 */
function lookAtFirst(at: number, beatSeconds: number, firstDownbeat: number, into: Float32Array): void {
  const beat = Math.round(at),
    bar = into.length - 1;
  const on = 3 * Math.exp(-((((at - beat) * beatSeconds) / BESIDE) ** 2));
  into[0] = on - 1;
  into[1 + ((((beat - firstDownbeat) % bar) + bar) % bar)] = on;
}

/** Zero mean and about unit spread, of every `width`-th value together. */
function levelled(values: Float32Array, width: number, floor: number): Float32Array {
  const out = new Float32Array(values.length);
  for (let b = 0; b < width; b++) {
    const { mean, deviation } = momentsOf(values, b, width);
    for (let i = b; i < values.length; i += width) out[i] = (values[i]! - mean) / (deviation + floor);
  }
  return out;
}

function momentsOf(values: ArrayLike<number>, first: number, step: number): { mean: number; deviation: number } {
  let sum = 0,
    squares = 0,
    count = 0;
  for (let i = first; i < values.length; i += step, count++) {
    sum += values[i]!;
    squares += values[i]! ** 2;
  }
  const mean = sum / Math.max(1, count);
  return { mean, deviation: Math.sqrt(Math.max(0, squares / Math.max(1, count) - mean * mean)) };
}

/** By band: how much all parts differ, those of one beat, the beats, and what is left of it; then of the others. */
function spreadsOf(fold: BarFold, bar: BarBeats): Float32Array {
  const values = fold.attacks[bar];
  const out = new Float32Array(SPREADS);
  for (let b = 0; b < ONSET_BAND_COUNT; b++) {
    const ofBeat = new Float64Array(PARTS),
      ofBar = new Float64Array(bar);
    for (let slot = 0; slot < bar * PARTS; slot++) {
      ofBeat[slot % PARTS]! += values[slot * ONSET_BAND_COUNT + b]! / bar;
      ofBar[Math.floor(slot / PARTS)]! += values[slot * ONSET_BAND_COUNT + b]! / PARTS;
    }
    const all = momentsOf(values, b, ONSET_BAND_COUNT),
      beat = momentsOf(ofBeat, 0, 1);
    out[b] = all.deviation;
    out[ONSET_BAND_COUNT + b] = beat.deviation;
    out[2 * ONSET_BAND_COUNT + b] = momentsOf(ofBar, 0, 1).deviation;
    // What a beat of its own adds to the one pattern of all beats.
    out[3 * ONSET_BAND_COUNT + b] = Math.sqrt(Math.max(0, all.deviation ** 2 - beat.deviation ** 2));
  }
  const harmony = momentsOf(fold.harmony[bar], 0, 1);
  out.set([harmony.deviation * 10, harmony.mean * 3, momentsOf(fold.density[bar], 0, 1).deviation * 10], SPREADS - 3);
  return out;
}

/** All readings of a grid with their probabilities, the most probable first; none of fewer than thirteen beats. */
export function weighReadings(
  beats: ArrayLike<number>,
  heard: HeardOfGrid,
  knownOf: (bpm: number) => Float64Array,
  { beat, bars }: ReadingNetworks,
): WeighedReading[] {
  if (beats.length < MIN_BEATS) return [];
  const weighed = heardPeriods(beats, heard, knownOf).flatMap((period) => {
    const alone = outputOf(beat, period.known);
    return BARS.flatMap((bar) =>
      picturesOf(period, bar).map(({ reading, seen }) => ({
        ...reading,
        bpm: period.bpm,
        score: alone + outputOf(bars[bar], seen),
      })),
    );
  });
  const top = Math.max(...weighed.map((r) => r.score));
  const all = weighed.reduce((sum, r) => sum + Math.exp(r.score - top), 0);
  return weighed
    .map(({ score, ...reading }) => ({ ...reading, probability: Math.exp(score - top) / all }))
    .sort((a, b) => b.probability - a.probability);
}

/** Fewer beats say nothing of bars. */
const MIN_BEATS = 13;
