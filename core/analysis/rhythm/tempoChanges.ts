/**
 * Tracks whose tempo changes for good on the way: found in the path of local periods, and each stretch laid on its
 * own.
 */
import { median } from '../../signal/statistics.ts';
import type { Bands } from './bands.ts';
import type { Chroma } from '../harmony/chroma.ts';
import type { Features } from '../features.ts';
import type { BeatGrid } from './beatGrid.ts';
import type { Onsets } from './onsets.ts';
import { followPeriod, RATIOS } from './beatTracking.ts';

type Heard = Pick<Features, 'bands' | 'onsets' | 'chroma' | 'durationSeconds'>;

/** Seconds on either side of a change in which the tempo must hold. */
const AROUND = 6;
/** Natural logarithm of the smallest change that counts. */
const SMALLEST = 0.033;
/** How far local periods may lie from their median on either side, as a share. */
const CALM = 0.014;
/** Seconds that a stretch lasts at the least. */
const SHORTEST = 9;
/** Seconds around a found change in which it is placed on a beat. */
const REACH = 7;

/**
 * Seconds at which the tempo changes for good.
 * @param strengths of repetition at the RATIOS of one period, one row a second
 */
export function changesOf(strengths: Float64Array[]): { changes: number[]; ratios: number[] } {
  const path = followPeriod(strengths, 'changes');
  const found = jumpsOf(path.map((j) => RATIOS[j]!));
  const edges = [0, ...found, path.length];
  const ratios = edges.slice(0, -1).map((from, i) => believedRatio(strengths, path, from, edges[i + 1]!));
  const changes = found.filter((_, i) => Math.abs(Math.log(ratios[i]! / ratios[i + 1]!)) > SMALLEST);
  return { changes, ratios: ratios.filter((r, i) => i === 0 || Math.abs(Math.log(r / ratios[i - 1]!)) > SMALLEST) };
}

const CENTRE = RATIOS.length >> 1;

/**
 * The ratio of a stretch, unless the period of the whole track repeats there as well: three against four is
 * found in many a steady rhythm.
 */
function believedRatio(strengths: Float64Array[], path: readonly number[], from: number, to: number): number {
  const ratio = RATIOS[path[(from + to) >> 1]!]!;
  let own = 0,
    centre = 0;
  for (let s = from; s < to; s++) {
    own += strengths[s]![path[s]!]!;
    centre += Math.max(strengths[s]![CENTRE - 1]!, strengths[s]![CENTRE]!, strengths[s]![CENTRE + 1]!);
  }
  const crossed = [3 / 4, 4 / 3].some((r) => Math.abs(ratio / r - 1) < 0.016);
  const share = centre / Math.max(1e-9, own),
    strong = own / (to - from);
  return strong > (crossed ? 0.8 : 0.6) && share < (crossed ? 0.3 : 0.6) ? ratio : 1;
}

function jumpsOf(ratios: readonly number[]): number[] {
  const found: { at: number; size: number }[] = [];
  for (let s = SHORTEST; s <= ratios.length - SHORTEST; s++) {
    const before = ratios.slice(s - AROUND - 1, s - 1),
      after = ratios.slice(s + 1, s + AROUND + 1);
    const a = median(before),
      b = median(after),
      size = Math.abs(Math.log(b / a));
    const calm = (values: number[], middle: number): boolean =>
      median(values.map((v) => Math.abs(v / middle - 1))) < CALM;
    if (size > SMALLEST && calm(before, a) && calm(after, b)) found.push({ at: s, size });
  }
  // Of neighbours that stand for one change, the middle one of the largest.
  const out: number[] = [];
  for (let i = 0; i < found.length;) {
    let end = i;
    while (end + 1 < found.length && found[end + 1]!.at - found[end]!.at <= 2) end++;
    const group = found.slice(i, end + 1),
      top = Math.max(...group.map((g) => g.size));
    const best = group.filter((g) => g.size > top * 0.9);
    const at = best[best.length >> 1]!.at;
    if (at - (out.at(-1) ?? 0) >= SHORTEST) out.push(at);
    i = end + 1;
  }
  return out;
}

/** The part of what was heard between two times; times in it begin at 0. */
export function sliceOf(
  heard: Heard,
  novelty: Float32Array,
  from: number,
  to: number,
): { heard: Heard; novelty: Float32Array } {
  const { bands, onsets, chroma } = heard;
  const range = (rate: number): [number, number] => [Math.round(from * rate), Math.round(to * rate)];
  const [firstOnset, lastOnset] = range(onsets.frameRate),
    [firstChroma, lastChroma] = range(chroma.frameRate),
    [firstAttack, lastAttack] = range(1 / bands.attackStep);
  const fine = chroma.frameCount > 0 ? chroma.frames.length / chroma.frameCount : 0;
  const cutOnsets: Onsets = {
    ...onsets,
    bands: onsets.bands.map((b) => b.subarray(firstOnset, lastOnset)),
    centroidHz: onsets.centroidHz.subarray(firstOnset, lastOnset),
  };
  const last = Math.min(chroma.frameCount, lastChroma);
  const cutChroma: Chroma = {
    ...chroma,
    frames: chroma.frames.subarray(firstChroma * fine, last * fine),
    bass: chroma.bass.subarray(firstChroma * fine, last * fine),
    frameCount: Math.max(0, last - firstChroma),
  };
  const cutBands: Bands = { ...bands, attack: bands.attack.subarray(firstAttack, lastAttack) };
  return {
    heard: { bands: cutBands, onsets: cutOnsets, chroma: cutChroma, durationSeconds: to - from },
    novelty: novelty.subarray(firstOnset, lastOnset),
  };
}

/** Beats carried on by the interval of their ends, `count` on either side. */
function carriedOn(beats: readonly number[], count: number): number[] {
  const first = beats[1]! - beats[0]!,
    last = beats.at(-1)! - beats.at(-2)!;
  return [
    ...Array.from({ length: count }, (_, i) => beats[0]! - (count - i) * first),
    ...beats,
    ...Array.from({ length: count }, (_, i) => beats.at(-1)! + (i + 1) * last),
  ];
}

/** Where between two stretches one grid hands over to the next: the beat before and after which attacks follow best. */
function handOver(
  before: readonly number[],
  after: readonly number[],
  about: number,
  strength: (time: number) => number,
): number {
  const first = carriedOn(before, 24),
    second = carriedOn(after, 24);
  const mean = (times: number[]): number =>
    times.length ? times.reduce((sum, t) => sum + Math.min(1.5, strength(t)), 0) / times.length : 0;
  let best = about,
    bestValue = -1;
  for (const t of second) {
    if (Math.abs(t - about) > REACH) continue;
    const value =
      mean(first.filter((b) => b >= t - REACH && b < t - 0.1)) + mean(second.filter((b) => b >= t && b < t + REACH));
    if (value > bestValue) {
      bestValue = value;
      best = t;
    }
  }
  return best;
}

/**
 * Lays each stretch between changes with a grid of its own and joins them.
 * @param lay lays one stretch
 * @param strength of the attack at a time
 * @returns null without changes, or where a stretch has no beats
 */
export function layChanging(
  heard: Heard,
  novelty: Float32Array,
  { strengths, period }: { strengths: Float64Array[]; period: number },
  lay: (heard: Heard, novelty: Float32Array, bpm: number) => BeatGrid,
  strength: (time: number) => number,
): BeatGrid | null {
  const { changes, ratios } = changesOf(strengths);
  if (changes.length === 0) return null;
  const edges = [0, ...changes, heard.durationSeconds];
  const stretches = changes.concat(heard.durationSeconds).map((to, i) => {
    const from = edges[i]!;
    const own = sliceOf(heard, novelty, from, to);
    const grid = lay(own.heard, own.novelty, 60 / (period * ratios[i]!));
    return { from, to, grid, beats: Array.from(grid.beats, (t) => t + from) };
  });
  if (stretches.some((s) => s.beats.length < 8)) return null;
  const joins = stretches.slice(1).map((s, i) => handOver(stretches[i]!.beats, s.beats, s.from, strength));
  const beats: number[] = [];
  stretches.forEach(({ beats: own, grid }, i) => {
    const from = i === 0 ? -Infinity : joins[i - 1]!,
      to = joins[i] ?? Infinity;
    const gap = 30 / grid.bpm;
    for (const t of carriedOn(own, 24))
      if (
        t >= 0 &&
        t < heard.durationSeconds &&
        t >= from - 1e-6 &&
        t < to - (to < Infinity ? gap : 0) &&
        (i > 0 || t >= own[0]! - 1e-6) &&
        (i < stretches.length - 1 || t <= own.at(-1)! + 1e-6)
      )
        beats.push(t);
  });
  const longest = stretches.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a)).grid;
  const [first] = stretches;
  return {
    ...longest,
    steady: false,
    bpmError: Infinity,
    beats: Float64Array.from(beats),
    support: stretches.reduce((sum, s) => sum + s.grid.support, 0) / stretches.length,
    firstDownbeat: first!.grid.firstDownbeat,
    beatsPerBar: first!.grid.beatsPerBar,
    segments: stretches.map((s, i) => ({ startSeconds: i === 0 ? 0 : joins[i - 1]!, bpm: s.grid.bpm })),
  };
}
