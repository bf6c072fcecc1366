/**
 * Beats of a track whose tempo wanders: the local period is followed by the strongest path through a tempogram
 * (Grosche & Müller 2011), and beats by dynamic programming (Ellis 2007) over how much each moment sounds like
 * a beat in its bar, judged by the weights of the meter on the sixteenths around it.
 */
import { autocorrelation } from '../../signal/fft.ts';
import { SLOTS } from './meter.ts';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';
import { DOWNBEAT_WEIGHTS } from '../fitted/weights.ts';

const WINDOW_SECONDS = 8;
const STEP_SECONDS = 1;
/** Local periods looked at, as shares of the track's: its own in the middle. */
export const RATIOS = Float64Array.from({ length: 73 }, (_, i) => 1.009 ** (i - 36));
/** How many steps off a tempo may wander, and that it may change by. */
const REACHES = { wanders: 18, changes: 36 };
/** What a change of tempo costs, however far it goes. */
const JUMP_COST = { wanders: Infinity, changes: 2 };
/** What a step of one ratio costs from one second to the next. */
const RATIO_COST = 0.02;
/** Beats around a moment that are listened to. */
const REACH_BEATS = 2;
/** How much a beat that comes early or late costs, per squared natural logarithm of its distance. */
const TIMING_COST = 6000;

/** How strongly the novelty repeats at each of the RATIOS of a period, one row a second. */
export function strengthsOf(novelty: Float32Array, frameRate: number, period: number): Float64Array[] {
  const size = Math.round(WINDOW_SECONDS * frameRate);
  const seconds = Math.max(1, Math.ceil(novelty.length / frameRate / STEP_SECONDS));
  const maxLag = Math.ceil(period * RATIOS.at(-1)! * 4 * frameRate) + 2;
  return Array.from({ length: seconds }, (_, s) => {
    const middle = Math.round((s + 0.5) * STEP_SECONDS * frameRate);
    const from = Math.max(0, Math.min(novelty.length - size, middle - (size >> 1)));
    const acf = autocorrelation(novelty.subarray(from, from + size), maxLag);
    const energy = acf[0]! || 1;
    const read = (lag: number): number => {
      const low = Math.floor(lag);
      return ((acf[low]! + (acf[low + 1]! - acf[low]!) * (lag - low)) / energy) * (size / Math.max(1, size - lag));
    };
    return RATIOS.map((r) => {
      const lag = period * r * frameRate;
      return read(lag) + 0.8 * read(lag * 2) + 0.6 * read(lag * 4);
    });
  });
}

/** The local period as one of the RATIOS, one index a second, of a tempo that wanders or of one that may change. */
export function followPeriod(strengths: Float64Array[], how: 'wanders' | 'changes'): number[] {
  const first = (RATIOS.length >> 1) - REACHES[how],
    end = RATIOS.length - first;
  return strongestPath(
    strengths.map((row) => row.subarray(first, end)),
    JUMP_COST[how],
  ).map((j) => first + j);
}

/** Local periods in seconds for such a path. */
export const periodsOf = (path: readonly number[], period: number): Float64Array =>
  Float64Array.from(path, (j) => period * RATIOS[j]!);

/** The path through rows of strengths that gathers most, with a price on jumps. */
function strongestPath(rows: Float64Array[], jumpCost: number): number[] {
  const width = rows[0]!.length;
  let sums = rows[0]!.slice();
  const backs: Int32Array[] = [];
  for (const row of rows.slice(1)) {
    const next = new Float64Array(width),
      back = new Int32Array(width);
    const top = sums.indexOf(Math.max(...sums));
    for (let j = 0; j < width; j++) {
      let best = sums[top]! - jumpCost;
      back[j] = top;
      for (let i = Math.max(0, j - 6); i <= Math.min(width - 1, j + 6); i++) {
        const value = sums[i]! - RATIO_COST * (i - j) ** 2;
        if (value > best) {
          best = value;
          back[j] = i;
        }
      }
      next[j] = best + row[j]!;
    }
    backs.push(back);
    sums = next;
  }
  const path = [sums.indexOf(Math.max(...sums))];
  for (const back of backs.reverse()) path.push(back[path.at(-1)!]!);
  return path.reverse();
}

/** What each onset band weighs on the slots of a beat: the bar's weights, its beats taken together. */
function beatWeights(beatsPerBar: 3 | 4): Float64Array {
  const slots = beatsPerBar * SLOTS;
  const out = new Float64Array(ONSET_BAND_COUNT * SLOTS);
  for (let b = 0; b < ONSET_BAND_COUNT; b++)
    for (let s = 0; s < slots; s++)
      out[b * SLOTS + (s % SLOTS)]! += DOWNBEAT_WEIGHTS[beatsPerBar][b * slots + s]! / beatsPerBar;
  return out;
}

/** How much each frame sounds like a beat, standardised. */
function beatness(onsets: Onsets, novelty: Float32Array, periods: Float64Array, beatsPerBar: 3 | 4): Float64Array {
  const { bands, frameRate } = onsets;
  const n = novelty.length;
  const weights = beatWeights(beatsPerBar);
  const wide = bands.map((band) => widened(band));
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const slot = (periods[Math.min(periods.length - 1, Math.floor(i / frameRate / STEP_SECONDS))]! * frameRate) / SLOTS;
    let sum = 0;
    for (let k = -REACH_BEATS * SLOTS; k < REACH_BEATS * SLOTS; k++) {
      const at = Math.round(i + k * slot);
      if (at < 0 || at >= n) continue;
      const s = ((k % SLOTS) + SLOTS) % SLOTS;
      for (let b = 0; b < ONSET_BAND_COUNT; b++) sum += weights[b * SLOTS + s]! * wide[b]![at]!;
    }
    out[i] = sum;
  }
  standardise(out);
  // The attack itself says where exactly.
  for (let i = 0; i < n; i++) out[i] = out[i]! + 0.6 * novelty[i]!;
  return out;
}

/** The largest of five neighbouring values, in units of the series' spread. */
function widened(band: Float32Array): Float64Array {
  let squares = 0;
  for (const v of band) squares += v * v;
  const unit = Math.sqrt(squares / Math.max(1, band.length)) || 1;
  const out = new Float64Array(band.length);
  for (let i = 0; i < out.length; i++) {
    let top = 0;
    for (let k = Math.max(0, i - 2); k <= Math.min(band.length - 1, i + 2); k++) if (band[k]! > top) top = band[k]!;
    out[i] = top / unit;
  }
  return out;
}

function standardise(values: Float64Array): void {
  const mean = values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
  const deviation = Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / Math.max(1, values.length)) || 1;
  for (let i = 0; i < values.length; i++) values[i] = (values[i]! - mean) / deviation;
}

/** Beat times in seconds, for local periods as followPeriod gives them. */
export function trackBeats(onsets: Onsets, novelty: Float32Array, periods: Float64Array, beatsPerBar: 3 | 4): number[] {
  const { frameRate } = onsets;
  const strength = beatness(onsets, novelty, periods, beatsPerBar);
  const n = strength.length;
  const score = new Float64Array(n),
    back = new Int32Array(n).fill(-1);
  let costs = new Float64Array(0),
    lag = 0,
    first = 0;
  for (let i = 0; i < n; i++) {
    const local = periods[Math.min(periods.length - 1, Math.floor(i / frameRate / STEP_SECONDS))]! * frameRate;
    if (local !== lag) {
      lag = local;
      first = Math.round(lag * 0.75);
      costs = Float64Array.from(
        { length: Math.round(lag * 1.33) - first + 1 },
        (_, k) => TIMING_COST * Math.log((first + k) / lag) ** 2,
      );
    }
    let best = 0,
      bestFrom = -1;
    for (let d = first, to = Math.min(i, first + costs.length - 1); d <= to; d++) {
      const value = score[i - d]! - costs[d - first]!;
      if (value > best) {
        best = value;
        bestFrom = i - d;
      }
    }
    score[i] = strength[i]! + best;
    back[i] = bestFrom;
  }
  let end = n - 1;
  for (let i = Math.max(0, n - Math.round(periods.at(-1)! * frameRate * 1.2)); i < n; i++)
    if (score[i]! > score[end]!) end = i;
  const beats: number[] = [];
  for (let i = end; i >= 0; i = back[i]!) beats.push(i / frameRate);
  return beats.reverse();
}
