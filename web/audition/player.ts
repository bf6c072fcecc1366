/**
 * The one audition at a time: an audio element through a gain, so that everything is heard at the same
 * loudness. A small store outside React; components subscribe.
 */
import { useSyncExternalStore } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { auditionGain } from '@early-set/core/arrange/audition';

export interface Auditioned {
  id: number;
  title: string;
  artist: string;
  artHash: string | null;
  lufs: number | null;
  truePeakDbtp: number | null;
  durationSeconds: number | null;
}

export interface PlayerState {
  track: Auditioned | null;
  playing: boolean;
  /** Seconds. */
  position: number;
  duration: number;
  gainDb: number;
  trouble: string | null;
  /** The stretch that is played over and over, in seconds. */
  repeated: { from: number; to: number } | null;
}

let state: PlayerState = {
  track: null,
  playing: false,
  position: 0,
  duration: 0,
  gainDb: 0,
  trouble: null,
  repeated: null,
};
const watchers = new Set<() => void>();
let element: HTMLAudioElement | null = null;
let gain: GainNode | null = null;
let context: AudioContext | null = null;

function set(part: Partial<PlayerState>): void {
  state = { ...state, ...part };
  for (const notify of watchers) notify();
}

function audio(): HTMLAudioElement {
  if (element) return element;
  element = new Audio();
  element.preload = 'metadata';
  context = new AudioContext();
  gain = context.createGain();
  context.createMediaElementSource(element).connect(gain).connect(context.destination);
  const follow = (): void =>
    set({
      position: element!.currentTime,
      duration: Number.isFinite(element!.duration) ? element!.duration : state.duration,
    });
  element.addEventListener('timeupdate', follow);
  element.addEventListener('durationchange', follow);
  element.addEventListener('seeked', follow);
  element.addEventListener('play', () => set({ playing: true }));
  element.addEventListener('pause', () => set({ playing: false }));
  element.addEventListener('ended', () => set({ playing: false }));
  element.addEventListener('error', () => {
    if (state.track) set({ playing: false, trouble: 'This file cannot be played; it may be missing or broken' });
  });
  return element;
}

/** The way out for other sounds, and where the audition stands at this very moment. */
export function soundOut(wake = false): { context: AudioContext | null; position: number; playing: boolean } {
  if (wake) {
    audio();
    void context?.resume();
  }
  return { context, position: element?.currentTime ?? 0, playing: state.playing };
}

/** Plays a track from its start, or goes on with it when it is the one in hand. */
export function audition(row: SheetRow): void {
  const v = row.values;
  const track: Auditioned = {
    id: row.id,
    title: String(
      v.title ??
        String(v.path ?? '')
          .split('/')
          .at(-1),
    ),
    artist: Array.isArray(v.artist) ? v.artist.join('; ') : '',
    artHash: row.artHash,
    lufs: typeof v.lufs === 'number' ? v.lufs : null,
    truePeakDbtp: typeof v.truePeakDbtp === 'number' ? v.truePeakDbtp : null,
    durationSeconds: typeof v.durationSeconds === 'number' ? v.durationSeconds : null,
  };
  const player = audio();
  if (state.track?.id !== track.id) {
    const gainDb = auditionGain(track.lufs, track.truePeakDbtp);
    gain!.gain.value = 10 ** (gainDb / 20);
    player.src = `/api/tracks/${track.id}/audio`;
    set({ track, position: 0, duration: track.durationSeconds ?? 0, gainDb, trouble: null, repeated: null });
  }
  void context?.resume();
  player.play().catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') return; // another track was chosen meanwhile
    set({ playing: false, trouble: 'This file cannot be played; it may be missing or broken' });
  });
}

/** Space: plays the chosen track, or stops it when it plays. */
export function toggleAudition(row: SheetRow | null): void {
  if (row && state.track?.id !== row.id) {
    audition(row);
    return;
  }
  if (!state.track) return;
  const player = audio();
  if (state.playing) player.pause();
  else void player.play().catch(() => undefined);
}

/** Moves to a time, inside the track. */
export function seek(seconds: number): void {
  if (!state.track) return;
  const player = audio();
  const target = Math.max(0, Math.min((state.duration || seconds) - 0.05, seconds));
  player.currentTime = target;
  const { repeated } = state;
  set({
    position: target,
    repeated: repeated && target >= repeated.from - 0.01 && target < repeated.to ? repeated : null,
  });
}

/** Plays a stretch over and over, until somebody goes elsewhere; null lets it go on. */
export function repeat(stretch: PlayerState['repeated']): void {
  set({ repeated: stretch });
  // The element tells its time a few times a second only; the end of a loop is wanted to the frame.
  const watch = (): void => {
    if (state.repeated !== stretch || !stretch || !element) return;
    if (element.currentTime >= stretch.to) element.currentTime = stretch.from;
    requestAnimationFrame(watch);
  };
  watch();
}

export const jump = (seconds: number): void => seek(state.position + seconds);

/** Stops and forgets. */
export function endAudition(): void {
  element?.pause();
  element?.removeAttribute('src');
  set({ track: null, playing: false, position: 0, trouble: null, repeated: null });
}

/** The player's state. */
export const usePlayer = (): PlayerState =>
  useSyncExternalStore(
    (notify) => {
      watchers.add(notify);
      return () => {
        watchers.delete(notify);
      };
    },
    () => state,
  );
