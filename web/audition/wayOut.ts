/** The way sound takes from a file to the ear: an audio element through a gain. */

export interface WayOut {
  element: HTMLAudioElement;
  gain: GainNode;
  context: AudioContext;
  /** Lets go of the file and of the sound device; nothing is told any more. */
  close(): void;
}

/** Opens one; what the element tells goes to these. */
export function openWayOut(told: Record<string, () => void>): WayOut {
  const element = new Audio();
  element.preload = 'metadata';
  const context = new AudioContext();
  const gain = context.createGain();
  context.createMediaElementSource(element).connect(gain).connect(context.destination);
  for (const [event, tell] of Object.entries(told)) element.addEventListener(event, tell);
  return {
    element,
    gain,
    context,
    close() {
      for (const [event, tell] of Object.entries(told)) element.removeEventListener(event, tell);
      element.pause();
      element.removeAttribute('src');
      void context.close();
    },
  };
}

const LOOK_MS = 1000;
/** A drive that sleeps takes some seconds to answer. */
const PATIENCE_MS = 6000;

/**
 * Watches, while it plays, whether the time moves on. A sound device that was taken away, or a file server that hangs,
 * stops the element without telling it.
 * @param position seconds; null when nothing plays
 * @param still told each time it has stood still for the whole patience, with how often that was so in a row
 * @param moves told at each look at which it has moved
 */
export function watchStandstill(
  position: () => number | null,
  still: (times: number) => void,
  moves: () => void,
): { begin: () => void; end: () => void } {
  let timer: ReturnType<typeof setInterval> | null = null;
  let last: number | null = null,
    since = 0,
    times = 0;
  const end = (): void => {
    if (timer !== null) clearInterval(timer);
    timer = null;
  };
  const look = (): void => {
    const now = position();
    if (now === null) return end();
    if (now !== last) {
      last = now;
      since = times = 0;
      moves();
      return;
    }
    since += LOOK_MS;
    if (since < PATIENCE_MS) return;
    since = 0;
    still(++times);
  };
  return {
    begin() {
      end();
      last = position();
      since = 0;
      timer = setInterval(look, LOOK_MS);
    },
    end,
  };
}
