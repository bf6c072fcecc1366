/** Energy, 0 … 100: our own model, monotone in each of its four parts. */
import { clamp } from '../../signal/statistics.ts';
import { movingMean } from '../rhythm/tempo.ts';
import type { Onsets } from '../rhythm/onsets.ts';

export interface EnergyEstimate {
  /** 0 (still) … 100 (peak). */
  energy: number;
  /** Each 0 … 1. */
  parts: { loudness: number; density: number; lowPulse: number; brightness: number };
  /** One value every two seconds, 0 … 100. */
  curve: number[];
}

const mean = (v: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < v.length; i++) sum += v[i]!;
  return v.length ? sum / v.length : 0;
};

/** Rising line through (low, 0) and (high, 1), clipped. */
const ramp = (value: number, low: number, high: number): number => clamp((value - low) / (high - low), 0, 1);

const DENSITY = [-1, 2.4] as const;
const LOW_PULSE = [-4.5, -1.4] as const;
const BRIGHTNESS = [5.8, 8.6] as const;

/**
 * energy = 100 · (0.30 loudness + 0.28 onset density + 0.27 low-end pulse + 0.15 brightness).
 * Loudness is the loud part of the track (short-term maximum blended with integrated), −30 to −7 LUFS.
 */
export function estimateEnergy(
  onsets: Onsets,
  integratedLufs: number | null,
  maxShortTermLufs: number | null,
): EnergyEstimate {
  const { bands, centroidHz, frameRate } = onsets;
  const level = integratedLufs === null ? -70 : 0.7 * integratedLufs + 0.3 * (maxShortTermLufs ?? integratedLufs);
  const flux = new Float32Array(bands[0]?.length ?? 0);
  for (const band of bands) for (let i = 0; i < flux.length; i++) flux[i]! += band[i]!;
  const loudness = ramp(level, -30, -7);
  const measured = (from: number, to: number) => ({
    density: ramp(Math.log2(1e-3 + mean(flux.subarray(from, to))), DENSITY[0], DENSITY[1]),
    lowPulse: ramp(Math.log2(1e-3 + mean(bands[0]!.subarray(from, to))), LOW_PULSE[0], LOW_PULSE[1]),
    brightness: ramp(Math.log2(1 + mean(centroidHz.subarray(from, to))), BRIGHTNESS[0], BRIGHTNESS[1]),
  });
  const combine = (p: { density: number; lowPulse: number; brightness: number }, loud: number): number =>
    100 * (0.3 * loud + 0.28 * p.density + 0.27 * p.lowPulse + 0.15 * p.brightness * Math.min(1, loud * 2));
  const parts = { loudness, ...measured(0, flux.length) };
  const step = Math.max(1, Math.round(frameRate * 2));
  const smooth = movingMean(flux, step);
  const overall = mean(flux) || 1;
  const curve: number[] = [];
  for (let i = 0; i + step <= flux.length; i += step) {
    const local = smooth[i + (step >> 1)]! / overall;
    curve.push(Math.round(clamp(combine(measured(i, i + step), loudness * clamp(0.5 + 0.5 * local, 0, 1.2)), 0, 100)));
  }
  return { energy: Math.round(clamp(combine(parts, loudness), 0, 100)), parts, curve };
}
