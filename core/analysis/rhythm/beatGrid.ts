/** Beats and bars as they were laid over a track. */
export interface BeatGrid {
  bpm: number;
  steady: boolean;
  /** Beat times in seconds, over the whole track. */
  beats: Float64Array;
  /** Share of beats with an attack close by, 0 … 1. */
  support: number;
  /** One standard error of the tempo in BPM, for a steady grid. */
  bpmError: number;
  /** Two where each beat has three parts, as in 6/8. */
  beatsPerBar: 2 | 3 | 4;
  /** Index of the first downbeat in the beats. */
  firstDownbeat: number;
  /** Stretches of one tempo each, where it changes for good; else none. */
  segments: { startSeconds: number; bpm: number }[];
}
