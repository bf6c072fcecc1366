/**
 * Beats of a track whose tempo wanders: the local period is followed by the strongest path through a tempogram
 * (Grosche & Müller 2011), and beats by dynamic programming over the onset function (Ellis 2007). Which of the beats
 * that are found so are heard as beats is for the readings to say.
 */
import { autocorrelation } from '../../signal/fft.ts';

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
/** What the onset function counts beside that. */
const ONSET_WEIGHT = 1.2;
/** How much a beat that comes early or late costs, per squared natural logarithm of its distance. */
const TIMING_COST = 6000;

/** How strongly the novelty repeats at each of the RATIOS of a period, one row a second. */
export function strengthsOf(novelty: Float32Array, frameRate: number, period: number): Float64Array[] {
  const size = Math.round(WINDOW_SECONDS * frameRate);
  const seconds = Math.max(1, Math.ceil(novelty.length / frameRate / STEP_SECONDS));
  const maxLag = Math.ceil(period * RATIOS.at(-1)! * 4 * frameRate) + 2;
  const rows = new Float64Array(seconds * RATIOS.length),
    acf = new Float64Array(maxLag + 1);
  const repeats = (lag: number): number => {
    const low = Math.floor(lag);
    return (acf[low]! + (acf[low + 1]! - acf[low]!) * (lag - low)) * (size / Math.max(1, size - lag));
  };
  return Array.from({ length: seconds }, (_, s) => {
    const middle = Math.round((s + 0.5) * STEP_SECONDS * frameRate);
    const from = Math.max(0, Math.min(novelty.length - size, middle - (size >> 1)));
    autocorrelation(novelty.subarray(from, from + size), maxLag, acf);
    const energy = acf[0]! || 1;
    const row = rows.subarray(s * RATIOS.length, (s + 1) * RATIOS.length);
    for (let r = 0; r < row.length; r++) {
      const lag = period * RATIOS[r]! * frameRate;
      row[r] = (repeats(lag) + 0.8 * repeats(lag * 2) + 0.6 * repeats(lag * 4)) / energy;
    }
    return row;
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
  let sums = rows[0]!.slice(),
    next = new Float64Array(width);
  /** Where each place of each row is come to from. */
  const backs = new Uint8Array(rows.length * width);
  for (let r = 1; r < rows.length; r++) {
    const row = rows[r]!;
    const back = r * width;
    const top = sums.indexOf(Math.max(...sums));
    for (let j = 0; j < width; j++) {
      let best = sums[top]! - jumpCost;
      backs[back + j] = top;
      for (let i = Math.max(0, j - 6); i <= Math.min(width - 1, j + 6); i++) {
        const value = sums[i]! - RATIO_COST * (i - j) ** 2;
        if (value > best) {
          best = value;
          backs[back + j] = i;
        }
      }
      next[j] = best + row[j]!;
    }
    const held = sums;
    sums = next;
    next = held;
  }
  const path = [sums.indexOf(Math.max(...sums))];
  for (let r = rows.length - 1; r > 0; r--) path.push(backs[r * width + path.at(-1)!]!);
  return path.reverse();
}

/** Beat times in seconds, for local periods as followPeriod gives them. */
export function trackBeats(novelty: Float32Array, frameRate: number, periods: Float64Array): number[] {
  const n = novelty.length;
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
    score[i] = ONSET_WEIGHT * novelty[i]! + best;
    back[i] = bestFrom;
  }
  let end = n - 1;
  for (let i = Math.max(0, n - Math.round(periods.at(-1)! * frameRate * 1.2)); i < n; i++)
    if (score[i]! > score[end]!) end = i;
  const beats: number[] = [];
  for (let i = end; i >= 0; i = back[i]!) beats.push(i / frameRate);
  return beats.reverse();
}
