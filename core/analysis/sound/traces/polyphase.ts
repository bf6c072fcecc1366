/**
 * The filter bank of MPEG audio layer III, as its decoder has it (ISO/IEC 11172-3): 32 polyphase bands, a lapped
 * transform of 18 lines in each (long blocks), and the butterflies against aliasing between bands. Sound that such
 * an encoder has made falls back onto its quantised lines, many of them zero, where the blocks lie as they lay then.
 */
import type { Kernels } from '../../../signal/kernels/kernels.ts';
import { MARGIN, planSweep, type Blocks } from './blocks.ts';

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
  LOOKED_AT = 20;
/** Butterflies of the standard, table B.9. */
const ALIASING = [-0.6, -0.535, -0.33, -0.185, -0.095, -0.041, -0.0142, -0.0037];
/** Sums of 512 samples, those of each band, a block of one band and its lines, four at once. */
const WORK = 4 * (96 + LOOKED_AT * (SLOTS + LINES) + LINES + LOOKED_AT * LINES);

/** The window of the polyphase filters, all of it above zero. @param n 0 to 511 */
export const synthesisWindow = (n: number): number => WINDOW[n <= 256 ? n : TAPS - n]! / 65_536 / 32;

/** Plans the blocks of layer III. */
export function planPolyphaseBlocks(kernels: Kernels): Blocks {
  const each = (count: number, value: (i: number) => number): number[] =>
    Array.from({ length: count }, (_, i) => value(i));
  const tables = [
    // Every second 64 of the window stand for cosines of the other sign.
    ...each(TAPS, (n) => synthesisWindow(n) * ((n >> 6) & 1 ? -1 : 1)),
    // Cosines are even about 16 and odd about 48: of 64 samples, 32 sums and differences are left.
    ...each(LOOKED_AT * 32, (at) =>
      Math.cos(((2 * (FIRST_BAND + (at >> 5)) + 1) * ((at & 31) < 17 ? at & 31 : (at & 31) + 16) * Math.PI) / 64),
    ),
    ...each(SLOTS, (i) => Math.sin((Math.PI / SLOTS) * (i + 0.5))),
    // The lapped transform of 36 is a DCT-IV of its 18 folded samples.
    ...each(LINES * LINES, (at) => Math.cos((Math.PI / LINES) * (Math.floor(at / LINES) + 0.5) * ((at % LINES) + 0.5))),
    ...ALIASING.map((c) => 1 / Math.sqrt(1 + c * c)),
    ...ALIASING.map((c) => c / Math.sqrt(1 + c * c)),
  ];
  const period = BANDS * LINES;
  return {
    period,
    shift: period,
    sweep: planSweep(kernels, period, tables, WORK, (x, at, work, out) =>
      kernels.layerSweep(x, 2 * MARGIN, at, work, out),
    ),
  };
}
