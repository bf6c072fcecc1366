import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Chroma } from '../harmony/chroma.ts';
import { BARS, foldBars, PARTS, surroundingsOf, timeAt } from './barFold.ts';
import type { BeatGrid } from './beatGrid.ts';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';
import { BEFORE_FIRST } from './beginning.ts';
import { heardPeriods, KNOWN_OF_PERIOD, picturesOf, pictureParts, pictureSize, weighReadings } from './readings.ts';
import { reread } from './reread.ts';
import { KNOWN_OF_TEMPO } from './tempo.ts';

const RATE = 100,
  SECONDS = 60;
const SILENT: Chroma = {
  ...{ frames: new Uint16Array(0), bass: new Uint16Array(0) },
  ...{ frameCount: 0, frameRate: 5, tuningCents: 0 },
};

/** Attacks of one band at given times. */
function attacks(at: readonly (readonly [seconds: number, band: number, height: number])[]): Onsets {
  const bands = Array.from({ length: ONSET_BAND_COUNT }, () => new Float32Array(SECONDS * RATE));
  for (const [seconds, band, height] of at) {
    const i = Math.round(seconds * RATE);
    if (i >= 0 && i < SECONDS * RATE) bands[band]![i]! += height;
  }
  return { bands, centroidHz: new Uint16Array(0), frameRate: RATE, startSeconds: 0 };
}
const line = (first: number, step: number): Float64Array =>
  Float64Array.from({ length: Math.floor((SECONDS - first) / step) }, (_, k) => first + k * step);
const nothingKnown = (): Float64Array => new Float64Array(KNOWN_OF_TEMPO);
/** A kick on the first of four, a snare on the third, hats on all, at 120. */
const played = attacks(
  Array.from(line(0.5, 0.5)).flatMap((t, k) => [
    [t, 4, 1] as const,
    ...(k % 4 === 0 ? [[t, 0, 3] as const] : []),
    ...(k % 4 === 2 ? [[t, 2, 3] as const] : []),
  ]),
);

describe('what is heard on the parts of a bar', () => {
  test('is folded onto beat, part and band', () => {
    const { attacks: folded } = foldBars(line(0.5, 0.5), 1, surroundingsOf({ onsets: played, chroma: SILENT }));
    const at = (beat: number, part: number, band: number): number =>
      folded[4][(beat * PARTS + part) * ONSET_BAND_COUNT + band]!;
    expect(at(0, 0, 0)).toBeGreaterThan(2);
    expect(at(2, 0, 2)).toBeGreaterThan(2);
    expect([at(1, 0, 0), at(2, 0, 0), at(0, 6, 0), at(0, 0, 2)]).toEqual([0, 0, 0, 0]);
    for (let beat = 0; beat < 4; beat++) expect(at(beat, 0, 4)).toBeGreaterThan(1);
  });

  test('a later first beat is a turned picture', () => {
    const beats = line(0.5, 0.5);
    const [period] = heardPeriods(beats, { onsets: played, chroma: SILENT, firstAttack: null }, nothingKnown).filter(
      (p) => p.ratio === 1,
    );
    const pictures = picturesOf(period!, 4).filter((p) => p.reading.offset === 0);
    expect(pictures.map((p) => p.seen.length)).toEqual([0, 1, 2, 3].map(() => pictureSize(4)));
    // Both of the kick and of the snare, two beats lie between.
    const kick = (n: number): number => pictures[n]!.seen[0]!,
      snare = (n: number): number => pictures[n]!.seen[2]!;
    expect(kick(0)).toBeGreaterThan(1);
    expect(snare(2)).toBeGreaterThan(1);
    expect(Math.max(kick(1), kick(2), kick(3), snare(0), snare(1), snare(3))).toBeLessThan(0);
  });

  test('how the track begins is seen from each reading', () => {
    const first = { seconds: 1.5, after: 'silence' } as const;
    const heard = { onsets: played, chroma: SILENT, firstAttack: first };
    const begun = (ratio: number, offset: number): number[][] =>
      picturesOf(
        heardPeriods(line(0.5, 0.5), heard, nothingKnown).find((p) => p.ratio === ratio)!,
        4,
      )
        .filter((p) => p.reading.offset === offset)
        .map((p) => Array.from(p.seen.subarray(pictureParts(4).first).subarray(0, 5)));
    // Two beats after the first of the grid: on a beat, and on the first of the bar if that begins there.
    expect(begun(1, 0)).toEqual([
      [2, 0, 0, 3, 0],
      [2, 0, 3, 0, 0],
      [2, 3, 0, 0, 0],
      [2, 0, 0, 0, 3],
    ]);
    // Two of half the tempo later there is one; half a beat later there is none.
    expect(begun(2, 0)[0]).toEqual([2, 0, 3, 0, 0]);
    for (const seen of begun(1, 6).flat()) expect(Math.abs(seen) < 1e-9 || seen === -1).toBe(true);
    const unknown = heardPeriods(line(0.5, 0.5), { ...heard, firstAttack: null }, nothingKnown)[0]!;
    for (const { seen } of picturesOf(unknown, 3))
      expect(seen.subarray(pictureParts(3).first).every((v) => v === 0)).toBe(true);
  });

  test('what comes before the first attack is told apart', () => {
    const ends = BEFORE_FIRST.map((after) => {
      const heard = { onsets: played, chroma: SILENT, firstAttack: { seconds: 0.5, after } };
      const [period] = heardPeriods(line(0.5, 0.5), heard, nothingKnown);
      const { seen } = picturesOf(period!, 2)[0]!;
      return Array.from(seen.subarray(pictureParts(2).first));
    });
    expect(ends).toEqual([
      [2, 3, 0, 0, 0, 0, 0, 0, 0],
      [0, 0, 0, 2, 3, 0, 0, 0, 0],
      [0, 0, 0, 0, 0, 0, 2, 3, 0],
    ]);
  });

  test('all bars and parts of a beat are asked, at parts and multiples of the tempo', () => {
    const periods = heardPeriods(line(0.5, 0.5), { onsets: played, chroma: SILENT, firstAttack: null }, nothingKnown);
    expect(periods.map((p) => Math.round(p.bpm))).toEqual([240, 180, 160, 120, 90, 80, 60, 40]);
    const readings = BARS.flatMap((bar) => picturesOf(periods[0]!, bar).map((p) => JSON.stringify(p.reading)));
    expect(new Set(readings).size).toBe(readings.length);
    expect(readings).toHaveLength(6 * (2 + 3 + 4));
  });
});

test('a place on a grid is between its neighbours, and beyond its ends goes on as they do', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.1, max: 2, noNaN: true }), { minLength: 2, maxLength: 40 }),
      fc.double({ min: -5, max: 45, noNaN: true }),
      (steps, place) => {
        const beats = [0];
        for (const s of steps) beats.push(beats.at(-1)! + s);
        const t = timeAt(beats, place);
        if (place <= 0) expect(t).toBeCloseTo(place * steps[0]!, 9);
        else if (place >= steps.length)
          expect(t).toBeCloseTo(beats.at(-1)! + (place - steps.length) * steps.at(-1)!, 9);
        else {
          expect(t).toBeGreaterThanOrEqual(beats[Math.floor(place)]! - 1e-9);
          expect(t).toBeLessThanOrEqual(beats[Math.ceil(place)]! + 1e-9);
        }
      },
    ),
  );
});

describe('a grid that is read anew', () => {
  const wandering: BeatGrid = {
    ...{ bpm: 120, steady: false, support: 1, bpmError: Infinity, beatsPerBar: 4, firstDownbeat: 0 },
    ...{ segments: [], beats: line(0.5, 0.5).map((t) => t + 0.05 * Math.sin(t / 6)) },
  };
  const bands = {
    ...{ waveform: new Uint8Array(0), attack: new Float32Array(SECONDS * 344), attackStep: 1 / 344, attackStart: 0 },
  };
  const heard = { bands, durationSeconds: SECONDS };

  test('at half the tempo every second beat is left, at double there is one between', () => {
    const half = reread(wandering, { ratio: 2, offset: 0, beatsPerBar: 4, firstDownbeat: 1 }, heard);
    expect(half.bpm).toBe(60);
    expect(Array.from(half.beats.slice(0, 5))).toEqual(
      [0, 2, 4, 6, 8].map((i) => expect.closeTo(wandering.beats[i]!, 6)),
    );
    expect([half.firstDownbeat, half.beatsPerBar]).toEqual([1, 4]);
    const double = reread(wandering, { ratio: 0.5, offset: 0, beatsPerBar: 3, firstDownbeat: 2 }, heard);
    expect(double.bpm).toBe(240);
    // It goes on before the first beat of the grid, and the first bar stays where it is.
    const at = double.beats[double.firstDownbeat + 3 * Math.round((wandering.beats[1]! - double.beats[0]!) / 0.75)]!;
    expect([0, 1.5].some((d) => Math.abs(at - wandering.beats[1]! - d) < 0.2)).toBe(true);
    for (const t of wandering.beats) expect(Math.min(...double.beats.map((b) => Math.abs(b - t)))).toBeLessThan(1e-6);
  });

  test('half a beat later, all beats lie between, within the track', () => {
    const between = reread(wandering, { ratio: 1, offset: 6, beatsPerBar: 4, firstDownbeat: 0 }, heard);
    expect(between.beats[0]).toBeGreaterThanOrEqual(0);
    expect(between.beats.at(-1)).toBeLessThan(SECONDS);
    const middle = (wandering.beats[3]! + wandering.beats[4]!) / 2;
    expect(Math.min(...between.beats.map((b) => Math.abs(b - middle)))).toBeLessThan(1e-6);
  });
});

test('readings of few beats are none; of more their probabilities are one together, best first', () => {
  const zero = (inputs: number) => ({
    ...{ inputs, hidden: 0, bias: 0, straight: new Float32Array(0), out: new Float32Array(0) },
    ...{ weights: new Float32Array(0), biases: new Float32Array(0) },
  });
  const networks = {
    beat: { ...zero(KNOWN_OF_PERIOD), bias: 3 },
    bars: { 2: zero(pictureSize(2)), 3: { ...zero(pictureSize(3)), bias: 1 }, 4: zero(pictureSize(4)) },
  };
  const heard = { onsets: played, chroma: SILENT, firstAttack: { seconds: 0.5, after: 'nothing' } as const };
  expect(weighReadings(line(0.5, 5), heard, nothingKnown, networks)).toEqual([]);
  const readings = weighReadings(line(0.5, 0.5), heard, nothingKnown, networks);
  expect(readings.reduce((sum, r) => sum + r.probability, 0)).toBeCloseTo(1, 9);
  expect(readings[0]!.beatsPerBar).toBe(3);
  expect(readings[0]!.probability / readings.at(-1)!.probability).toBeCloseTo(Math.E, 6);
});
