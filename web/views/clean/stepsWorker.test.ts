import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import type { CleanResult } from '@early-set/core/clean/runSteps';
import { newStep } from '@early-set/core/clean/steps';
import { STEP_SECONDS, StepsWorker } from './stepsWorker.ts';
import type { CleanAnswer, CleanRequest, CleanStep } from './worker.ts';

interface Fake {
  heard: CleanRequest[];
  ended: boolean;
  say: (data: CleanAnswer | CleanStep) => void;
}
const made: Fake[] = [];
const results: { run: number; result: CleanResult }[] = [];
let watched: StepsWorker;
const begin = (): Worker => {
  const worker = {
    onmessage: null as ((e: { data: unknown }) => void) | null,
    postMessage: (request: CleanRequest) => fake.heard.push(request),
    terminate: () => (fake.ended = true),
  };
  const fake: Fake = { heard: [], ended: false, say: (data) => worker.onmessage!({ data }) };
  made.push(fake);
  return worker as unknown as Worker;
};
const NOTHING: CleanResult = { changes: [], steps: [], questions: [], lockedTracks: 0 };
const steps = [newStep('characters', 'a'), newStep('rule', 'b', { source: 'return [].join' })];
const run = (n: number, of = steps): CleanRequest => ({ what: 'run', run: n, steps: of, answers: {} });

beforeEach(() => {
  jest.useFakeTimers();
  made.length = results.length = 0;
  watched = new StepsWorker(begin, (given) => results.push(given), jest.fn());
  watched.send({ what: 'tracks', tracks: [] });
  watched.send({ what: 'names', names: [['Brine Choir', 3]] });
});
afterEach(() => {
  watched.close();
  jest.useRealTimers();
});

test('a step that does not end is stopped and named; what follows finds a new worker that knows all', () => {
  watched.send(run(1));
  made[0]!.say({ run: 1, stepId: 'a' });
  jest.advanceTimersByTime(STEP_SECONDS * 900);
  made[0]!.say({ run: 1, stepId: 'b' });
  jest.advanceTimersByTime(STEP_SECONDS * 900);
  expect(made).toHaveLength(1);
  jest.advanceTimersByTime(STEP_SECONDS * 200);
  expect(made.map((w) => w.ended)).toEqual([true, false]);
  expect(results).toEqual([
    {
      run: 1,
      result: {
        ...NOTHING,
        steps: [
          { id: 'a', tracks: 0, trouble: null },
          { id: 'b', tracks: 0, trouble: expect.stringContaining('was stopped') },
        ],
      },
    },
  ]);
  expect(made[1]!.heard.map((r) => r.what)).toEqual(['tracks', 'names']);
  watched.send(run(2));
  made[1]!.say({ run: 2, result: NOTHING, ms: 1 });
  expect(results.at(-1)).toMatchObject({ run: 2, result: NOTHING });
});

test('steps that were changed meanwhile are run by the new worker', () => {
  watched.send(run(1));
  made[0]!.say({ run: 1, stepId: 'b' });
  watched.send(run(2, steps.slice(0, 1)));
  jest.advanceTimersByTime(STEP_SECONDS * 1000);
  expect(results).toEqual([]);
  expect(made[1]!.heard.at(-1)).toMatchObject({ what: 'run', run: 2 });
});

test('nothing is stopped when a run has ended, however long nobody asks', () => {
  watched.send(run(1));
  made[0]!.say({ run: 1, stepId: 'a' });
  made[0]!.say({ run: 1, result: NOTHING, ms: 5 });
  jest.advanceTimersByTime(STEP_SECONDS * 10_000);
  expect(made).toHaveLength(1);
  expect(results).toHaveLength(1);
});
