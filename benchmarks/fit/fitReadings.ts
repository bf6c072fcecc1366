/**
 * Fits the networks that read grids: of all readings of a piece the right ones are to be the most probable. Pieces are
 * heard a little faster or slower, with a band left out, with noise on their pictures, so that no style owns a tempo
 * and no network leans on one band.
 */
import { BARS, type BarBeats } from '@early-set/core/analysis/rhythm/barFold';
import { ONSET_BAND_COUNT } from '@early-set/core/analysis/rhythm/onsets';
import type { ReadingNetworks } from '@early-set/core/analysis/fitted/network';
import { KNOWN_OF_PERIOD, OFFSETS, pictureParts, pictureSize } from '@early-set/core/analysis/rhythm/readings';
import { KNOWN_OF_TEMPO, tempoKnown } from '@early-set/core/analysis/rhythm/tempo';
import { seeded, type Random } from '@early-set/core/signal/random';
import type { KeptCase } from './caseShelf.ts';
import { Trainable } from './trainable.ts';
import type { Training } from './training.ts';

const HIDDEN = 24,
  HIDDEN_BEAT = 12;
const ROUNDS = 12,
  BATCH = 16,
  RATE = 3e-3,
  PENALTY = 2e-4;
/** How far a piece is heard faster or slower, in octaves; how often a band, or its beginning, is left out; noise. */
const OCTAVES = 0.3,
  LEFT_OUT = 0.12,
  UNBEGUN = 0.4,
  NOISE = 0.8;
/** What it weighs that beats alone are right, beside beats and bars. */
const BEATS_ALONE = 0.5;

/** Fits on cases; the same seed gives the same weights. */
export function fitReadings(cases: readonly KeptCase[], training: Training, seed = 1): ReadingNetworks {
  const random = seeded(seed);
  const beat = new Trainable(training, KNOWN_OF_PERIOD, HIDDEN_BEAT, true, random);
  const bars = {
    2: new Trainable(training, pictureSize(2), HIDDEN, false, random),
    3: new Trainable(training, pictureSize(3), HIDDEN, false, random),
    4: new Trainable(training, pictureSize(4), HIDDEN, false, random),
  };
  const work = workspace(cases, training);
  for (let round = 0; round < ROUNDS; round++) {
    const rate = RATE * (0.5 * (1 + Math.cos((Math.PI * round) / ROUNDS)) + 0.02);
    const order = shuffled(cases, random);
    for (let from = 0; from < order.length; from += BATCH) {
      const batch = order.slice(from, from + BATCH);
      for (const one of batch) learn(one, beat, bars, work, random);
      for (const net of [beat, bars[2], bars[3], bars[4]]) net.step(batch.length, rate, PENALTY);
    }
  }
  return { beat: beat.network(), bars: { 2: bars[2].network(), 3: bars[3].network(), 4: bars[4].network() } };
}

interface Workspace {
  known: Float32Array;
  knownActive: Float32Array;
  alone: Float32Array;
  aloneErrors: Float32Array;
  bars: Record<BarBeats, { rows: Float32Array; active: Float32Array; outputs: Float32Array; errors: Float32Array }>;
}

function workspace(cases: readonly KeptCase[], { floats }: Training): Workspace {
  const periods = Math.max(...cases.map((c) => c.known.length / KNOWN_OF_PERIOD));
  const forBar = (bar: BarBeats): Workspace['bars'][BarBeats] => {
    const most = periods * OFFSETS.length * bar;
    return {
      rows: floats(most * pictureSize(bar)),
      active: floats(most * HIDDEN),
      outputs: floats(most),
      errors: floats(most),
    };
  };
  return {
    known: floats(periods * KNOWN_OF_PERIOD),
    knownActive: floats(periods * HIDDEN_BEAT),
    alone: floats(periods),
    aloneErrors: floats(periods),
    bars: { 2: forBar(2), 3: forBar(3), 4: forBar(4) },
  };
}

/** Adds what one case teaches to the gradients. */
function learn(
  one: KeptCase,
  beat: Trainable,
  bars: Record<BarBeats, Trainable>,
  work: Workspace,
  random: Random,
): void {
  const periods = one.known.length / KNOWN_OF_PERIOD;
  heardAtOtherSpeed(one.known, work.known, random);
  beat.forward(work.known, periods, work.knownActive, work.alone);
  const without = {
    bands: Array.from({ length: ONSET_BAND_COUNT }, () => random() < LEFT_OUT),
    beginning: random() < UNBEGUN,
  };
  let top = -Infinity;
  for (const bar of BARS) {
    const { rows, active, outputs } = work.bars[bar];
    const { pictures, right } = one.bars[bar];
    worn(pictures, rows, bar, without, random);
    bars[bar].forward(rows, right.length, active, outputs);
    const each = OFFSETS.length * bar;
    for (let r = 0; r < right.length; r++) {
      outputs[r]! += work.alone[Math.floor(r / each)]!;
      if (outputs[r]! > top) top = outputs[r]!;
    }
  }
  const least = BARS.some((bar) => one.bars[bar].right.includes(2)) ? 2 : 1;
  const sums = { all: 1e-12, right: 1e-12, beats: 1e-12 };
  for (const bar of BARS) {
    const { outputs } = work.bars[bar];
    const { right } = one.bars[bar];
    for (let r = 0; r < right.length; r++) {
      const p = Math.exp(outputs[r]! - top);
      outputs[r] = p;
      sums.all += p;
      if (right[r]! >= least) sums.right += p;
      if (right[r]! >= 1) sums.beats += p;
    }
  }
  work.aloneErrors.fill(0);
  for (const bar of BARS) {
    const { rows, active, outputs, errors } = work.bars[bar];
    const { right } = one.bars[bar];
    const each = OFFSETS.length * bar;
    for (let r = 0; r < right.length; r++) {
      const p = outputs[r]!;
      errors[r] =
        p / sums.all -
        (right[r]! >= least ? p / sums.right : 0) +
        BEATS_ALONE * (p / sums.all - (right[r]! >= 1 ? p / sums.beats : 0));
      work.aloneErrors[Math.floor(r / each)]! += errors[r]!;
    }
    bars[bar].backward(rows, right.length, active, errors);
  }
  beat.backward(work.known, periods, work.knownActive, work.aloneErrors);
}

/** At another speed, with noise on how alike its beats are. */
function heardAtOtherSpeed(known: Float32Array, into: Float32Array, random: Random): void {
  const octaves = OCTAVES * (2 * random() - 1),
    from = Math.floor(random() * NOISE_MASK);
  into.set(known);
  for (let at = 0; at < known.length; at += KNOWN_OF_PERIOD) {
    into.set(tempoKnown(known[at + KNOWN_OF_TEMPO - 6]! + octaves), at + KNOWN_OF_TEMPO - 6);
    for (let i = at + KNOWN_OF_TEMPO; i < at + KNOWN_OF_PERIOD; i++) into[i]! += noise[(from + i) & NOISE_MASK]!;
  }
}

/** Pictures with noise, without the bands that are silent, and where it is left out without how the track begins. */
function worn(
  pictures: Float32Array,
  into: Float32Array,
  bar: BarBeats,
  { bands, beginning }: { bands: boolean[]; beginning: boolean },
  random: Random,
): void {
  const { heard, spreads, repeats, first, end: size } = pictureParts(bar);
  const off = new Uint8Array(size);
  for (let i = 0; i < heard; i++) off[i] = bands[i % ONSET_BAND_COUNT] ? 1 : 0;
  for (let i = spreads; i < repeats - 3; i++) off[i] = bands[(i - spreads) % ONSET_BAND_COUNT] ? 1 : 0;
  if (beginning) off.fill(1, first);
  const from = Math.floor(random() * NOISE_MASK);
  for (let at = 0; at < pictures.length; at += size)
    for (let i = 0; i < size; i++)
      into[at + i] = (off[i] ? 0 : pictures[at + i]!) + noise[(from + at + i) & NOISE_MASK]!;
}

/** The same noise for all, each time from another place on. */
const NOISE_MASK = (1 << 18) - 1;
const noise = ((): Float32Array => {
  const random = seeded(11);
  return Float32Array.from({ length: NOISE_MASK + 1 }, () => NOISE * (2 * random() - 1));
})();

function shuffled<T>(items: readonly T[], random: Random): T[] {
  const out = [...items];
  for (let i = out.length - 1; i > 0; i--) {
    const k = Math.floor(random() * (i + 1));
    [out[i], out[k]] = [out[k]!, out[i]!];
  }
  return out;
}
