/**
 * How a playlist runs: when each entry begins, how long it is heard, at which tempo, and how far it lies over the next.
 * The one place where times of entries are worked out.
 */
import type { EntryData, EntryKind } from '../changes/snapshot.ts';
import type { TrackValues } from '../fields/values.ts';
import { countedTempo } from './fit.ts';
import { MAX_TEMPO_STEP } from './transition.ts';

export interface Timed {
  kind: EntryKind;
  data: EntryData;
  values: TrackValues;
}

/** Without another word a bar has so many beats. */
const DEFAULT_BEATS = 4;
/** Outro and intro lie over each other where both have so many bars at least, and then for a multiple of them. */
export const MIN_BARS_OVER = 4;
/** The longest that is proposed, in bars. */
const MAX_BARS_OVER = 32;

const number = (value: unknown): number | null => (typeof value === 'number' && Number.isFinite(value) ? value : null);
export const beatsPerBar = (values: TrackValues): number => number(values.beatsPerBar) ?? DEFAULT_BEATS;
const isSound = ({ kind }: Timed): boolean => kind === 'track' || kind === 'jingle';

/** How long an entry lasts by itself, in seconds: own start and end count before its track's length. */
export function lengthOf({ kind, data, values }: Timed): number {
  if (kind === 'note') return 0;
  if (kind !== 'track' && kind !== 'jingle') return data.seconds ?? 0;
  const whole = number(values.durationSeconds) ?? data.seconds ?? 0;
  return Math.max(0, Math.min(data.to ?? whole, whole || Infinity) - (data.from ?? 0));
}

/** From where to where of its file an entry is heard, in seconds: by hand, else from audible start to audible end. */
export function heardPart({ data, values }: Timed): { from: number; to: number } {
  const whole = number(values.durationSeconds) ?? data.seconds ?? 0;
  const to = Math.min(data.to ?? number(values.audibleEndSeconds) ?? whole, whole || Infinity);
  return { from: Math.min(data.from ?? number(values.audibleStartSeconds) ?? 0, to), to };
}

/** Tempi in BPM as the track itself counts, where it begins and where it ends. */
export interface Played {
  from: number;
  to: number;
  /** Beats over which it goes from one to the other, from its start. */
  beats: number;
}

export interface Over {
  seconds: number;
  /** Of the track that ends; null without a tempo. */
  bars: number | null;
  by: 'hand' | 'outro and intro' | 'segue point' | 'nothing';
}

export interface Schedule {
  /** Seconds from the list's own start, per entry. */
  starts: number[];
  /** Seconds for which each is heard. */
  lengths: number[];
  /** Tempo of each; null for what has none. */
  played: (Played | null)[];
  /** How far each lies over the next that is no note. */
  over: Over[];
  /** The whole length, in seconds. */
  total: number;
}

const NOTHING: Over = { seconds: 0, bars: null, by: 'nothing' };

/** Each entry begins when the one before has ended, or so much earlier as that one lies over it. */
export function schedule(entries: readonly Timed[]): Schedule {
  const starts: number[] = [],
    lengths: number[] = [],
    played: (Played | null)[] = [],
    over: Over[] = entries.map(() => NOTHING);
  let at = 0,
    end = 0,
    former: number | null = null;
  for (const [i, entry] of entries.entries()) {
    const before: number | null = former;
    played.push(playedAt(entry, before === null ? null : played[before]!));
    lengths.push(isSound(entry) ? heardSeconds(entry, played[i]!) : lengthOf(entry));
    starts.push(at);
    if (entry.kind === 'note') continue;
    if (before !== null) {
      const longest = Math.min(lengths[before]!, lengths[i]!);
      const lies = overOf(entries[before]!, entry, played[before]!);
      // By hand it may be as long as the former is; else no more than half of either.
      const most = lies.by === 'hand' ? lengths[before]! : longest / 2;
      over[before] = lies.seconds <= most ? lies : withSeconds(lies, most, entries[before]!, played[before]!);
      at -= over[before].seconds;
    }
    // Notes before it stand at the same time.
    for (let k = i; k > (before ?? -1); k--) starts[k] = at;
    at += lengths[i]!;
    end = Math.max(end, at);
    former = i;
  }
  return { starts, lengths, played, over, total: end };
}

/** The tempo at which an entry is played: its own, the former's, or from that to its own over some bars. */
function playedAt({ kind, data, values }: Timed, former: Played | null): Played | null {
  const own = kind === 'track' ? number(values.bpm) : null;
  if (own === null || own <= 0) return null;
  const { tempo } = data;
  if (!tempo || !former) return { from: own, to: own, beats: 0 };
  const { multiple } = countedTempo(former.to, own);
  const from = former.to / multiple;
  if (tempo === 'former') return { from, to: from, beats: 0 };
  return { from, to: own, beats: (data.rampBars ?? DEFAULT_RAMP_BARS) * beatsPerBar(values) };
}
export const DEFAULT_RAMP_BARS = 16;

/** How long a track is heard at the tempo at which it is played. */
function heardSeconds(entry: Timed, played: Played | null): number {
  const { from, to } = heardPart(entry);
  const own = number(entry.values.bpm);
  const length = to - from;
  if (!played || !own || length <= 0) return Math.max(0, length);
  const beats = Math.min(played.beats, (length * own) / 60);
  // The tempo rises evenly from beat to beat: the time is the sum of 60 / tempo over them.
  const change = (played.to - played.from) / (played.beats || 1),
    reached = played.from + change * beats;
  const ramp =
    beats === 0
      ? 0
      : Math.abs(change) < 1e-9
        ? (60 * beats) / played.from
        : (60 / change) * Math.log(reached / played.from);
  return ramp + (length - (60 * beats) / own) * (own / played.to);
}

const barSeconds = (values: TrackValues, played: Played): number => (60 / played.to) * beatsPerBar(values);

function withSeconds(lies: Over, seconds: number, { values }: Timed, played: Played | null): Over {
  return { ...lies, seconds, bars: played && seconds / barSeconds(values, played) };
}

/** How far an entry lies over the next: by hand, by outro and intro, or from its segue point on. */
function overOf(from: Timed, to: Timed, played: Played | null): Over {
  const bar = played && barSeconds(from.values, played);
  const { overlap, overlapBars } = from.data;
  if (overlapBars !== undefined && bar) return { seconds: overlapBars * bar, bars: overlapBars, by: 'hand' };
  if (overlap !== undefined) return { seconds: overlap, bars: bar && overlap / bar, by: 'hand' };
  if (from.kind !== 'track' || to.kind !== 'track') return NOTHING;
  if (bar) {
    const bars = barsOver(from, to, bar, played.to);
    if (bars > 0) return { seconds: bars * bar, bars, by: 'outro and intro' };
  }
  const segue = number(from.values.segueSeconds),
    { to: end } = heardPart(from);
  if (segue === null || segue >= end) return { ...NOTHING, bars: bar && 0 };
  return { seconds: end - segue, bars: bar && (end - segue) / bar, by: 'segue point' };
}

/** As many fours of bars as both outro and intro have, where the tempi go together; else 0. */
function barsOver(from: Timed, to: Timed, bar: number, tempo: number): number {
  const outro = number(from.values.outroStartSeconds),
    intro = number(to.values.introEndSeconds),
    own = number(to.values.bpm);
  if (outro === null || intro === null || own === null) return 0;
  const { multiple } = countedTempo(tempo, own);
  if (Math.abs((own * multiple) / tempo - 1) * 100 > MAX_TEMPO_STEP.uneven) return 0;
  const ends = (heardPart(from).to - outro) * (number(from.values.bpm)! / tempo),
    begins = (intro - heardPart(to).from) * ((own * multiple) / tempo);
  const bars = Math.floor(Math.min(ends, begins, MAX_BARS_OVER * bar) / bar + 1e-6);
  return bars - (bars % MIN_BARS_OVER);
}

/** What is in no order follows itself as it lies in its file, and goes over into nothing. */
export function oneByOne(entries: readonly Timed[]): Schedule {
  const lengths = entries.map(lengthOf);
  let total = 0;
  const starts = lengths.map((length) => (total += length) - length);
  return {
    starts,
    lengths,
    played: entries.map(() => null),
    over: entries.map(() => NOTHING),
    total,
  };
}
