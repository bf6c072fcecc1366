/** What a worker thread does: decode one file and analyse it. */
import { stat } from 'node:fs/promises';
import { interpret, type AnalysisResult } from '@early-set/core/analysis/engine';
import { createFeatureExtractor, type FeatureExtractor, type StreamFormat } from '@early-set/core/analysis/features';
import { decodeAsItIs, UnreadableAudio, type ProbedAudio } from './decode.ts';

export interface AnalysedFile {
  probed: ProbedAudio;
  result: AnalysisResult;
  warnings: string;
  /** See core/analysis/fingerprint. */ fingerprint: Uint8Array | null;
  /** Of the packets of sound, whatever the tags say. */
  audioHash: string | null;
}

/** What to do: measure a file, with its fingerprint or without. */
export interface ThreadWish {
  path: string;
  fingerprint: boolean;
}

export type ThreadAnswer = { ok: true; analysed: AnalysedFile } | { ok: false; reason: string };

/** Analyses the file at an absolute path. Bad files answer with a reason; only defects of ours throw. */
export default async function analyseFile({ path, fingerprint }: ThreadWish): Promise<ThreadAnswer> {
  try {
    const info = await stat(path).catch(() => null);
    if (!info) return { ok: false, reason: 'The file is not there' };
    if (info.isDirectory()) return { ok: false, reason: 'This is a folder' };
    if (info.size === 0) return { ok: false, reason: 'The file is empty' };
    let extractor: FeatureExtractor | null = null;
    const begin = (format: StreamFormat) => {
      extractor = createFeatureExtractor(format);
      return extractor.push;
    };
    const decoded = await decodeAsItIs(path, begin, { fingerprint });
    return { ok: true, analysed: { ...decoded, result: interpret(extractor!.finish(), decoded.probed) } };
  } catch (error) {
    if (error instanceof UnreadableAudio || error instanceof RangeError) return { ok: false, reason: error.message };
    throw error;
  }
}
