/** The metronome: a click on every beat over the audition, higher on the first of a bar. */
import { useEffect, useRef } from 'react';
import type { Grid } from '@early-set/core/analysis/gridOf';
import { soundOut } from './player.ts';

const AHEAD = 0.12;
const EVERY_MS = 30;

/**
 * Clicks along with the player until the returned function is called.
 * @param grid the grid as it is at each moment
 */
function clickAlong(grid: () => Grid): () => void {
  let last = -1;
  const timer = window.setInterval(() => {
    const { context, position, playing } = soundOut();
    if (!context || !playing) {
      last = -1;
      return;
    }
    const { beats, firstDownbeatSeconds, beatsPerBar } = grid();
    if (position < last - AHEAD) last = -1; // moved back
    const first = firstDownbeatSeconds === null ? 0 : beats.findIndex((t) => Math.abs(t - firstDownbeatSeconds) < 0.01);
    for (const [i, t] of beats.entries()) {
      if (t <= Math.max(last, position) || t > position + AHEAD) continue;
      last = t;
      beep(
        context,
        context.currentTime + (t - position),
        (((i - first) % beatsPerBar) + beatsPerBar) % beatsPerBar === 0,
      );
    }
  }, EVERY_MS);
  return () => window.clearInterval(timer);
}

function beep(context: AudioContext, when: number, strong: boolean): void {
  const oscillator = context.createOscillator(),
    gain = context.createGain();
  oscillator.type = 'triangle';
  oscillator.frequency.value = strong ? 1960 : 1310;
  gain.gain.setValueAtTime(strong ? 0.5 : 0.32, when);
  gain.gain.exponentialRampToValueAtTime(0.001, when + 0.05);
  oscillator.connect(gain).connect(context.destination);
  oscillator.start(when);
  oscillator.stop(when + 0.06);
}

/** Runs while it is on; the grid may change meanwhile. */
export function useMetronome(grid: Grid, on: boolean): void {
  const latest = useRef(grid);
  useEffect(() => {
    latest.current = grid;
  });
  useEffect(() => (on ? clickAlong(() => latest.current) : undefined), [on]);
}
