/** A worker that answers when the test lets it, with what the real one would. */
import { act } from '@testing-library/react';
import { costTable } from '@early-set/core/arrange/order';
import { smooth } from '@early-set/core/arrange/smooth';
import type { SmoothAnswer, SmoothRequest } from '../views/arrange/smoothWorker.ts';

export interface FakeWorker {
  request: SmoothRequest;
  ended: boolean;
  tell: (answer: SmoothAnswer) => void;
  /** Works it out and tells. */
  finish: () => void;
  fail: () => void;
}

/** Takes the place of the browser's workers; those that were started, in order. */
export function fakeWorkers(): FakeWorker[] {
  const started: FakeWorker[] = [];
  globalThis.Worker = class {
    onmessage?: (e: { data: SmoothAnswer }) => void;
    onerror?: () => void;
    #own: FakeWorker | null = null;
    postMessage(request: SmoothRequest): void {
      const tell = (data: SmoothAnswer): void => act(() => this.onmessage?.({ data }));
      this.#own = {
        request,
        ended: false,
        tell,
        finish: () =>
          tell({
            order: smooth(costTable(request.entries, request.wish), { pinned: new Set(request.pinned) }),
          }),
        fail: () => act(() => this.onerror?.()),
      };
      started.push(this.#own);
    }
    terminate(): void {
      if (this.#own) this.#own.ended = true;
    }
  } as unknown as typeof Worker;
  return started;
}
