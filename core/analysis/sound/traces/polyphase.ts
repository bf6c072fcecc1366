/**
 * The filter bank of MPEG audio layer III, as its decoder has it (ISO/IEC 11172-3): 32 polyphase bands, a lapped
 * transform of 18 lines in each (long blocks), and the butterflies against aliasing between bands. Sound that such
 * an encoder has made falls back onto its quantised lines, many of them zero, where the blocks lie as they lay then.
 */
import { LEVELS, MARGIN, meanLevels, type Blocks } from './blocks.ts';

/** First half of the window of the polyphase filters, times 65,536; it is symmetric about its peak. */
const WINDOW = [
  0, -1, -1, -1, -1, -1, -1, -2, -2, -2, -2, -3, -3, -4, -4, -5, -5, -6, -7, -7, -8, -9, -10, -11, -13, -14, -16, -17,
  -19, -21, -24, -26, -29, -31, -35, -38, -41, -45, -49, -53, -58, -63, -68, -73, -79, -85, -91, -97, -104, -111, -117,
  -125, -132, -139, -147, -154, -161, -169, -176, -183, -190, -196, -202, -208, -213, -218, -222, -225, -227, -228,
  -228, -227, -224, -221, -215, -208, -200, -189, -177, -163, -146, -127, -106, -83, -57, -29, 2, 36, 72, 111, 153, 197,
  244, 294, 347, 401, 459, 519, 581, 645, 711, 779, 848, 919, 991, 1064, 1137, 1210, 1283, 1356, 1428, 1498, 1567, 1634,
  1698, 1759, 1817, 1870, 1919, 1962, 2001, 2032, 2057, 2075, 2085, 2087, 2080, 2063, 2037, 2000, 1952, 1893, 1822,
  1739, 1644, 1535, 1414, 1280, 1131, 970, 794, 605, 402, 185, -45, -288, -545, -814, -1095, -1388, -1692, -2006, -2330,
  -2663, -3004, -3351, -3705, -4063, -4425, -4788, -5153, -5517, -5879, -6237, -6589, -6935, -7271, -7597, -7910, -8209,
  -8491, -8755, -8998, -9219, -9416, -9585, -9727, -9838, -9916, -9959, -9966, -9935, -9863, -9750, -9592, -9389, -9139,
  -8840, -8492, -8092, -7640, -7134, -6574, -5959, -5288, -4561, -3776, -2935, -2037, -1082, -70, 998, 2122, 3300, 4533,
  5818, 7154, 8540, 9975, 11455, 12980, 14548, 16155, 17799, 19478, 21189, 22929, 24694, 26482, 28289, 30112, 31947,
  33791, 35640, 37489, 39336, 41176, 43006, 44821, 46617, 48390, 50137, 51853, 53534, 55178, 56778, 58333, 59838, 61289,
  62684, 64019, 65290, 66494, 67629, 68692, 69679, 70590, 71420, 72169, 72835, 73415, 73908, 74313, 74630, 74856, 74992,
  75038,
];
const BANDS = 32,
  TAPS = 512,
  SLOTS = 36,
  LINES = 18;
/** Bands that are looked at: about 2 to 16 kHz. */
const FIRST_BAND = 3,
  LAST_BAND = 22;
const LOOKED_AT = LAST_BAND - FIRST_BAND + 1;
/** Butterflies of the standard, table B.9. */
const ALIASING = [-0.6, -0.535, -0.33, -0.185, -0.095, -0.041, -0.0142, -0.0037];

/** Plans the blocks of layer III. */
export function planPolyphaseBlocks(): Blocks {
  // Every second 64 of the window stand for cosines of the other sign.
  const window = Float64Array.from(
    { length: TAPS },
    (_, n) => (WINDOW[n <= 256 ? n : 512 - n]! / 65_536 / 32) * ((n >> 6) & 1 ? -1 : 1),
  );
  // Cosines are even about 16 and odd about 48: of 64 samples, 32 sums and differences are left.
  const cosines = Float64Array.from({ length: LOOKED_AT * 32 }, (_, at) =>
    Math.cos(((2 * (FIRST_BAND + (at >> 5)) + 1) * ((at & 31) < 17 ? at & 31 : (at & 31) + 16) * Math.PI) / 64),
  );
  const sines = Float64Array.from({ length: SLOTS }, (_, i) => Math.sin((Math.PI / SLOTS) * (i + 0.5)));
  // The lapped transform of 36 is a DCT-IV of its 18 folded samples.
  const lapped = Float64Array.from({ length: LINES * LINES }, (_, at) =>
    Math.cos((Math.PI / LINES) * (Math.floor(at / LINES) + 0.5) * ((at % LINES) + 0.5)),
  );
  const straight = ALIASING.map((c) => 1 / Math.sqrt(1 + c * c)),
    crossed = ALIASING.map((c) => c / Math.sqrt(1 + c * c));
  const half = LINES / 2,
    room = SLOTS + LINES;
  const summed = new Float64Array(64),
    folded = new Float64Array(32),
    short = new Float64Array(LINES);
  const slots = new Float64Array(room * LOOKED_AT);
  const lines = new Float64Array(LOOKED_AT * LINES);

  /** One sample of each band; the oldest of its 512 samples lies at `at`. */
  const slot = (x: Float32Array, at: number, into: number): void => {
    const newest = at + TAPS - 1;
    for (let i = 0; i < 64; i++) {
      let sum = 0;
      for (let n = i; n < TAPS; n += 64) sum += window[n]! * x[newest - n]!;
      summed[i] = sum;
    }
    folded[0] = summed[16]!;
    for (let d = 1; d <= 16; d++) folded[d] = summed[16 + d]! + summed[16 - d]!;
    for (let d = 1; d < 16; d++) folded[16 + d] = summed[48 + d]! - summed[48 - d]!;
    for (let b = 0, c = 0; b < LOOKED_AT; b++) {
      let sum = 0;
      for (let i = 0; i < 32; i += 4, c += 4)
        sum +=
          folded[i]! * cosines[c]! +
          folded[i + 1]! * cosines[c + 1]! +
          folded[i + 2]! * cosines[c + 2]! +
          folded[i + 3]! * cosines[c + 3]!;
      // Odd bands lie upside down: every second sample of theirs is negated.
      slots[b * room + into] = ((b + FIRST_BAND) & into & 1) === 1 ? -sum : sum;
    }
  };
  /** Levels of the block whose first slot is `first` of those filtered. */
  const block = (first: number, out: Float64Array, to: number): void => {
    for (let b = 0; b < LOOKED_AT; b++) {
      const at = b * room + first;
      for (let i = 0; i < half; i++) {
        short[i] =
          -slots[at + 3 * half - 1 - i]! * sines[3 * half - 1 - i]! - slots[at + 3 * half + i]! * sines[3 * half + i]!;
        short[half + i] = slots[at + i]! * sines[i]! - slots[at + LINES - 1 - i]! * sines[LINES - 1 - i]!;
      }
      for (let m = 0, c = 0; m < LINES; m++) {
        let sum = 0;
        for (let i = 0; i < LINES; i += 3, c += 3)
          sum += short[i]! * lapped[c]! + short[i + 1]! * lapped[c + 1]! + short[i + 2]! * lapped[c + 2]!;
        lines[b * LINES + m] = sum;
      }
    }
    // Negating by place in the stream instead of in the block turns the sign of odd bands in every second block.
    const turn = (first & 1) === 1 ? -1 : 1;
    for (let b = 0; b < LOOKED_AT - 1; b++) {
      for (let i = 0; i < 8; i++) {
        const up = b * LINES + 17 - i,
          down = (b + 1) * LINES + i;
        const u = lines[up]!,
          d = lines[down]!,
          cross = crossed[i]! * turn;
        lines[up] = u * straight[i]! + d * cross;
        lines[down] = d * straight[i]! - u * cross;
      }
    }
    meanLevels(lines, 0, lines.length, out, to);
  };
  return {
    period: BANDS * LINES,
    shift: BANDS * LINES,
    sweep(x, out) {
      for (let phase = 0; phase < BANDS; phase++) {
        const count = LINES + (phase < 2 * MARGIN ? 1 : 0);
        for (let s = 0; s < count + SLOTS - 1; s++) slot(x, phase + s * BANDS, s);
        for (let first = 0; first < count; first++) block(first, out, (first * BANDS + phase) * LEVELS);
      }
    },
  };
}
