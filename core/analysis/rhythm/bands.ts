/**
 * The signal in three bands, sliced finely: peaks for drawing the waveform, and the attack
 * function (rise of log energy) that places beats to a few milliseconds.
 */
import { butterworth } from '../../signal/filters.ts';
import type { Kernels } from '../../signal/kernels/kernels.ts';
import { growing, growingBytes } from '../../signal/windows.ts';
import { levelByte, WAVEFORM_RATE } from '../waveform.ts';

/** Where low, middle and high stand in the kernel's sums. */
const ENERGY = [0, 3, 1] as const;

const LOW_HZ = 180;
const HIGH_HZ = 2200;

export interface BandSplit {
  push(mono: Float32Array, length: number): void;
  finish(): Bands;
}

export interface Bands {
  /** Peaks as bytes (`core/analysis/waveform`). */
  waveform: Uint8Array;
  /** Rise of log energy summed over the bands, one value per slice. */
  attack: Float32Array;
  /** Seconds between two attack values. */
  attackStep: number;
  /** Time of attack[0] in seconds, filter delay taken off. */
  attackStart: number;
}

/** Starts the split of a mono stream of the given rate. @param seconds that it may last; 0 where nobody knows */
export function createBandSplit(sampleRate: number, kernels: Kernels, seconds = 0): BandSplit {
  const slice = Math.max(1, Math.round(sampleRate / 344));
  const pairs = [
    ['low', LOW_HZ, 'high', HIGH_HZ],
    ['high', LOW_HZ, 'low', HIGH_HZ],
  ] as const;
  const coefficients = kernels.doubles(20),
    state = kernels.doubles(10),
    sums = kernels.doubles(8);
  coefficients.set(
    pairs.flatMap(([firstKind, firstHz, secondKind, secondHz]) => {
      const first = butterworth(firstKind, firstHz, sampleRate),
        second = butterworth(secondKind, secondHz, sampleRate);
      return [first.b0, second.b0, first.b1, second.b1, first.b2, second.b2, first.a1, second.a1, first.a2, second.a2];
    }),
  );
  const [coefficientsAt, stateAt, sumsAt] = [coefficients.byteOffset, state.byteOffset, sums.byteOffset];
  const attack = growing((seconds * sampleRate) / slice);
  const waveform = growingBytes(seconds * WAVEFORM_RATE * 3);
  const background = new Float64Array(3).fill(-9);
  let inSlice = 0;
  let drawn = 0;
  let time = 0;
  let nextColumn = sampleRate / WAVEFORM_RATE;

  const endSlice = (): void => {
    let rise = 0;
    for (let b = 0; b < 3; b++) {
      const level = Math.log10(sums[ENERGY[b]!]! / inSlice + 1e-8);
      const up = level - background[b]!;
      if (up > 0) rise += up * (b === 0 ? 1.2 : 1);
      // The background follows falls slowly and rises at once, so that a rise counts one time only.
      background[b] = up > 0 ? level : background[b]! + up * 0.12;
    }
    for (let i = 0; i < 4; i++) sums[i] = 0;
    attack.push(rise);
    inSlice = 0;
  };
  const endColumn = (): void => {
    for (let b = 0; b < 3; b++) waveform.push(levelByte(Math.fround(Math.sqrt(sums[4 + ENERGY[b]!]!))));
    for (let i = 4; i < 8; i++) sums[i] = 0;
    nextColumn = ((++drawn + 1) * sampleRate) / WAVEFORM_RATE;
  };
  return {
    push(mono, length) {
      kernels.visit([mono], length, ([pointer], _from, count) => {
        for (let at = 0; at < count;) {
          const part = Math.min(count - at, slice - inSlice, Math.max(1, Math.ceil(nextColumn - time)));
          kernels.bandSplit(pointer! + at * 4, part, coefficientsAt, stateAt, sumsAt);
          at += part;
          time += part;
          inSlice += part;
          if (inSlice === slice) endSlice();
          if (time >= nextColumn) endColumn();
        }
      });
    },
    finish() {
      if (inSlice > slice / 2) endSlice();
      endColumn();
      return {
        waveform: waveform.take(),
        attack: attack.take(),
        attackStep: slice / sampleRate,
        attackStart: 0,
      };
    },
  };
}
