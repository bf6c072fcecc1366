/**
 * The worker that runs steps, watched: one step that does not end is stopped and named, and the next run is possible.
 */
import type { CleanResult } from '@early-set/core/clean/runSteps';
import type { CleanAnswer, CleanRequest, CleanStep } from './worker.ts';

/** One step over all tracks takes a second or two for a hundred thousand. */
export const STEP_SECONDS = 15;

type Run = CleanRequest & { what: 'run' };

export class StepsWorker {
  readonly #begin: () => Worker;
  readonly #onResult: (given: { run: number; result: CleanResult }) => void;
  readonly #onBroken: () => void;
  #worker: Worker;
  /** What a new worker has to be told again. */
  readonly #told = new Map<'tracks' | 'names', CleanRequest>();
  #last: Run | null = null;
  #inHand: CleanStep | null = null;
  #watch: ReturnType<typeof setTimeout> | undefined;

  constructor(
    begin: () => Worker,
    onResult: (given: { run: number; result: CleanResult }) => void,
    onBroken: () => void,
  ) {
    this.#begin = begin;
    this.#onResult = onResult;
    this.#onBroken = onBroken;
    this.#worker = this.#start();
  }
  send(request: CleanRequest): void {
    if (request.what === 'run') this.#last = request;
    else this.#told.set(request.what, request);
    this.#worker.postMessage(request);
  }
  close(): void {
    clearTimeout(this.#watch);
    this.#worker.terminate();
  }
  #start(): Worker {
    const worker = this.#begin();
    worker.onmessage = ({ data }: MessageEvent<CleanAnswer | CleanStep>) => {
      clearTimeout(this.#watch);
      if ('result' in data) {
        this.#inHand = null;
        this.#onResult(data);
        return;
      }
      this.#inHand = data;
      this.#watch = setTimeout(() => this.#stop(), STEP_SECONDS * 1000);
    };
    worker.onerror = this.#onBroken;
    return worker;
  }
  #stop(): void {
    const stuck = this.#inHand,
      last = this.#last;
    this.#inHand = null;
    this.#worker.terminate();
    this.#worker = this.#start();
    for (const request of this.#told.values()) this.#worker.postMessage(request);
    if (!stuck || !last) return;
    if (last.run !== stuck.run) {
      // Its steps may be others by now.
      this.#worker.postMessage(last);
      return;
    }
    const trouble = `This step took longer than ${STEP_SECONDS} s and was stopped; nothing would be changed`;
    this.#onResult({
      run: last.run,
      result: {
        changes: [],
        steps: last.steps.map(({ id }) => ({ id, tracks: 0, trouble: id === stuck.stepId ? trouble : null })),
        questions: [],
        lockedTracks: 0,
      },
    });
  }
}
