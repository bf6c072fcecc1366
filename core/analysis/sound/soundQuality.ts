/**
 * What the measures of a sound mean: how far up it really reaches, whether it looks as if it had been through an
 * encoder before, clipping, DC, and how its sides belong together. Each verdict comes with its reason in words.
 */
import { BAND_HZ, type SoundMeasures } from './soundMeter.ts';
import { findTrace, type Trace } from './traces/traces.ts';

/** How a file holds its sound. */
export interface SoundSource {
  codec: string;
  bitrate: number | null;
}

export interface SoundJudgement {
  /** Where the spectrum ends, in Hz; null where too little is heard. */
  bandwidthHz: number | null;
  /** Up to where codec and bit rate would let it reach; null when they are not known. */
  promisedHz: number | null;
  /** null where too little is heard to tell. */
  soundsReencoded: boolean | null;
  /** Stretches of flat tops, and samples of the longest. */
  clippedRuns: number;
  longestClip: number;
  dcOffset: [number, number];
  /** Both sides the same, or one channel. */
  mono: boolean;
  phaseCorrelation: number | null;
  /** Sentences for people, one for each thing that is not as it should be. */
  remarks: string[];
}

/** Frames quieter than this over all bands say nothing of the top, dB. */
const QUIETEST_FRAME = -50;
const FEWEST_FRAMES = 5;
const LOWEST_EDGE_HZ = 10_000;
/** Filters of resamplers cut above. */
const HIGHEST_EDGE_HZ = 20_250;
/** dB that the mean spectrum falls within half a kilohertz where an encoder has cut it. */
const STEEP = 14.2;
/** Where little stands above the noise floor anyway, a smaller fall will do. */
const STEEP_IN_THE_DARK = 9;
const DARK = 14.5;
/** The floor of sound with 16 bits lies below, dB in a band. */
const LOW_FLOOR = -112;

/** Edge of a spectrum: band, and how far it falls there. */
interface Edge {
  band: number;
  fall: number;
  below: number;
  floor: number;
}

/** The mean level of each band over the frames in which anything is heard; null with too few of them. */
export function meanSpectrum(spectra: readonly Float32Array[]): Float64Array | null {
  const heard = spectra.filter(isHeard);
  if (heard.length < FEWEST_FRAMES) return null;
  const mean = new Float64Array(heard[0]!.length);
  for (const row of heard) for (let b = 0; b < row.length; b++) mean[b] = mean[b]! + row[b]! / heard.length;
  return mean;
}

/** Does a frame sound louder than the quietest that counts? Mostly its first bands tell. */
function isHeard(row: Float32Array): boolean {
  const least = 10 ** (QUIETEST_FRAME / 10);
  let power = 0;
  for (let b = 0; b < row.length && power <= least; b++) power += 10 ** (row[b]! / 10);
  return power > least;
}

const average = (values: Float64Array, from: number, to: number): number => {
  let sum = 0;
  for (let i = from; i <= to; i++) sum += values[i]!;
  return sum / (to - from + 1);
};

/** The steepest fall above which nothing but the noise floor is left. */
export function steepestEdge(mean: Float64Array): Edge | null {
  const top = Math.min(mean.length - 4, Math.round(21_500 / BAND_HZ));
  let floor = Infinity;
  for (let b = Math.max(0, top - 8); b < top; b++) floor = Math.min(floor, mean[b]!);
  // The highest level, over three bands, that is left from each band on.
  const rest = new Float64Array(top + 1).fill(-Infinity);
  for (let b = top - 1; b > 0; b--) rest[b] = Math.max(rest[b + 1]!, average(mean, b - 1, Math.min(top - 1, b + 1)));
  let best: Edge | null = null;
  for (let b = Math.round(LOWEST_EDGE_HZ / BAND_HZ); b < top - 6; b++) {
    const below = average(mean, b - 4, b - 1),
      fall = below - average(mean, b + 2, b + 5),
      left = rest[b + 3]! - floor;
    if (left < Math.max(6, fall * 0.35) && fall > (best?.fall ?? 0)) best = { band: b, fall, below, floor };
  }
  return best;
}

const isCut = (edge: Edge | null): edge is Edge =>
  edge !== null &&
  edge.band * BAND_HZ <= HIGHEST_EDGE_HZ &&
  (edge.fall >= STEEP || (edge.fall >= STEEP_IN_THE_DARK && edge.floor < LOW_FLOOR && edge.below < edge.floor + DARK));

/** Highest frequency that stands clearly above the floor. */
function bandwidthOf(mean: Float64Array, edge: Edge | null): number {
  if (isCut(edge)) return (edge.band + 1) * BAND_HZ;
  const floor = Math.min(...mean.subarray(0, Math.min(mean.length, 218)));
  let b = Math.min(mean.length, 218) - 1;
  while (b > 0 && mean[b]! < Math.max(floor + 8, -110)) b--;
  return (b + 1) * BAND_HZ;
}

/**
 * Bit rates in kbit/s with where their encoders usually cut, for two channels (documented low-passes of common MP3
 * encoders).
 */
const MP3_CUTS: readonly [number, number][] = [
  [64, 11_000],
  [96, 15_000],
  [128, 16_000],
  [160, 17_300],
  [192, 18_500],
  [224, 19_200],
  [256, 19_500],
  [320, 20_000],
];

function promisedBy(source: SoundSource): { hz: number; lossless: boolean } | null {
  const { codec, bitrate } = source;
  if (/^(flac|alac|pcm_|wavpack|ape|tta)/.test(codec)) return { hz: 22_000, lossless: true };
  const kbit = (bitrate ?? 0) / 1000;
  if (codec === 'mp3' && kbit > 0)
    return { hz: MP3_CUTS.reduce((hz, [rate, cut]) => (kbit >= rate - 6 ? cut : hz), 8000), lossless: false };
  if (codec === 'aac' && kbit > 0) return { hz: kbit >= 120 ? 16_000 : 14_000, lossless: false };
  if (codec === 'vorbis' && kbit > 0) return { hz: kbit >= 150 ? 18_000 : 15_500, lossless: false };
  if (codec === 'opus') return { hz: 19_500, lossless: false };
  return null;
}

const kHz = (hz: number): string => `${(hz / 1000).toFixed(1)} kHz`;

/** What cut like this, most likely. */
function likelySource(hz: number): string {
  const [rate] = MP3_CUTS.reduce((best, entry) => (Math.abs(entry[1] - hz) < Math.abs(best[1] - hz) ? entry : best));
  return hz > 19_700 ? 'a lossy encoder at a high rate' : `a lossy encoder at about ${rate} kbit/s`;
}

const TRACES: Record<Trace['transform'], string> = {
  'layer III': 'much of it is rounded to nothing in blocks of 576 samples, as MP3 encoders do',
  lapped: 'much of it is rounded to nothing in blocks of 1,024 samples, as AAC and Vorbis encoders do',
};

/** The verdict on a sound, for how its file holds it. */
export function judgeSound(measures: SoundMeasures, source: SoundSource | null): SoundJudgement {
  const mean = meanSpectrum(measures.spectra);
  const edge = mean && mean.length * BAND_HZ > 16_000 ? steepestEdge(mean) : null;
  const bandwidthHz = mean ? bandwidthOf(mean, edge) : null;
  const promised = source && promisedBy(source);
  const remarks: string[] = [];
  // A lossy file may be cut where its own rate cuts; only well below that another encoder was there before.
  const cut = isCut(edge) && promised !== null && (promised.lossless || edge.band * BAND_HZ < promised.hz - 1200);
  const trace = mean && promised?.lossless && !cut ? findTrace(measures.excerpts) : null;
  if (cut)
    remarks.push(
      `Sounds re-encoded: nothing above ${kHz(bandwidthHz!)}, cut off steeply, as ${likelySource(bandwidthHz!)} does${promised.lossless ? ', in a lossless file' : `; this file's own rate would reach ${kHz(promised.hz)}`}`,
    );
  if (trace) remarks.push(`Sounds re-encoded: ${TRACES[trace.transform]}, in a lossless file`);
  if (measures.flatTops >= 20)
    remarks.push(
      `Clipped in ${measures.flatTops.toLocaleString('en-GB')} places, up to ${measures.longestFlatTop} samples in a row`,
    );
  const mono = measures.sideBelowMidDb === null ? true : measures.sideBelowMidDb > 60;
  if (measures.phaseCorrelation !== null && measures.phaseCorrelation < -0.2)
    remarks.push(`Out of phase (correlation ${measures.phaseCorrelation.toFixed(2)}): much of it is lost in mono`);
  const dc = Math.max(Math.abs(measures.dcOffset[0]), Math.abs(measures.dcOffset[1]));
  if (dc > 0.005) remarks.push(`DC offset of ${(dc * 100).toFixed(1)} %`);
  const round = (v: number): number => Math.round(v * 1e5) / 1e5;
  return {
    bandwidthHz,
    promisedHz: promised?.hz ?? null,
    soundsReencoded: mean === null || source === null ? null : cut || trace !== null,
    clippedRuns: measures.flatTops,
    longestClip: measures.longestFlatTop,
    dcOffset: [round(measures.dcOffset[0]), round(measures.dcOffset[1])],
    mono,
    phaseCorrelation: measures.phaseCorrelation === null ? null : Math.round(measures.phaseCorrelation * 1000) / 1000,
    remarks,
  };
}
