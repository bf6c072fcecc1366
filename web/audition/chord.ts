/** The tonic chord of a key, to compare with what is heard. */
import { keyParts } from '@early-set/core/fields/keys';
import { soundOut } from './player.ts';

/** Frequencies of a key's tonic triad with its bass. */
export function chordOf(key: string): number[] {
  const parts = keyParts(key);
  if (!parts) return [];
  const root = 48 + parts.tonic;
  return [root - 12, root, root + (parts.mode === 'minor' ? 3 : 4), root + 7, root + 12].map(
    (midi) => 440 * 2 ** ((midi - 69) / 12),
  );
}

/** Plays it for a second and a half. */
export function playChord(key: string): void {
  const { context } = soundOut(true);
  if (!context) return;
  const now = context.currentTime + 0.02;
  for (const hz of chordOf(key)) {
    const oscillator = context.createOscillator(),
      gain = context.createGain();
    oscillator.type = 'triangle';
    oscillator.frequency.value = hz;
    gain.gain.setValueAtTime(0, now);
    gain.gain.linearRampToValueAtTime(0.11, now + 0.02);
    gain.gain.exponentialRampToValueAtTime(0.001, now + 1.5);
    oscillator.connect(gain).connect(context.destination);
    oscillator.start(now);
    oscillator.stop(now + 1.55);
  }
}
