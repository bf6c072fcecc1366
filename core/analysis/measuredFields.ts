/**
 * The fields that an analysis fills: of each the part of the result it comes from, and its value. The only such list.
 */
import type { FieldValue } from '../fields/values.ts';
import type { AnalysisResult } from './engine.ts';
import type { Part } from './parts.ts';

type Result = Omit<AnalysisResult, 'waveform'>;
type Values = Record<string, (result: Result) => FieldValue>;

const rounded = (value: number | null, digits: number): number | null =>
  value === null ? null : Number(value.toFixed(digits));
/** Nothing is said of the beat of a track that has none, nor of the key of one without. */
const withBeat =
  (value: (tempo: Result['tempo']) => FieldValue) =>
  ({ tempo }: Result): FieldValue =>
    tempo.bpm === null ? null : value(tempo);
const place =
  (edge: 'audibleStartSeconds' | 'introEndSeconds' | 'outroStartSeconds' | 'segueSeconds' | 'audibleEndSeconds') =>
  ({ edges }: Result): FieldValue =>
    rounded(edges[edge], 2);

const FIELDS_OF: Record<Part, Values> = {
  loudness: {
    lufs: ({ loudness }) => rounded(loudness.integratedLufs, 2),
    loudnessRangeLu: ({ loudness }) => rounded(loudness.rangeLu, 2),
    truePeakDbtp: ({ loudness }) => rounded(loudness.truePeakDbtp, 2),
  },
  tempo: {
    bpm: ({ tempo }) => rounded(tempo.bpm, 2),
    tempoConfidence: withBeat((t) => rounded(t.confidence, 3)),
    tempoSteady: withBeat((t) => t.steady),
    gridStartSeconds: ({ tempo }) => rounded(tempo.firstDownbeatSeconds, 3),
    beatsPerBar: withBeat((t) => t.beatsPerBar),
  },
  key: {
    key: ({ key }) => key.key,
    keyConfidence: ({ key }) => (key.key === null ? null : rounded(key.confidence, 3)),
  },
  energy: { energy: ({ energy }) => energy.energy },
  edges: {
    audibleStartSeconds: place('audibleStartSeconds'),
    introEndSeconds: place('introEndSeconds'),
    outroStartSeconds: place('outroStartSeconds'),
    segueSeconds: place('segueSeconds'),
    audibleEndSeconds: place('audibleEndSeconds'),
    ending: ({ edges }) => edges.ending,
  },
  sound: {
    bandwidthHz: ({ sound }) => sound.bandwidthHz,
    soundsReencoded: ({ sound }) => sound.soundsReencoded,
    clippedRuns: ({ sound }) => sound.clippedRuns,
  },
};

/** Ids of the fields that some parts fill. */
export const fieldsOfParts = (parts: readonly Part[]): string[] => parts.flatMap((p) => Object.keys(FIELDS_OF[p]));

/** Field id to value, of some parts of a result. */
export const measuredValues = (result: Result, parts: readonly Part[]): Record<string, FieldValue> =>
  Object.fromEntries(
    parts.flatMap((p) => Object.entries(FIELDS_OF[p]).map(([id, value]): [string, FieldValue] => [id, value(result)])),
  );
