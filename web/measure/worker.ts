/** A web worker: takes decoded sound and measures it with the same engine as the server. */
import { createAnalysis, type AnalysisResult } from '@early-set/core/analysis/engine';
import type { SoundSource } from '@early-set/core/analysis/sound/soundQuality';

export interface MeasureRequest {
  channels: Float32Array[];
  sampleRate: number;
  source: SoundSource | null;
}
export type MeasureAnswer = { share: number } | { result: AnalysisResult } | { reason: string };

const FRAMES = 65_536;

self.onmessage = ({ data }: MessageEvent<MeasureRequest>): void => {
  const answer = (a: MeasureAnswer): void => self.postMessage(a);
  try {
    const { channels, sampleRate, source } = data;
    const total = channels[0]?.length ?? 0;
    const analysis = createAnalysis({ sampleRate, channels: channels.length, seconds: total / sampleRate }, source);
    const block = new Float32Array(FRAMES * channels.length);
    for (let from = 0; from < total; from += FRAMES) {
      const count = Math.min(FRAMES, total - from);
      channels.forEach((x, c) => {
        for (let i = 0; i < count; i++) block[i * channels.length + c] = x[from + i]!;
      });
      analysis.push(block.subarray(0, count * channels.length));
      answer({ share: (from + count) / total });
    }
    answer({ result: analysis.finish() });
  } catch (error) {
    answer({ reason: error instanceof RangeError ? error.message : 'The measuring broke off' });
  }
};
