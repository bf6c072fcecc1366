/** A worker thread: fits everything without some of the pieces, then hears some that it was not shown. */
import { readFileSync } from 'node:fs';
import { deserialize } from 'node:v8';
import { workerData } from 'piscina';
import { tempoOf, type AnalysisResult } from '@early-set/core/analysis/engine';
import type { Fitted } from '@early-set/core/analysis/fitted/network';
import { estimateKey, keyProbabilities, pitchKnown } from '@early-set/core/analysis/harmony/key';
import type { KeptCase } from './caseShelf.ts';
import type { Heard } from './featurePool.ts';
import { fitReadings } from './fitReadings.ts';
import { fitKeys, type KeyCase } from './keyCases.ts';
import { openTraining } from './training.ts';

/** What to fit and to hear, by the places of pieces. */
export interface FoldWish {
  leftOut: readonly number[];
  hear: readonly number[];
}

export interface Shelf {
  readings: (KeptCase | null)[];
  keys: KeyCase[][];
  /** Files with what is heard of each piece. */
  heard: string[];
  /** The compiled loops of learning. */
  loops: Uint8Array;
}

export interface Unseen {
  tempo: AnalysisResult['tempo'];
  speaks: number[];
  key: AnalysisResult['key'];
  /** Of the 24 keys, not calmed: tonic, +12 for minor. */
  keyProbabilities: number[];
  durationSeconds: number;
}

export interface Fold {
  fitted: Fitted;
  /** What was heard of those that were to be heard, in their order. */
  unseen: Unseen[];
}

/** Neither is known before all folds are: both are fitted on what they say of unseen pieces. */
const OPEN = { calm: 1, tempoSure: [0, 1, 0, 0, 0, 0] };

export default function fold({ leftOut, hear: wanted }: FoldWish): Fold {
  const shelf = workerData as Shelf;
  const out = new Set(leftOut);
  const fitted: Fitted = {
    readings: fitReadings(
      shelf.readings.flatMap((c, i) => (c && !out.has(i) ? [c] : [])),
      openTraining(shelf.loops),
    ),
    keys: {
      ...fitKeys(
        shelf.keys.flatMap((c, i) => (out.has(i) ? [] : c)),
        openTraining(shelf.loops),
      ),
      calm: OPEN.calm,
    },
    tempoSure: OPEN.tempoSure,
  };
  return { fitted, unseen: wanted.map((i) => hear(shelf.heard[i]!, fitted)) };
}

function hear(file: string, fitted: Fitted): Unseen {
  const heard = deserialize(readFileSync(file)) as Heard;
  const { tempo, bars, speaks } = tempoOf(heard, fitted);
  const { chroma, durationSeconds } = heard;
  return {
    tempo,
    speaks,
    key: estimateKey(chroma, bars, fitted.keys),
    keyProbabilities: Array.from(keyProbabilities(pitchKnown(chroma, 0, chroma.frameCount, bars), fitted.keys)),
    durationSeconds,
  };
}
