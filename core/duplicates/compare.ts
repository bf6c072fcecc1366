/**
 * What two recordings are to each other, by their envelopes over the whole length: the same, one of them cut short, an
 * edit (a jump inside), another version made of the same material, or nothing. Fingerprints only propose whom to
 * compare.
 */
import { equalBitsAt } from '../analysis/fingerprint.ts';
import { WAVEFORM_BANDS as BANDS, WAVEFORM_RATE } from '../analysis/waveform.ts';
import {
  audible,
  ENVELOPE_RATE,
  envelopeOf,
  FLOOR,
  levelsOf,
  likelyOffsets,
  type Envelope,
  type Heard,
} from './envelope.ts';

/** What is known of how a recording sounds. */
export interface Sound {
  /** As bytes (`core/analysis/waveform`). */
  waveform: Uint8Array;
  /** Words of `core/analysis/fingerprint`; null where there are none. */
  fingerprint: Uint32Array | null;
}

export type Relation = 'same recording' | 'cut short' | 'edit' | 'another version' | 'different';

export interface Comparison {
  relation: Relation;
  /** Seconds by which the second has to be moved to lie on the first. */
  offsetSeconds: number;
  /** Decibels by which the second is louder. */
  gain: number;
  /** Share of the time both are heard in which they are alike. */
  alike: number;
  /** Seconds of the first that the second lacks at its start and end, and the other way round. */
  lacks: { start: number; end: number };
  has: { start: number; end: number };
  /** Where on the first they part, in seconds; null where they do not. */
  partsAt: number | null;
}

/** Columns of the waveform in one of the envelope. */
const STEP = WAVEFORM_RATE / ENVELOPE_RATE;
/** Compared by windows of this length, in seconds, half over each other. */
const WINDOW_SECONDS = 2;
const WINDOW = WINDOW_SECONDS * ENVELOPE_RATE,
  HOP = WINDOW / 2;
/** Windows are alike up to this mean difference of levels, in dB. */
export const ALIKE_DB = 1.75;
/** One band alone may differ by so much, in dB: else a part is missing. */
const BAND_DB = 3.2;
/** Differences count up to this, in dB. */
const MAX_DB = 12;
/** So many offsets are looked at roughly, since beats lie well on each other at many; and so many closely. */
const MAX_OFFSETS = 48,
  MAX_LAID = 10;
/** Levels do not tell keys apart; fingerprints of one recording have at least this share of equal bits. */
const EQUAL_BITS = 0.8;
/** Alike in this share of the time, and never apart for longer than that, in seconds: one unbroken alignment. */
const UNBROKEN = 0.93,
  MAX_APART = 4;
/** The same recording lacks at most this at either end, in seconds. */
export const MAX_MISSING = 10;
/** A stretch of an edit is at least so long, in seconds, and all of them make up this share of the shorter. */
const STRETCH_SECONDS = 8,
  EDIT_SHARE = 0.8;
/** Another version is alike in at least this share of the shorter. */
const VERSION_SHARE = 0.25;

/** Two recordings laid on each other at an offset. */
interface Laid {
  /** In columns of the waveform, 100 a second. */
  offset: number;
  gain: number;
  /** Per window from `from` on: alike or not; null where nothing is heard. */
  windows: (boolean | null)[];
  /** Column of the first's envelope with which the first window begins. */
  from: number;
  alike: number;
}

/** Compares two recordings. */
export function compareSounds(one: Sound, other: Sound): Comparison {
  const first = levelsOf(one.waveform),
    second = levelsOf(other.waveform);
  const a = envelopeOf(first),
    b = envelopeOf(second);
  // The second is cut so that its columns begin where those of the first do: there are as many ways as steps.
  const cut = Array.from({ length: STEP }, (_, from) => (from === 0 ? b : null));
  const cutAt = (from: number): Envelope => (cut[from] ??= envelopeOf(second, from));
  const [ours, theirs] = [audible(a), audible(b)];
  const offsets = [ours.from - theirs.from, ours.to - theirs.to, ...likelyOffsets(a, b, MAX_OFFSETS)];
  const laid = closest(first.levels, second.levels, offsets)
    .map((offset) => lay(a, cutAt, offset, Math.max(first.floor, second.floor)))
    .sort((x, y) => y.alike - x.alike);
  const best = laid[0];
  if (!best || best.alike === 0) return NOTHING;
  const relative = judge(ours, theirs, laid as [Laid, ...Laid[]]);
  const comparison = { ...relative, gain: relative.gain + second.topDb - first.topDb };
  const { fingerprint: x } = one,
    { fingerprint: y } = other;
  const equal = x && y ? equalBitsAt(x, y, comparison.offsetSeconds) : null;
  if (equal === null || equal >= EQUAL_BITS || comparison.relation === 'different') return comparison;
  return { ...comparison, relation: 'another version', partsAt: comparison.partsAt ?? 0 };
}

const NOTHING: Comparison = {
  relation: 'different',
  offsetSeconds: 0,
  gain: 0,
  alike: 0,
  lacks: { start: 0, end: 0 },
  has: { start: 0, end: 0 },
  partsAt: null,
};

/** Of some offsets, in columns of the envelope, those at which most is alike, to a hundredth of a second. */
function closest(first: Float32Array, second: Float32Array, offsets: readonly number[]): number[] {
  const refined = offsets.map((coarse) => {
    let best = { offset: coarse * STEP, likeness: -1 };
    for (let fine = -STEP; fine <= STEP; fine++) {
      const offset = coarse * STEP + fine,
        likeness = likenessAt(first, second, offset);
      if (likeness > best.likeness) best = { offset, likeness };
    }
    return best;
  });
  // What is made of loops lies well on itself at every bar: then the offset at which most lies on each other is right.
  const length = Math.min(first.length, second.length) / BANDS;
  const overlap = (offset: number): number =>
    (Math.min(first.length / BANDS, second.length / BANDS + offset) - Math.max(0, offset)) / length;
  const rank = ({ offset, likeness }: { offset: number; likeness: number }): number =>
    likeness - OVERLAP_COUNTS * (1 - overlap(offset));
  refined.sort((x, y) => rank(y) - rank(x));
  const apart: number[] = [];
  for (const { offset } of refined)
    if (apart.length < MAX_LAID && apart.every((other) => Math.abs(other - offset) > STEP)) apart.push(offset);
  return apart;
}

/** Without any overlap so much of likeness would be taken off. */
const OVERLAP_COUNTS = 0.2;
/** So many columns are looked at there. */
const LOOKED_AT = 900;

/** How alike some columns are at an offset, the gain left out. */
function likenessAt(first: Float32Array, second: Float32Array, offset: number): number {
  const from = Math.max(0, offset),
    to = Math.min(first.length / BANDS, second.length / BANDS + offset);
  const stride = Math.max(1, Math.floor((to - from) / LOOKED_AT));
  let sum = 0,
    cross = 0,
    other = 0;
  for (let i = from; i < to; i += stride)
    for (let band = 0; band < BANDS; band++) {
      const x = first[i * BANDS + band]!,
        y = second[(i - offset) * BANDS + band]!;
      sum += x * x;
      other += y * y;
      cross += x * y;
    }
  return sum * other === 0 ? 0 : cross / Math.sqrt(sum * other);
}

/**
 * Lays the second on the first and says window by window where they are alike.
 * @param offset in hundredths of a second
 * @param known of one of them nothing is known below this, in dB below its loudest
 */
function lay(a: Envelope, cutAt: (from: number) => Envelope, offset: number, known: number): Laid {
  const shift = Math.ceil(offset / STEP),
    b = cutAt(shift * STEP - offset);
  const from = Math.max(0, shift),
    to = Math.min(a.length / BANDS, b.length / BANDS + shift);
  const gain = medianDifference(a, b, shift, from, to);
  const windows: (boolean | null)[] = [];
  let alike = 0;
  for (let start = from; start + WINDOW <= to; start += HOP) {
    const same = isAlike(a, b, shift, start, gain, known);
    windows.push(same);
    if (same) alike++;
  }
  return { offset, gain, windows, from, alike };
}

function medianDifference(a: Envelope, b: Envelope, shift: number, from: number, to: number): number {
  const differences: number[] = [];
  const stride = Math.max(1, Math.floor((to - from) / 1500));
  for (let i = from; i < to; i += stride)
    for (let band = 0; band < BANDS; band++) {
      const x = a[i * BANDS + band]!,
        y = b[(i - shift) * BANDS + band]!;
      if (x > FLOOR + 6 && y > FLOOR + 6) differences.push(y - x);
    }
  differences.sort((x, y) => x - y);
  return differences[differences.length >> 1] ?? 0;
}

/** A limiter, or an encoder, may make a window louder or quieter as a whole by so much, in dB. */
const WINDOW_DB = 1;

/** Does a window sound alike? null where neither is heard. */
function isAlike(a: Envelope, b: Envelope, shift: number, start: number, gain: number, known: number): boolean | null {
  // Of the quieter one nothing is known below the floor, so nothing is compared below it.
  const floor = Math.max(known, known - gain) + 3;
  const differences: number[] = [],
    bias = [0, 0, 0],
    counts = [0, 0, 0];
  for (let band = 0; band < BANDS; band++)
    for (let i = start; i < start + WINDOW; i++) {
      const x = Math.max(floor, a[i * BANDS + band]!),
        y = Math.max(floor, b[(i - shift) * BANDS + band]! - gain);
      if (x === floor && y === floor) continue;
      const difference = Math.max(-MAX_DB, Math.min(MAX_DB, y - x));
      differences.push(difference);
      bias[band]! += difference;
      counts[band]!++;
    }
  if (differences.length < WINDOW / 4) return null;
  differences.sort((x, y) => x - y);
  const whole = Math.max(-WINDOW_DB, Math.min(WINDOW_DB, differences[differences.length >> 1]!));
  let apart = 0;
  for (const difference of differences) apart += Math.abs(difference - whole);
  if (apart / differences.length > ALIKE_DB) return false;
  return bias.every((sum, band) => counts[band]! < WINDOW / 4 || Math.abs(sum / counts[band]! - whole) <= BAND_DB);
}

/** @param ours where each is heard */
function judge(ours: Heard, theirs: Heard, laid: [Laid, ...Laid[]]): Comparison {
  const [best] = laid;
  const offsetSeconds = best.offset / 100;
  const start = { ours: ours.from / ENVELOPE_RATE, theirs: theirs.from / ENVELOPE_RATE + offsetSeconds },
    end = { ours: ours.to / ENVELOPE_RATE, theirs: theirs.to / ENVELOPE_RATE + offsetSeconds };
  const lacks = { start: Math.max(0, start.theirs - start.ours), end: Math.max(0, end.ours - end.theirs) },
    has = { start: Math.max(0, start.ours - start.theirs), end: Math.max(0, end.theirs - end.ours) };
  const heard = best.windows.filter((w) => w !== null).length;
  const apart = longestApart(best);
  const shorter = Math.min(ours.to - ours.from, theirs.to - theirs.from) / ENVELOPE_RATE;
  const alike = heard ? best.alike / heard : 0;
  const common = { offsetSeconds, gain: best.gain, alike, lacks, has };
  const missing = Math.max(lacks.start, lacks.end, has.start, has.end);
  const overlap = (best.windows.length * HOP) / ENVELOPE_RATE;
  if (alike >= UNBROKEN && apart.seconds <= MAX_APART && overlap >= Math.min(shorter * 0.8, 30))
    return { ...common, relation: missing <= MAX_MISSING ? 'same recording' : 'cut short', partsAt: null };
  const partsAt = apart.seconds > 0 ? apart.at : null;
  if (isEdit(laid, shorter)) return { ...common, relation: 'edit', partsAt };
  const share = (best.alike * HOP) / ENVELOPE_RATE / Math.max(1, shorter);
  return { ...common, relation: share >= VERSION_SHARE ? 'another version' : 'different', partsAt };
}

/** The longest time that two are apart, and where it begins on the first, in seconds. */
function longestApart({ windows, from }: Laid): { seconds: number; at: number } {
  let longest = { seconds: 0, at: 0 },
    began = -1;
  for (let i = 0; i <= windows.length; i++) {
    const isApart = i < windows.length && windows[i] === false;
    if (isApart && began < 0) began = i;
    if (isApart || began < 0) continue;
    const seconds = ((i - began) * HOP) / ENVELOPE_RATE;
    if (seconds > longest.seconds) longest = { seconds, at: (from + began * HOP) / ENVELOPE_RATE };
    began = -1;
  }
  return longest;
}

/** Stretches at which two are alike, in windows of the first, from and to. */
function stretches({ windows, from }: Laid): [number, number][] {
  const out: [number, number][] = [];
  const first = Math.round(from / HOP);
  let began = -1;
  for (let i = 0; i <= windows.length; i++) {
    const alike = i < windows.length && windows[i] === true;
    if (alike && began < 0) began = i;
    if (alike || began < 0) continue;
    if (((i - began) * HOP) / ENVELOPE_RATE >= STRETCH_SECONDS) out.push([first + began, first + i]);
    began = -1;
  }
  return out;
}

/** Do stretches at several offsets make up most of the shorter? */
function isEdit(laid: readonly Laid[], shorter: number): boolean {
  const taken = new Set<number>();
  let used = 0;
  for (const one of laid) {
    let fresh = 0;
    for (const [from, to] of stretches(one))
      for (let w = from; w < to; w++) {
        if (!taken.has(w)) fresh++;
        taken.add(w);
      }
    if ((fresh * HOP) / ENVELOPE_RATE >= STRETCH_SECONDS) used++;
  }
  return used >= 2 && (taken.size * HOP) / ENVELOPE_RATE >= EDIT_SHARE * shorter;
}
