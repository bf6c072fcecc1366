/** The one transition that is heard at a time, over and over until it is stopped. A small store outside React. */
import { useSyncExternalStore } from 'react';
import { onPlaying, pauseAudition, soundOut } from '../player.ts';
import type { MixSound } from './render.ts';

export interface MixState {
  /** Which transition: the entry that ends; null for none. */
  name: string | null;
  state: 'silent' | 'making' | 'playing';
  trouble: string | null;
  /** What is planned, as far as it is known. */
  sound: MixSound | null;
}

const SILENT: MixState = { name: null, state: 'silent', trouble: null, sound: null };
/** It begins so long before the fade, and is begun anew so long behind it. */
const LEAD_SECONDS = 8;

let state: MixState = SILENT;
let source: AudioBufferSourceNode | null = null;
/** Counts what was asked for: what comes late is not played. */
let asked = 0;
const watchers = new Set<() => void>();

function set(next: MixState): void {
  state = next;
  for (const tell of watchers) tell();
}

function silence(): void {
  source?.stop();
  source?.disconnect();
  source = null;
}

/** Stops it. */
export function stopMix(): void {
  asked++;
  silence();
  set(SILENT);
}

/**
 * Plays a transition from shortly before the fade to shortly behind it, over and over.
 * @param plan makes it; asked again when it is to sound otherwise
 */
export async function hearMix(name: string, plan: () => Promise<MixSound>): Promise<void> {
  const mine = ++asked;
  pauseAudition();
  set({ ...(state.name === name ? state : SILENT), name, state: 'making', trouble: null });
  try {
    const sound = await plan();
    const { renderMix } = await import('./render.ts');
    const buffer = await renderMix(sound);
    if (mine !== asked) return;
    silence();
    const { context } = soundOut(true);
    source = context!.createBufferSource();
    source.buffer = buffer;
    source.loop = true;
    source.loopStart = Math.max(0, sound.mix.fade.from - LEAD_SECONDS);
    source.loopEnd = Math.min(buffer.duration, sound.mix.fade.to + LEAD_SECONDS);
    source.connect(context!.destination);
    source.start(0, source.loopStart);
    set({ name, state: 'playing', trouble: null, sound });
  } catch (error) {
    if (mine !== asked) return;
    silence();
    set({ ...SILENT, name, trouble: error instanceof Error ? error.message : 'It cannot be heard' });
  }
}

// One sound at a time.
onPlaying((playing) => {
  if (playing && state.state !== 'silent') stopMix();
});

export const useMix = (): MixState =>
  useSyncExternalStore(
    (tell) => {
      watchers.add(tell);
      return () => {
        watchers.delete(tell);
      };
    },
    () => state,
  );
