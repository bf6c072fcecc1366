/**
 * The form of a track: bars are described by how loud their bands are, how dense their attacks, and which pitch
 * classes they hold, and cut into stretches that are alike inside. The cuts are the best ones by dynamic programming
 * (Bellman 1961: least squared deviation, with a price on every stretch), and lie preferably four bars apart.
 */
import { clamp, median, quantile } from '../../signal/statistics.ts';
import type { Bands } from '../rhythm/bands.ts';
import { BYTE_LEVELS, WAVEFORM_BANDS, WAVEFORM_RATE } from '../waveform.ts';
import { foldChroma, type Chroma } from '../harmony/chroma.ts';
import type { Onsets } from '../rhythm/onsets.ts';

export type SectionLabel = 'intro' | 'build' | 'main' | 'breakdown' | 'outro';

export interface Section {
  label: SectionLabel;
  startSeconds: number;
  endSeconds: number;
  /** How full it sounds beside the fullest of the track, 0 … 1. */
  level: number;
}

/** Seconds of a unit where there are no bars. */
const UNIT_SECONDS = 2;
const SHORTEST_UNITS = 4;
const LONGEST_UNITS = 160;
/** Price of a stretch, in squared deviations of a unit. */
const STRETCH_PRICE = 5;
/** What more it costs when its length is no multiple of four bars, or of two. */
const ODD_PRICE = [4, 9];
const CHROMA_WEIGHT = 0.2;
/** Levels from which on a section counts as full, and as empty. */
const FULL = 0.9;
const EMPTY = 0.5;
/** Level of the emptiest section from which on a track counts as all main. */
const EVEN = 0.9;

type Heard = { bands: Bands; onsets: Onsets; chroma: Chroma };

/** The places of from … to seconds at a rate, at least one. */
function placesOf(count: number, rate: number, from: number, to: number): [first: number, last: number] {
  const first = Math.max(0, Math.floor(from * rate));
  return [first, Math.min(count, Math.max(first + 1, Math.floor(to * rate)))];
}

/** The mean of values[from … to) seconds at a rate. */
function meanOf(values: Float32Array | Uint16Array, rate: number, from: number, to: number): number {
  const [first, last] = placesOf(values.length, rate, from, to);
  let sum = 0;
  for (let i = first; i < last; i++) sum += values[i]!;
  return last > first ? sum / (last - first) : 0;
}

/** The mean level of a band of the waveform from … to seconds. */
function meanLevel(waveform: Uint8Array, from: number, to: number, band: number): number {
  const [first, last] = placesOf(Math.floor(waveform.length / WAVEFORM_BANDS), WAVEFORM_RATE, from, to);
  let sum = 0;
  for (let i = first; i < last; i++) sum += SHARES[waveform[i * WAVEFORM_BANDS + band]!]!;
  return last > first ? sum / (last - first) : 0;
}

/** What each byte of a waveform counts: 255 for full scale. */
const SHARES = Float32Array.from(BYTE_LEVELS, (level) => 255 * level);

/** One row a unit: three levels, five densities of attacks, brightness, twelve pitch classes. */
function describe({ bands, onsets, chroma }: Heard, times: readonly number[]): Float64Array[] {
  return times.slice(0, -1).map((from, u) => {
    const to = times[u + 1]!;
    const levels = [0, 1, 2].map((b) => Math.log2(1 + meanLevel(bands.waveform, from, to, b)));
    const flux = onsets.bands.map((band) => Math.sqrt(meanOf(band, onsets.frameRate, from, to)));
    const first = Math.max(0, Math.round(from * chroma.frameRate));
    const pitch = foldChroma(
      chroma.frames,
      first,
      Math.max(0, Math.min(chroma.frameCount, Math.round(to * chroma.frameRate)) - first),
      chroma.tuningCents,
    );
    const total = pitch.reduce((a, b) => a + b, 0) || 1;
    return Float64Array.from([
      ...levels,
      ...flux,
      Math.log2(1 + meanOf(onsets.centroidHz, onsets.frameRate, from, to)),
      ...pitch.map((v) => v / total),
    ]);
  });
}

const LEVELS = 9;

/** Share of a level's height that counts as one unit at the least, so that what hardly differs stays small. */
const UNIT_SHARE = 0.14;
/** Units beyond which a bar does not stand out more: a silent one must not make all others look alike. */
const MAX_UNITS = 3;

/** Distance from the median in units of the usual distance, column by column. Pitch classes share one unit. */
function standardise(rows: Float64Array[]): Float64Array[] {
  const width = rows[0]!.length;
  const columns = Array.from({ length: width }, (_, k) => rows.map((r) => r[k]!));
  const middle = columns.map(median);
  const unit = columns.map((values, k) =>
    Math.max(1e-6, UNIT_SHARE * quantile(values, 0.9), 1.48 * median(values.map((v) => Math.abs(v - middle[k]!)))),
  );
  const pitchUnit = Math.max(0.02, unit.slice(LEVELS).reduce((a, b) => a + b, 0) / (width - LEVELS));
  return rows.map((r) =>
    r.map(
      (v, k) =>
        clamp((v - middle[k]!) / (k < LEVELS ? unit[k]! : pitchUnit), -MAX_UNITS, MAX_UNITS) *
        (k < LEVELS ? 1 : CHROMA_WEIGHT),
    ),
  );
}

/** Starts of the stretches that fit rows best, the first 0. */
export function cut(rows: Float64Array[], barsCount: boolean): number[] {
  const n = rows.length,
    width = rows[0]?.length ?? 0;
  if (n < 2 * SHORTEST_UNITS) return [0];
  // Running sums, so that the deviation of any stretch costs a few operations.
  const sums = new Float64Array((n + 1) * width),
    squares = new Float64Array(n + 1);
  rows.forEach((r, i) => {
    let square = 0;
    r.forEach((v, k) => {
      sums[(i + 1) * width + k] = sums[i * width + k]! + v;
      square += v * v;
    });
    squares[i + 1] = squares[i]! + square;
  });
  const deviation = (from: number, to: number): number => {
    let whole = 0;
    for (let k = 0; k < width; k++) whole += (sums[to * width + k]! - sums[from * width + k]!) ** 2;
    return squares[to]! - squares[from]! - whole / (to - from);
  };
  const best = new Float64Array(n + 1).fill(Infinity),
    back = new Int32Array(n + 1);
  best[0] = 0;
  for (let to = SHORTEST_UNITS; to <= n; to++) {
    for (let from = Math.max(0, to - LONGEST_UNITS); from <= to - SHORTEST_UNITS; from++) {
      if (best[from] === Infinity) continue;
      const length = to - from;
      const odd = !barsCount || to === n || length % 4 === 0 ? 0 : length % 2 === 0 ? ODD_PRICE[0]! : ODD_PRICE[1]!;
      const price = best[from]! + deviation(from, to) + STRETCH_PRICE + odd;
      if (price < best[to]!) {
        best[to] = price;
        back[to] = from;
      }
    }
  }
  const starts: number[] = [];
  for (let at = n; at > 0; at = back[at]!) starts.push(back[at]!);
  return starts.reverse();
}

/**
 * Finds the sections between the audible edges.
 * @param bars starts of bars in seconds; fewer than eight count as none
 */
export function findSections(heard: Heard, bars: ArrayLike<number>, start: number, end: number): Section[] {
  if (end - start < 12) return end > start ? [{ label: 'main', startSeconds: start, endSeconds: end, level: 1 }] : [];
  const inside = Array.from(bars).filter((t) => t > start - 0.3 && t < end - 0.3);
  const counted = inside.length >= 2 * SHORTEST_UNITS;
  const times = counted
    ? [...inside, end]
    : Array.from({ length: Math.floor((end - start) / UNIT_SECONDS) + 1 }, (_, i) => start + i * UNIT_SECONDS);
  const rows = describe(heard, times);
  const starts = cut(standardise(rows), counted);
  const levels = levelsOf(rows, starts);
  const labels = labelsOf(levels);
  return starts.map((from, i) => ({
    label: labels[i]!,
    startSeconds: i === 0 ? start : times[from]!,
    endSeconds: i + 1 < starts.length ? times[starts[i + 1]!]! : end,
    level: Math.round(levels[i]! * 100) / 100,
  }));
}

/** How full each stretch is beside the fullest: its levels and attacks together. */
function levelsOf(rows: Float64Array[], starts: number[]): number[] {
  const full = starts.map((from, i) => {
    const to = starts[i + 1] ?? rows.length;
    let sum = 0;
    for (let u = from; u < to; u++) {
      const r = rows[u]!;
      sum += r[0]! + r[1]! + r[2]! + 1.2 * (r[3]! + r[4]! + r[5]! + r[6]! + r[7]!);
    }
    return sum / (to - from);
  });
  const top = Math.max(...full);
  return full.map((v) => (top > 0 ? clamp(v / top, 0, 1) : 1));
}

/**
 * Plain names from levels: what is full is main; what comes before and after is intro and outro, between lie breaks
 * and builds.
 */
export function labelsOf(levels: readonly number[]): SectionLabel[] {
  const floor = Math.min(...levels);
  // A track that hardly varies is all main; else the border lies within its own range.
  const full = floor > EVEN ? 0 : Math.min(Math.max(...levels), Math.max(FULL, floor + (1 - floor) * EMPTY));
  const mains = levels.map((v) => v >= full);
  const first = mains.indexOf(true),
    last = mains.lastIndexOf(true);
  return levels.map((level, i) => {
    if (mains[i]) return 'main';
    if (i < first) return i > 0 && level > levels[i - 1]! + 0.04 && i === first - 1 ? 'build' : 'intro';
    if (i > last) return 'outro';
    return level > levels[i - 1]! ? 'build' : 'breakdown';
  });
}

/** Where the full band (or the voice over it) enters, and where the outro begins; null where there is no such part. */
export function partsOf(sections: readonly Section[]): {
  introEndSeconds: number | null;
  outroStartSeconds: number | null;
} {
  const first = sections.findIndex((s) => s.label === 'main');
  const last = sections.findLastIndex((s) => s.label === 'main');
  return {
    introEndSeconds: first > 0 ? sections[first]!.startSeconds : null,
    outroStartSeconds: last >= 0 && last < sections.length - 1 ? sections[last]!.endSeconds : null,
  };
}
