/**
 * The signal in three bands, sliced finely: peaks for drawing the waveform, and the attack
 * function (rise of log energy) that places beats to a few milliseconds.
 */
import { butterworth } from '../signal/filters.ts';
import { growing } from '../signal/windows.ts';

/** Slices a second in the drawn waveform. */
export const WAVEFORM_RATE = 50;
const LOW_HZ = 180;
const HIGH_HZ = 2200;

export interface BandSplit {
  push(mono: Float32Array, length: number): void;
  finish(): Bands;
}

export interface Bands {
  /** Peaks as bytes (0 … 255 for 0 … 1 full scale), low, mid, high interleaved, WAVEFORM_RATE a second. */
  waveform: Uint8Array;
  /** Rise of log energy summed over the bands, one value per slice. */
  attack: Float32Array;
  /** Seconds between two attack values. */
  attackStep: number;
  /** Time of attack[0] in seconds, filter delay taken off. */
  attackStart: number;
}

/** Starts the split of a mono stream of the given rate. */
export function createBandSplit(sampleRate: number): BandSplit {
  const slice = Math.max(1, Math.round(sampleRate / 344));
  const lowPass = butterworth('low', LOW_HZ, sampleRate);
  const midHigh = butterworth('high', LOW_HZ, sampleRate);
  const midLow = butterworth('low', HIGH_HZ, sampleRate);
  const highPass = butterworth('high', HIGH_HZ, sampleRate);
  const state = new Float64Array(8);
  const attack = growing();
  const waveform = growing();
  const energy = new Float64Array(3);
  const peak = new Float64Array(3); // squared
  const background = new Float64Array(3).fill(-9);
  let inSlice = 0;
  let drawn = 0;
  let time = 0;
  let nextColumn = sampleRate / WAVEFORM_RATE;

  const endSlice = (): void => {
    let rise = 0;
    for (let b = 0; b < 3; b++) {
      const level = Math.log10(energy[b]! / inSlice + 1e-8);
      const up = level - background[b]!;
      if (up > 0) rise += up * (b === 0 ? 1.2 : 1);
      // The background follows falls slowly and rises at once, so that a rise counts one time only.
      background[b] = up > 0 ? level : background[b]! + up * 0.12;
      energy[b] = 0;
    }
    attack.push(rise);
    inSlice = 0;
  };
  const endColumn = (): void => {
    for (let b = 0; b < 3; b++) { waveform.push(Math.sqrt(peak[b]!)); peak[b] = 0; }
  };
  return {
    push(mono, length) {
      // The filter states live in locals for the length of a block: this loop sees every sample.
      let l1 = state[0]!, l2 = state[1]!, h1 = state[2]!, h2 = state[3]!, m1 = state[4]!, m2 = state[5]!, t1 = state[6]!, t2 = state[7]!;
      let eLow = energy[0]!, eMid = energy[1]!, eHigh = energy[2]!;
      let pLow = peak[0]!, pMid = peak[1]!, pHigh = peak[2]!;
      for (let i = 0; i < length; i++) {
        const x = mono[i]! + 1e-12;
        const low = lowPass.b0 * x + l1;
        l1 = lowPass.b1 * x - lowPass.a1 * low + l2;
        l2 = lowPass.b2 * x - lowPass.a2 * low;
        const above = midHigh.b0 * x + h1;
        h1 = midHigh.b1 * x - midHigh.a1 * above + h2;
        h2 = midHigh.b2 * x - midHigh.a2 * above;
        const mid = midLow.b0 * above + m1;
        m1 = midLow.b1 * above - midLow.a1 * mid + m2;
        m2 = midLow.b2 * above - midLow.a2 * mid;
        const high = highPass.b0 * x + t1;
        t1 = highPass.b1 * x - highPass.a1 * high + t2;
        t2 = highPass.b2 * x - highPass.a2 * high;
        const low2 = low * low, mid2 = mid * mid, high2 = high * high;
        eLow += low2; eMid += mid2; eHigh += high2;
        if (low2 > pLow) pLow = low2;
        if (mid2 > pMid) pMid = mid2;
        if (high2 > pHigh) pHigh = high2;
        if (++inSlice === slice) {
          energy[0] = eLow; energy[1] = eMid; energy[2] = eHigh;
          endSlice();
          eLow = eMid = eHigh = 0;
        }
        if (++time >= nextColumn) {
          peak[0] = pLow; peak[1] = pMid; peak[2] = pHigh;
          endColumn();
          pLow = pMid = pHigh = 0;
          nextColumn = (++drawn + 1) * sampleRate / WAVEFORM_RATE;
        }
      }
      state.set([l1, l2, h1, h2, m1, m2, t1, t2]);
      energy[0] = eLow; energy[1] = eMid; energy[2] = eHigh;
      peak[0] = pLow; peak[1] = pMid; peak[2] = pHigh;
    },
    finish() {
      if (inSlice > slice / 2) endSlice();
      endColumn();
      const drawnPeaks = waveform.view();
      return {
        waveform: Uint8Array.from(drawnPeaks, (p) => Math.min(255, Math.round(p * 255))),
        attack: attack.view(),
        attackStep: slice / sampleRate,
        attackStart: 0,
      };
    },
  };
}
