/** Thread in which the steps of a preset are run over tracks, so that it holds nobody up. */
import type { NameCounts } from '@early-set/core/api/types';
import { knownNames } from '@early-set/core/clean/known';
import { runSteps, type CleanResult, type CleanTrack } from '@early-set/core/clean/runSteps';
import type { Step } from '@early-set/core/clean/steps';

export interface CleanWish {
  tracks: CleanTrack[];
  steps: Step[];
  names: NameCounts;
}

/** Rules of one's own run in the sandbox of the page alone: their steps say so. Nothing that is asked is answered. */
export default function work({ tracks, steps, names }: CleanWish): CleanResult {
  return runSteps(tracks, steps, { known: knownNames(names), answers: {} });
}
