/** Measuring a file in the browser: nothing is sent anywhere. */
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { sniffSound } from '@early-set/core/files/sniff';
import type { MeasureAnswer, MeasureRequest } from './worker.ts';

/** The browser holds the whole decoded sound in memory. */
const LARGEST_BYTES = 700 * 2 ** 20;

/** A sentence about why a file cannot be measured here. */
export class CannotMeasure extends Error {}

/**
 * Decodes a file at its own rate and measures it in a worker.
 * @param onShare called with the share that is done
 * @throws CannotMeasure with the reason; DOMException when aborted
 */
export async function measureFile(
  file: File,
  onShare: (share: number) => void,
  signal: AbortSignal,
): Promise<AnalysisResult> {
  if (file.size === 0) throw new CannotMeasure('The file is empty');
  if (file.size > LARGEST_BYTES)
    throw new CannotMeasure('The file is too large to be measured in the browser; take it in instead');
  const bytes = await file.arrayBuffer();
  signal.throwIfAborted();
  const sniffed = sniffSound(new Uint8Array(bytes, 0, Math.min(bytes.byteLength, 2 ** 20)));
  const rate =
    sniffed.sampleRate !== null && sniffed.sampleRate >= 8000 && sniffed.sampleRate <= 192_000
      ? sniffed.sampleRate
      : 44_100;
  const context = new OfflineAudioContext(1, 1, rate);
  const sound = await context.decodeAudioData(bytes).catch(() => {
    throw new CannotMeasure('This browser cannot decode it; it may be broken, or of a kind only the server reads');
  });
  signal.throwIfAborted();
  const channels = Array.from({ length: sound.numberOfChannels }, (_, c) => sound.getChannelData(c).slice());
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  try {
    return await new Promise<AnalysisResult>((resolve, reject) => {
      signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true });
      worker.onerror = () => reject(new CannotMeasure('The measuring broke off'));
      worker.onmessage = ({ data }: MessageEvent<MeasureAnswer>) => {
        if ('share' in data) onShare(data.share);
        else if ('result' in data) resolve(data.result);
        else reject(new CannotMeasure(data.reason));
      };
      const source = sniffed.codec
        ? { codec: sniffed.codec, bitrate: sniffed.bitrate ?? (file.size * 8) / sound.duration }
        : null;
      const request: MeasureRequest = { channels, sampleRate: rate, source };
      worker.postMessage(
        request,
        channels.map((x) => x.buffer as ArrayBuffer),
      );
    });
  } finally {
    worker.terminate();
  }
}
