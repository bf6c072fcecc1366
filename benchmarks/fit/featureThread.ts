/** A worker thread of the benchmarks: decodes a file and takes its features, or finds them in the cache. */
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { deserialize, serialize } from 'node:v8';
import { createFeatureExtractor, type Features } from '@early-set/core/analysis/features';
import { decode, probe } from '../../server/media/decode.ts';

export interface FeatureWish {
  path: string;
  /** Where they are kept; another file for another extractor. */
  kept: string;
  /** Seconds that are left out in front, as if the recording had been cut there. */
  from: number;
}

/** What the analysis of tempo, bar and key hears of a file. */
export type Heard = Pick<Features, 'bands' | 'onsets' | 'chroma' | 'durationSeconds'>;

/** Features of the file at a path. */
export default async function featuresOf({ path, kept, from }: FeatureWish): Promise<Heard> {
  if (existsSync(kept)) return deserialize(readFileSync(kept)) as Heard;
  const format = await probe(path);
  const extractor = createFeatureExtractor(format);
  let skipped = Math.round(from * format.sampleRate) * format.channels;
  await decode(path, format, (samples) => {
    const own = samples.subarray(Math.min(skipped, samples.length));
    skipped -= samples.length - own.length;
    extractor.push(own);
  });
  const { bands, onsets, chroma, durationSeconds } = extractor.finish();
  const own = {
    bands: { ...bands, waveform: new Uint8Array(0), attack: bands.attack.slice() },
    onsets: { ...onsets, bands: onsets.bands.map((b) => b.slice()), centroidHz: new Uint16Array(0) },
    chroma: { ...chroma, frames: chroma.frames.slice(), bass: chroma.bass.slice() },
    durationSeconds,
  };
  writeFileSync(`${kept}.new`, serialize(own));
  renameSync(`${kept}.new`, kept);
  return own;
}
