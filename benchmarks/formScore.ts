import type { AnalysisResult } from '@early-set/core/analysis/engine';
import type { PieceTruth } from './pieces/produce.ts';

export interface FormScore {
  /** Borders of sections: said, true, and true ones met within a bar. */
  said: number;
  there: number;
  met: number;
  endingRight: boolean;
}

/** The middle of an intro or outro, where bass and chords come and go, counts neither for nor against. */
export function formScore(truth: PieceTruth, result: Pick<AnalysisResult, 'sections' | 'edges'>): FormScore {
  const starts = result.sections.slice(1).map((s) => s.startSeconds);
  const bar = (1.1 * truth.beatsPerBar * 60) / (truth.bpm ?? 60),
    near = (a: number, list: number[]): boolean => list.some((b) => Math.abs(a - b) < bar);
  const there = truth.sections.slice(1).map((s) => s.start);
  const open = truth.sections.flatMap((s, i) =>
    s.name === 'intro' || s.name === 'outro'
      ? [(s.start + (truth.sections[i + 1]?.start ?? truth.beats.at(-1) ?? s.start)) / 2]
      : [],
  );
  return {
    said: starts.filter((t) => near(t, there) || !near(t, open)).length,
    there: there.length,
    met: there.filter((t) => near(t, starts)).length,
    endingRight: result.edges.ending === (truth.fades ? 'fade' : 'hard'),
  };
}
