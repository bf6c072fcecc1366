/** How late each sound font's strokes come after the notes that ask for them: what the truth about beats has to add. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { median } from '@early-set/core/signal/statistics';
import type { Stereo } from '../../demo/synth/render.ts';
import { playMidi, RATE } from '../pieces/play.ts';
import { DRUM_CHANNEL, writeMidi } from '../pieces/midiFile.ts';

const STROKES = 30;
const KEYS = [36, 38, 42];
/** A stroke is there when the sound reaches this share of its peak. */
const SHARE = 0.1;

/** Seconds from each stroke's note to its sound, by a sound font with a drum kit. */
export function strokesLate(font: string, channel = DRUM_CHANNEL): number[] {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-late-'));
  try {
    const midi = join(folder, 'strokes.mid');
    const times = Array.from({ length: STROKES }, (_, k) => 0.5 + 0.777 * k);
    const messages = times.flatMap((seconds, k) => [
      { seconds, bytes: [0x90 | channel, KEYS[k % KEYS.length]!, 110] },
      { seconds: seconds + 0.3, bytes: [0x80 | channel, KEYS[k % KEYS.length]!, 0] },
    ]);
    const length = times.at(-1)! + 1;
    writeFileSync(midi, writeMidi(messages, length));
    const sound = playMidi(midi, font, Math.ceil(length * RATE));
    return times.map((t) => onsetAfter(sound, t) - t);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

export const latenessOf = (font: string, channel?: number): number => median(strokesLate(font, channel));

/** Where the sound first reaches a share of its peak, from 20 ms before a time to 80 ms after it. */
function onsetAfter({ left, right }: Stereo, seconds: number): number {
  const from = Math.round((seconds - 0.02) * RATE),
    to = Math.round((seconds + 0.08) * RATE);
  const level = (i: number): number => Math.abs(left[i] ?? 0) + Math.abs(right[i] ?? 0);
  let peak = 0;
  for (let i = from; i < to; i++) peak = Math.max(peak, level(i));
  for (let i = from; i < to; i++) if (level(i) >= SHARE * peak) return i / RATE;
  return seconds;
}
