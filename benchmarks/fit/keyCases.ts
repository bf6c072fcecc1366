/** What the networks that name keys are taught: profiles of whole pieces and of parts, as seen from each tonic. */
import { barBegun, firstAttack } from '@early-set/core/analysis/rhythm/beginning';
import { densityChanges } from '@early-set/core/analysis/rhythm/changes';
import { KEY_INPUTS, pitchKnown, seenFrom, type Bars } from '@early-set/core/analysis/harmony/key';
import type { KeyNetworks } from '@early-set/core/analysis/fitted/network';
import { keyParts } from '@early-set/core/fields/keys';
import { seeded } from '@early-set/core/signal/random';
import type { PieceTruth } from '../pieces/produce.ts';
import type { Heard } from './featurePool.ts';
import { Trainable } from './trainable.ts';
import type { Training } from './training.ts';

export interface KeyCase {
  /** Twelve rotations of KEY_INPUTS values: as seen from C, D flat … */
  seen: Float32Array;
  /** Tonic, +12 for minor. */
  right: number;
}

/** Parts of a piece, as shares, that teach beside the whole. */
const CUTS = [
  [0, 1],
  [0, 0.5],
  [0.25, 0.75],
  [0.5, 1],
  [0, 0.75],
  [0.25, 1],
] as const;
/** Seconds of a part that is looked at without its bars, as a track's key over time is. */
const SHORT_SECONDS = 10;

/** Cases of a piece; the first is the whole. None without a key. */
export function keyCases(truth: PieceTruth, { chroma, onsets }: Heard): KeyCase[] {
  if (truth.key === null) return [];
  const { tonic, mode } = keyParts(truth.key)!;
  const right = tonic + (mode === 'minor' ? 12 : 0);
  const times = truth.beats.filter((_, i) => i % truth.beatsPerBar === 0);
  const bars: Bars = {
    times,
    change: densityChanges(onsets)(Float64Array.from(times), truth.bpm === null ? 0.5 : 60 / truth.bpm),
    begins: barBegun(times, firstAttack(onsets)),
  };
  const { frameCount, frameRate } = chroma;
  const cut = (from: number, to: number, its: Bars | null): KeyCase => {
    const known = pitchKnown(chroma, Math.floor(from), Math.min(frameCount, Math.ceil(to)), its);
    const seen = new Float32Array(new SharedArrayBuffer(4 * 12 * KEY_INPUTS));
    for (let t = 0; t < 12; t++) seen.set(seenFrom(known, t), t * KEY_INPUTS);
    return { seen, right };
  };
  // What modulates at its end is taught by what comes before.
  const cuts = truth.changes.includes('modulates') ? [[0, 1] as const, [0, 0.7] as const] : CUTS;
  const out = cuts.map(([from, to]) => cut(from * frameCount, to * frameCount, bars));
  const short = SHORT_SECONDS * frameRate;
  for (const at of [0.2, 0.45])
    if (frameCount > 3 * short) out.push(cut(at * frameCount, at * frameCount + short, null));
  return out;
}

const HIDDEN = 16,
  ROUNDS = 14,
  BATCH = 64,
  RATE = 5e-3,
  PENALTY = 3e-3,
  LEFT_OUT = 0.1;

/** Fits both networks: of the 24 keys the right one is to be the most probable. */
export function fitKeys(cases: readonly KeyCase[], training: Training, seed = 1): Omit<KeyNetworks, 'calm'> {
  const random = seeded(seed);
  const nets = [1, 2].map(() => new Trainable(training, KEY_INPUTS, HIDDEN, true, random));
  const rows = training.floats(12 * KEY_INPUTS),
    active = [training.floats(12 * HIDDEN), training.floats(12 * HIDDEN)],
    outputs = [training.floats(12), training.floats(12)],
    errors = training.floats(12);
  const groups = KEY_INPUTS / 12;
  for (let round = 0; round < ROUNDS; round++) {
    const rate = RATE * (0.5 * (1 + Math.cos((Math.PI * round) / ROUNDS)) + 0.02);
    const order = cases.map((one) => ({ one, at: random() })).sort((a, b) => a.at - b.at);
    for (let from = 0; from < order.length; from += BATCH) {
      const batch = order.slice(from, from + BATCH);
      for (const { one } of batch) {
        const silent = Array.from({ length: groups }, () => random() < LEFT_OUT);
        for (let i = 0; i < rows.length; i++) rows[i] = silent[Math.floor((i % KEY_INPUTS) / 12)] ? 0 : one.seen[i]!;
        nets.forEach((net, m) => net.forward(rows, 12, active[m]!, outputs[m]!));
        const top = Math.max(...outputs[0]!, ...outputs[1]!);
        let all = 0;
        for (const o of outputs)
          for (let t = 0; t < 12; t++) {
            o[t] = Math.exp(o[t]! - top);
            all += o[t]!;
          }
        nets.forEach((net, m) => {
          outputs[m]!.forEach((p, t) => (errors[t] = p / all - (one.right === m * 12 + t ? 1 : 0)));
          net.backward(rows, 12, active[m]!, errors);
        });
      }
      for (const net of nets) net.step(batch.length, rate, PENALTY);
    }
  }
  return { major: nets[0]!.network(), minor: nets[1]!.network() };
}
