/**
 * The one audition at a time: an audio element through a gain, so that everything is heard at the same
 * loudness. A small store outside React; components subscribe.
 */
import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { remembered } from '../data/remembered.ts';
import { auditionGain } from '@early-set/core/arrange/audition';
import { openWayOut, watchStandstill, type WayOut } from './wayOut.ts';

export interface Auditioned {
  /** Below 0: it is no track of the library. */
  id: number;
  /** Where it is heard, where that is no file of the library. */
  src?: string;
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
  /** Among which tracks it is, so that there is a next one. */
  order: PlayOrder | null;
}

/** The tracks among which one was auditioned: a sheet as it was narrowed and sorted, a list. */
export interface PlayOrder {
  /** Which; a view that shows the same goes along with what is played. */
  name: string;
  /** Place of the track in hand. */
  at: number;
  /** Nothing beyond either end. */
  rowAt: (index: number) => Promise<SheetRow | undefined> | SheetRow | undefined;
  /** Share of the length at which each begins; the beginning when not given. */
  from?: number;
}

let state: PlayerState = {
  track: null,
  playing: false,
  position: 0,
  duration: 0,
  gainDb: 0,
  trouble: null,
  repeated: null,
  order: null,
};
const watchers = new Set<() => void>();
let way: WayOut | null = null;

function set(part: Partial<PlayerState>): void {
  state = { ...state, ...part };
  for (const notify of watchers) notify();
}

const CANNOT = 'This file cannot be played; it may be missing or broken';
const SILENT = 'Nothing is heard: the file or the sound device does not answer';

function follow(): void {
  const { element } = way!;
  again();
  set({
    position: element.currentTime,
    duration: Number.isFinite(element.duration) ? element.duration : state.duration,
  });
}

const standstill = watchStandstill(
  () => (way && state.playing ? way.element.currentTime : null),
  (times) => {
    // The file is asked for anew, through a sound device opened anew.
    if (times <= 2) startAnew();
    else set({ trouble: SILENT });
  },
  () => {
    if (state.trouble === SILENT) set({ trouble: null });
  },
);

const TOLD: Record<string, () => void> = {
  timeupdate: follow,
  durationchange: follow,
  seeked: follow,
  play() {
    set({ playing: true });
    standstill.begin();
  },
  pause() {
    // A browser that answers a pause only after the play that followed it: what was asked for last counts.
    const late = askedToPlayAt !== null && Date.now() - askedToPlayAt < LATE_MS && way?.element.ended !== true;
    if (late) play(false);
    else set({ playing: false });
  },
  ended() {
    set({ playing: false });
    if (playsOn()) void auditionNext(1);
  },
  error() {
    if (state.track) set({ playing: false, trouble: CANNOT });
  },
};

const out = (): WayOut => (way ??= openWayOut(TOLD));

/** Puts the track in hand into the way out. */
function load(track: Auditioned): void {
  const { element, gain } = out();
  gain.gain.value = 10 ** (state.gainDb / 20);
  element.src = track.src ?? `/api/tracks/${track.id}/audio`;
}

/** So long after a play was asked for, a pause that nobody asked for is not believed. */
const LATE_MS = 1000;
let askedToPlayAt: number | null = null;

function pause(): void {
  askedToPlayAt = null;
  out().element.pause();
}

/** @param anew it is asked for by somebody, and not once more for the same wish */
function play(anew = true): void {
  const { element, context } = out();
  askedToPlayAt = anew ? Date.now() : null;
  void context.resume();
  element.play().catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') return; // another track was chosen meanwhile
    set({ playing: false, trouble: CANNOT });
  });
}

/** The same track from where it is, through a way out of its own. */
function startAnew(): void {
  const { track } = state;
  if (!track) return;
  const at = way?.element.currentTime ?? state.position;
  way?.close();
  way = null;
  load(track);
  out().element.currentTime = at;
  play();
}

/** The way out for other sounds, and at the playhead at this very moment. */
export function soundOut(wake = false): { context: AudioContext | null; position: number; playing: boolean } {
  if (wake) void out().context.resume();
  return { context: way?.context ?? null, position: way?.element.currentTime ?? 0, playing: state.playing };
}

/** Under this name it is remembered whether the next track follows by itself. */
export const PLAY_ON = 'play-on';
const playsOn = (): boolean => remembered<boolean>(PLAY_ON, false);

/** Plays a track from its start, or goes on with it when it is the one in hand. */
export function audition(row: SheetRow, order: PlayOrder | null = null): void {
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
  begin(track, order);
}

/** Something that is not in the library, by where it is heard; what is in hand goes on, or stops. */
export function toggleOutside({
  src,
  ...told
}: Pick<Auditioned, 'title' | 'artist' | 'durationSeconds'> & { src: string }): void {
  const id = outsideId(src);
  if (state.track?.id === id) toggleAudition(null);
  else begin({ ...told, id, src, artHash: null, lufs: null, truePeakDbtp: null }, null);
}
const outside: string[] = [];
/** The id under which something outside is in hand. */
function outsideId(src: string): number {
  const at = outside.indexOf(src);
  return -(at < 0 ? outside.push(src) : at + 1);
}

function begin(track: Auditioned, order: PlayOrder | null): void {
  if (state.track?.id !== track.id) {
    const gainDb = auditionGain(track.lufs, track.truePeakDbtp);
    set({ track, position: 0, duration: track.durationSeconds ?? 0, gainDb, trouble: null, repeated: null });
    load(track);
    if (order?.from) seek((track.durationSeconds ?? 0) * order.from);
  }
  if (order || track.src) set({ order });
  play();
}

/** The next track (1) or the one before (−1), where there is one. Answers whether there was. */
export async function auditionNext(by: 1 | -1): Promise<boolean> {
  const { order } = state;
  if (!order || order.at + by < 0) return false;
  const row = await order.rowAt(order.at + by);
  if (!row || state.order !== order) return false; // nothing there, or something else was chosen meanwhile
  audition(row, { ...order, at: order.at + by });
  return true;
}

/** Space: plays the chosen track, or stops it when it plays. */
export function toggleAudition(row: SheetRow | null, order: PlayOrder | null = null): void {
  if (row && state.track?.id !== row.id) {
    audition(row, order);
    return;
  }
  if (!state.track) return;
  if (isPlaying()) pause();
  else play();
}

/** The track that is played, or was last. */
export const trackInHand = (): number | null => state.track?.id ?? null;

/** As the element itself says; its events come later. */
export const isPlaying = (): boolean => way !== null && state.track !== null && !way.element.paused;

/** Moves to a time, inside the track. */
export function seek(seconds: number): void {
  if (!state.track) return;
  const target = Math.max(0, Math.min((state.duration || seconds) - 0.05, seconds));
  out().element.currentTime = target;
  const { repeated } = state;
  set({
    position: target,
    repeated: repeated && target >= repeated.from - 0.01 && target < repeated.to ? repeated : null,
  });
}

/** Back to its start, when the stretch that is repeated has come to its end. */
function again(): void {
  const { repeated } = state;
  if (repeated && way && way.element.currentTime >= repeated.to) way.element.currentTime = repeated.from;
}

/** Plays a stretch over and over, until somebody goes elsewhere; null lets it go on. */
export function repeat(stretch: PlayerState['repeated']): void {
  set({ repeated: stretch });
  // The element tells its time a few times a second only; the end of a loop is wanted to the frame. A page that
  // is not seen has no frames: there the element's own telling has to do.
  const watch = (): void => {
    if (state.repeated !== stretch || !stretch || !way) return;
    again();
    requestAnimationFrame(watch);
  };
  watch();
}

export const jump = (seconds: number): void => seek(state.position + seconds);

/** Stops and forgets. */
export function endAudition(): void {
  if (way) pause();
  way?.element.removeAttribute('src');
  set({ track: null, playing: false, position: 0, trouble: null, repeated: null, order: null });
}

/** Silences it, where it plays. */
export function pauseAudition(): void {
  if (isPlaying()) pause();
}

/** Tells when it begins to play, and when it stops. */
export function onPlaying(tell: (playing: boolean) => void): void {
  let last = state.playing;
  watchers.add(() => {
    if (state.playing !== last) tell((last = state.playing));
  });
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

/** Goes along in a view that shows the order which is played, when the next or the former track follows. */
export function useFollow(name: string, go: (at: number) => void): void {
  const at = usePlayer().order?.name === name ? state.order!.at : null;
  const latest = useRef(go);
  const seen = useRef(at);
  useEffect(() => {
    latest.current = go;
  });
  useEffect(() => {
    if (at !== null && seen.current !== null && at !== seen.current) latest.current(at);
    seen.current = at;
  }, [at]);
}
