/** Runs steps beside the page. Tracks and names come once, steps and answers at every change. */
import { knownNames, NOBODY, type KnownNames } from '@early-set/core/clean/known';
import { runSteps, type Answer, type CleanResult, type CleanTrack } from '@early-set/core/clean/runSteps';
import type { Step } from '@early-set/core/clean/steps';
import { openRules } from './rules.ts';

export type CleanRequest =
  | { what: 'tracks'; tracks: CleanTrack[] }
  | { what: 'names'; names: [string, number][] }
  | { what: 'run'; run: number; steps: Step[]; answers: Record<string, Answer> };
/** Which step is in hand, told before it begins. */
export interface CleanStep {
  run: number;
  stepId: string;
}
export interface CleanAnswer {
  run: number;
  result: CleanResult;
  ms: number;
}

let tracks: CleanTrack[] = [];
let known: KnownNames = NOBODY;
let latest = 0;

self.onmessage = ({ data }: MessageEvent<CleanRequest>) => {
  if (data.what === 'tracks') tracks = data.tracks;
  else if (data.what === 'names') known = knownNames(data.names);
  else {
    latest = data.run;
    void run(data);
  }
};

async function run({ run: number, steps, answers }: CleanRequest & { what: 'run' }): Promise<void> {
  const rules = steps.some((s) => s.on && s.kind === 'rule') ? await openRules() : null;
  try {
    if (number !== latest) return; // a newer one is on its way
    const start = performance.now();
    const onStep = (stepId: string): void => self.postMessage({ run: number, stepId } satisfies CleanStep);
    const result = runSteps(tracks, steps, { known, answers, onStep, ...(rules ? { rule: rules.runner } : {}) });
    const answer: CleanAnswer = { run: number, result, ms: performance.now() - start };
    self.postMessage(answer);
  } finally {
    rules?.close();
  }
}
