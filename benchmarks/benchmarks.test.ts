/** The measures must measure: what they say of known cases is checked here. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { compose } from '../demo/synth/compose.ts';
import { seeded } from '../demo/synth/random.ts';
import { STYLES } from '../demo/synth/styles.ts';
import { applyEffect, changeTempo, fadeOut, modulate, scatterDrums } from './pieces/effects.ts';
import { toMidi } from './pieces/midi.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import { BENCH_STYLES } from './pieces/styles.ts';
import type { PieceTruth } from './pieces/produce.ts';
import { formScore } from './formScore.ts';
import { beatFMeasure, mirex, nearest, score } from './score.ts';

const piece = () =>
  compose({ style: STYLES.house, bpm: 120, tonic: 0, mode: 'minor', seconds: 30, leadIn: 0.2 }, seeded(4));

describe('scores', () => {
  test('MIREX: exact, fifth, relative, parallel, anything else', () => {
    expect([
      mirex('A minor', 'A minor'),
      mirex('E minor', 'A minor'),
      mirex('D minor', 'A minor'),
      mirex('C major', 'A minor'),
      mirex('A major', 'A minor'),
      mirex('B minor', 'A minor'),
      mirex(null, 'A minor'),
    ]).toEqual([1, 0.5, 0.5, 0.3, 0.2, 0, 0]);
    fc.assert(
      fc.property(fc.constantFrom(...ALL_KEYS), fc.constantFrom(...ALL_KEYS), (a, b) => {
        expect(mirex(a, b)).toBe(mirex(b, a));
      }),
    );
  });

  test('F-measure: all, none, half, and each beat counts once', () => {
    const beats = Array.from({ length: 40 }, (_, i) => i * 0.5);
    expect(beatFMeasure(beats, beats)).toBe(1);
    expect(
      beatFMeasure(
        beats.map((t) => t + 0.06),
        beats,
      ),
    ).toBe(1);
    expect(
      beatFMeasure(
        beats.map((t) => t + 0.25),
        beats,
      ),
    ).toBe(0);
    expect(
      beatFMeasure(
        beats.filter((_, i) => i % 2 === 0),
        beats,
      ),
    ).toBeCloseTo(2 / 3, 6);
    expect(
      beatFMeasure(
        [...beats, ...beats].sort((a, b) => a - b),
        beats,
      ),
    ).toBeCloseTo(2 / 3, 6);
    expect(beatFMeasure([], beats)).toBe(0);
  });

  test('nearest is the smallest distance', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 100, noNaN: true }), { minLength: 1 }),
        fc.double({ min: -5, max: 105, noNaN: true }),
        (times, t) => {
          const sorted = [...times].sort((a, b) => a - b);
          expect(nearest(sorted, t)).toBeCloseTo(Math.min(...times.map((x) => Math.abs(x - t))), 9);
        },
      ),
    );
  });

  const truth: PieceTruth = {
    name: 'x',
    file: '',
    source: '',
    style: 'house',
    family: 'dance',
    clear: true,
    bpm: 120,
    steady: true,
    beatsPerBar: 4,
    compound: false,
    beats: Array.from({ length: 80 }, (_, i) => 0.5 + i * 0.5),
    key: 'A minor',
    tuningCents: 0,
    sections: [],
    fades: false,
    changes: [],
  };
  const said = (bpm: number, first: number, key = 'A minor', starts: number[] = []): AnalysisResult =>
    ({
      durationSeconds: 40,
      tempo: {
        bpm,
        confidence: 0.9,
        steady: true,
        candidates: [],
        beatsPerBar: 4,
        firstBeatSeconds: first % (60 / bpm),
        firstDownbeatSeconds: first,
        driftingBeats: null,
      },
      key: { key, confidence: 0.9, tuningCents: 0, candidates: [], overTime: [] },
      sections: starts.map((startSeconds) => ({ startSeconds })),
      edges: { ending: 'hard' },
    }) as unknown as AnalysisResult;

  test('right, half, off-beat and wrong bar are told apart', () => {
    const right = score(truth, said(120, 2.5));
    expect(right).toMatchObject({ within4: true, octave: true, exact: true, downbeat: true, keyRight: true });
    expect(Math.max(...right.gridErrors)).toBeLessThan(1e-6);
    expect(score(truth, said(60, 0.5))).toMatchObject({ within4: false, octave: true, exact: false });
    expect(Math.min(...score(truth, said(120, 0.25)).gridErrors)).toBeCloseTo(0.25, 6);
    expect(score(truth, said(120, 1))).toMatchObject({ within4: true, downbeat: false });
    expect(score(truth, said(120.06, 0.5)).exact).toBe(false);
  });

  test('borders of sections count within a bar; the middle of an intro counts neither way', () => {
    const formed: PieceTruth = {
      ...truth,
      sections: [
        { name: 'intro', start: 0 },
        { name: 'main', start: 12 },
        { name: 'breakdown', start: 24 },
      ],
    };
    expect(formScore(formed, said(120, 0.5, 'A minor', [0, 6, 12.5, 23, 31]))).toMatchObject({
      said: 3,
      there: 2,
      met: 2,
    });
    expect(formScore(formed, said(120, 0.5, 'A minor', [0, 17]))).toMatchObject({ said: 1, there: 2, met: 0 });
    expect(formScore(formed, said(120, 0.5)).endingRight).toBe(true);
    expect(formScore({ ...formed, fades: true }, said(120, 0.5)).endingRight).toBe(false);
  });

  test('a first bar before the music is counted on', () => {
    const late: PieceTruth = { ...truth, beats: truth.beats.map((b) => b + 2) };
    expect(score(late, said(120, 0.5)).downbeat).toBe(true);
    expect(score(late, said(120, 1)).downbeat).toBe(false);
  });
});

describe('the pieces', () => {
  test('the plan has at least 150 in at least 20 styles, the tonic in every harmony', () => {
    expect(BENCH_PLAN.length).toBeGreaterThanOrEqual(150);
    expect(new Set(BENCH_PLAN.map((p) => p.style)).size).toBeGreaterThanOrEqual(20);
    for (const p of BENCH_PLAN) {
      expect(BENCH_STYLES[p.style]).toBeDefined();
      if (p.harmony) expect(p.harmony.chords.some(([root]) => root === 0)).toBe(true);
    }
    expect(new Set(BENCH_PLAN.map((p) => p.name)).size).toBe(BENCH_PLAN.length);
  });

  test('a change of tempo moves what comes after it, and only that', () => {
    const before = piece(),
      after = piece();
    const at = before.beats[20]!;
    changeTempo(after, at, 1.25);
    expect(after.beats.slice(0, 21)).toEqual(before.beats.slice(0, 21));
    expect(after.beats[40]! - after.beats[39]!).toBeCloseTo((before.beats[40]! - before.beats[39]!) / 1.25, 9);
    for (const [i, hit] of after.hits.entries())
      if (before.hits[i]!.time <= at) expect(hit.time).toBe(before.hits[i]!.time);
  });

  test('a lift moves the later notes; scattering takes and adds drums only', () => {
    const before = piece(),
      lifted = piece(),
      scattered = piece();
    modulate(lifted, 10, 2);
    lifted.notes.forEach((n, i) => expect(n.midi - before.notes[i]!.midi).toBe(before.notes[i]!.time >= 10 ? 2 : 0));
    scatterDrums(scattered, 0.2, 0.125, seeded(3));
    expect(scattered.notes).toEqual(before.notes);
    expect(Math.abs(scattered.hits.length / before.hits.length - 0.88)).toBeLessThan(0.06);
  });

  test('effects keep to full scale, and a fade ends in silence', () => {
    const sound = () => ({
      left: Float32Array.from({ length: 88200 }, (_, i) => 0.8 * Math.sin(i / 20)),
      right: Float32Array.from({ length: 88200 }, (_, i) => 0.5 * Math.sin(i / 31)),
    });
    const top = ({ left, right }: { left: Float32Array; right: Float32Array }): number =>
      [...left, ...right].reduce((t, v) => Math.max(t, Math.abs(v)), 0);
    for (const effect of ['limited', 'clipped'] as const) {
      const s = sound();
      applyEffect(s, effect, seeded(1));
      expect(top(s)).toBeLessThanOrEqual(1);
      expect(top(s)).toBeGreaterThan(0.9);
    }
    const quiet = sound();
    applyEffect(quiet, 'quiet', seeded(1));
    expect(top(quiet)).toBeCloseTo(0.06, 4);
    const faded = fadeOut(sound(), 1.5, 1);
    expect(faded.left).toHaveLength(66150);
    expect(Math.abs(faded.left.at(-1)!)).toBeLessThan(1e-4);
    expect(faded.left[10_000]).toBe(sound().left[10_000]);
  });

  test('a MIDI file holds every note once, ends notes after they begin, and keeps time', () => {
    const p = piece();
    const bytes = toMidi(p, { tuningCents: -30, played: false, random: seeded(2) });
    const text = String.fromCharCode(...bytes.subarray(0, 4));
    expect(text).toBe('MThd');
    let at = 22,
      tick = 0,
      on = 0,
      drums = 0,
      last = 0;
    const open = new Map<string, number>();
    while (at < bytes.length) {
      let delta = 0;
      do {
        delta = (delta << 7) | (bytes[at]! & 127);
      } while (bytes[at++]! & 128);
      tick += delta;
      const status = bytes[at++]!;
      if (status === 0xff) {
        at += 2 + bytes[at + 1]!;
        last = tick;
        continue;
      }
      const kind = status & 0xf0,
        channel = status & 15;
      if (kind === 0xc0) {
        at += 1;
        continue;
      }
      const [key, value] = [bytes[at]!, bytes[at + 1]!];
      at += 2;
      if (kind === 0x90) {
        expect(value).toBeGreaterThan(0);
        if (channel === 9) drums++;
        else {
          on++;
          open.set(`${channel} ${key}`, tick);
        }
      }
      if (kind === 0x80 && channel !== 9)
        expect(tick).toBeGreaterThanOrEqual(open.get(`${channel} ${key}`) ?? Infinity);
    }
    expect([on, drums]).toEqual([p.notes.length, p.hits.length]);
    expect(last / 2000).toBeCloseTo(p.lengthSeconds, 2);
  });
});
