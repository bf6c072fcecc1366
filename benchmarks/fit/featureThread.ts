/** A worker thread of the fit: decodes a file and takes its features. */
import { createFeatureExtractor, type Features } from '@early-set/core/analysis/features';
import { decode, probe } from '../../server/media/decode.ts';

/** Features of the file at a path. */
export default async function featuresOf(path: string): Promise<Features> {
  const format = await probe(path);
  const extractor = createFeatureExtractor(format);
  await decode(path, format, (samples) => extractor.push(samples));
  return extractor.finish();
}
