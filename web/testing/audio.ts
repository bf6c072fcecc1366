/** Sound for tests of the page: an audio element that plays nothing, goes where it is told and says so. */
export interface FakeAudio {
  elements: HTMLAudioElement[];
  gains: { value: number }[];
  frames: FrameRequestCallback[];
  fail: (why: DOMException | null) => void;
}

export function fakeAudio(): FakeAudio {
  const made: FakeAudio = {
    elements: [],
    gains: [],
    frames: [],
    fail: (why) => {
      failing = why;
    },
  };
  let failing: DOMException | null = null;
  class Element extends EventTarget {
    src = '';
    preload = '';
    duration = NaN;
    paused = true;
    ended = false;
    #time = 0;
    get currentTime(): number {
      return this.#time;
    }
    set currentTime(t: number) {
      this.#time = t;
      this.dispatchEvent(new Event('seeked'));
    }
    constructor() {
      super();
      made.elements.push(this as unknown as HTMLAudioElement);
    }
    play(): Promise<void> {
      if (failing) return Promise.reject(failing);
      this.paused = false;
      this.dispatchEvent(new Event('play'));
      return Promise.resolve();
    }
    pause(): void {
      this.paused = true;
      this.dispatchEvent(new Event('pause'));
    }
    removeAttribute(): void {
      this.src = '';
    }
  }
  const node = { connect: (to: unknown) => to };
  globalThis.Audio = Element as unknown as typeof Audio;
  globalThis.AudioContext = class {
    destination = node;
    createGain(): unknown {
      const gain = { value: 1 };
      made.gains.push(gain);
      return { ...node, gain };
    }
    createMediaElementSource(): unknown {
      return node;
    }
    resume(): Promise<void> {
      return Promise.resolve();
    }
    close(): Promise<void> {
      return Promise.resolve();
    }
  } as unknown as typeof AudioContext;
  globalThis.requestAnimationFrame = (then) => made.frames.push(then);
  return made;
}
