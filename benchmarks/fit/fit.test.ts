import { describe, expect, test } from '@jest/globals';
import { outputOf } from '@early-set/core/analysis/fitted/network';
import { seeded } from '@early-set/core/signal/random';
import { compileAssembly } from '../../scripts/lib/kernels.mjs';
import type { PieceTruth } from '../pieces/produce.ts';
import { fitCalm, fitSureness, foldsBy, withConfidence } from './folds.ts';
import type { Unseen } from './foldThread.ts';
import { fitKeys, type KeyCase } from './keyCases.ts';
import { rightness } from './readingCases.ts';
import { Trainable } from './trainable.ts';
import { openTraining } from './training.ts';

const truth: PieceTruth = {
  ...{ name: 'x', file: '', source: 'a', style: 'house', family: 'dance', clear: true },
  ...{ bpm: 120, steady: true, beatsPerBar: 4, compound: false, key: 'A minor', tuningCents: 0, sections: [] },
  ...{ fades: false, changes: [], beats: Array.from({ length: 80 }, (_, i) => 0.5 + i * 0.5) },
};

const loops = await compileAssembly('benchmarks/fit/assembly', 'training.ts');

describe('a network that learns', () => {
  test('what it is told is what its network says, and its steps go down', () => {
    const random = seeded(3);
    const training = openTraining(loops);
    const net = new Trainable(training, 2, 8, true, random);
    const rows = training.floats(200);
    for (let i = 0; i < rows.length; i++) rows[i] = 2 * random() - 1;
    // Neither a straight line nor anything that one of the two would tell alone.
    const wanted = Float32Array.from({ length: 100 }, (_, r) => rows[2 * r]! * rows[2 * r + 1]!);
    const active = training.floats(100 * 8),
      outputs = training.floats(100),
      errors = training.floats(100);
    const miss = (): number => outputs.reduce((sum, v, r) => sum + (v - wanted[r]!) ** 2, 0) / 100;
    net.forward(rows, 100, active, outputs);
    const before = miss();
    for (let round = 0; round < 1500; round++) {
      net.forward(rows, 100, active, outputs);
      outputs.forEach((v, r) => (errors[r] = v - wanted[r]!));
      net.backward(rows, 100, active, errors);
      net.step(100, 0.01, 0);
    }
    net.forward(rows, 100, active, outputs);
    expect(miss()).toBeLessThan(before / 20);
    const network = net.network();
    for (let r = 0; r < 100; r++)
      expect(outputOf(network, rows.subarray(2 * r, 2 * r + 2))).toBeCloseTo(outputs[r]!, 5);
  });
});

test('keys are learnt from what is seen from the tonic, for all tonics at once', () => {
  const random = seeded(4);
  const cases = Array.from({ length: 60 }, (): KeyCase => {
    const right = Math.floor(random() * 24);
    const seen = Float32Array.from({ length: 12 * 108 }, (_, i) => {
      const tonic = Math.floor(i / 108),
        tone = (i + tonic) % 12;
      const third = right < 12 ? 4 : 3;
      return ([0, third, 7].includes((tone - right + 24) % 12) ? 1 : 0) + 0.3 * random();
    });
    return { seen, right };
  });
  const nets = fitKeys(cases.slice(0, 40), openTraining(loops));
  const rightly = cases.slice(40).filter(({ seen, right }) => {
    const said = [nets.major, nets.minor].flatMap((net) =>
      Array.from({ length: 12 }, (_, t) => outputOf(net, seen.subarray(t * 108, (t + 1) * 108))),
    );
    return said.indexOf(Math.max(...said)) === right;
  });
  expect(rightly.length).toBeGreaterThanOrEqual(19);
});

describe('how right a reading is', () => {
  const beats = truth.beats;
  test.each([
    [{ ratio: 1, offset: 0, beatsPerBar: 4, firstDownbeat: 0 }, 2],
    [{ ratio: 1, offset: 0, beatsPerBar: 4, firstDownbeat: 2 }, 1],
    [{ ratio: 1, offset: 0, beatsPerBar: 3, firstDownbeat: 0 }, 1],
    [{ ratio: 1, offset: 6, beatsPerBar: 4, firstDownbeat: 0 }, 0],
    [{ ratio: 2, offset: 0, beatsPerBar: 4, firstDownbeat: 0 }, 0],
  ] as const)('%j: %i', (reading, right) => expect(rightness(truth, beats, reading)).toBe(right));
  test('a grid of eighths, a quarter late, that begins before the piece', () => {
    const grid = Array.from({ length: 170 }, (_, i) => 0.125 + i * 0.25);
    expect(rightness(truth, grid, { ratio: 2, offset: 9, beatsPerBar: 4, firstDownbeat: 0 })).toBe(2);
    expect(rightness(truth, grid, { ratio: 2, offset: 3, beatsPerBar: 4, firstDownbeat: 0 })).toBe(0);
  });
  test('of two quarters, bars of four are right on each first; in 6/8 they are not', () => {
    const two = { ...truth, beatsPerBar: 2 };
    for (const firstDownbeat of [0, 2])
      expect(rightness(two, beats, { ratio: 1, offset: 0, beatsPerBar: 4, firstDownbeat })).toBe(2);
    expect(rightness(two, beats, { ratio: 1, offset: 0, beatsPerBar: 4, firstDownbeat: 1 })).toBe(1);
    const compound = { ...two, compound: true };
    expect(rightness(compound, beats, { ratio: 1, offset: 0, beatsPerBar: 4, firstDownbeat: 0 })).toBe(1);
    expect(rightness(compound, beats, { ratio: 1, offset: 0, beatsPerBar: 2, firstDownbeat: 0 })).toBe(2);
  });
});

describe('confidences', () => {
  const random = seeded(8);
  const cases = Array.from({ length: 600 }, () => {
    const odds = 6 * random() - 1;
    const right = random() < 1 / (1 + Math.exp(-(0.8 * odds - 0.5)));
    const tempo = { bpm: right ? 120 : 90 } as Unseen['tempo'];
    // Of two that are said to be four to one, the first is right in two of three.
    const first = random() < 2 / 3;
    const keyProbabilities = Array.from({ length: 24 }, (_, i) =>
      i === (first ? 21 : 5) ? 0.8 : i === (first ? 5 : 21) ? 0.2 : 0,
    );
    return { truth, unseen: { tempo, speaks: [1, odds, 0.5, 0.2, 1], keyProbabilities } as unknown as Unseen };
  });
  test('are as often right as they say', () => {
    const weights = fitSureness(cases);
    const sure = cases.map(({ unseen }) =>
      withConfidence({ ...unseen, key: { key: null } as Unseen['key'] }, weights, 1),
    );
    for (const [low, high] of [
      [0.5, 0.8],
      [0.8, 1],
    ] as const) {
      const inside = sure.filter((u) => u.tempo.confidence >= low && u.tempo.confidence < high);
      const right = inside.filter((u) => u.tempo.bpm === 120).length / inside.length;
      expect(inside.length).toBeGreaterThan(50);
      expect(Math.abs(right - (low + high) / 2)).toBeLessThan(0.13);
    }
  });
  test('keys are calmed until they are', () => {
    expect(fitCalm(cases)).toBeGreaterThan(1.5);
  });
});

test('groups of few pieces are left out together', () => {
  const pieces = ['a', 'b', 'a', 'c', 'a'].map((source) => ({ ...truth, source }));
  expect(foldsBy(pieces, (p) => p.source, 2)).toEqual([
    { name: 'a', leftOut: [0, 2, 4] },
    { name: 'all others', leftOut: [1, 3] },
  ]);
});
