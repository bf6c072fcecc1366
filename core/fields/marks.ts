/** Places in a track that people set: cues, loops, anchored beats, sections. A field holds them as one JSON text. */
import { cleanText } from './text.ts';
import { cut } from './cut.ts';

export interface Mark {
  /** Seconds. */
  at: number;
  /** Where a loop or a section ends. */
  end?: number;
  name?: string;
  /** One of MARK_COLOURS. */
  colour?: string;
}

/** Names of our own palette; the page knows how each looks by day and by night. */
export const MARK_COLOURS = ['buoy', 'kelp', 'sodium', 'tide', 'flare', 'slate'] as const;

const MAX_MARKS = 500;
const LATEST = 86_400 * 2;

const ms = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/**
 * Reads and tidies marks: sorted by time, to the millisecond.
 * @returns a sentence about the first that makes no sense
 */
export function readMarks(input: unknown): Mark[] | string {
  let list: unknown = input;
  if (typeof input === 'string')
    try {
      list = JSON.parse(input);
    } catch {
      return 'Marks are a list of places';
    }
  if (!Array.isArray(list)) return 'Marks are a list of places';
  if (list.length > MAX_MARKS) return `A track holds at most ${MAX_MARKS} marks of a kind`;
  const out: Mark[] = [];
  for (const entry of list as Partial<Mark>[]) {
    const { at, end, name, colour } = entry ?? {};
    if (typeof at !== 'number' || !Number.isFinite(at) || at < 0 || at > LATEST)
      return 'A mark lies at a time within the track';
    if (end !== undefined && (typeof end !== 'number' || !Number.isFinite(end) || end <= at || end > LATEST))
      return 'A loop ends after it begins';
    if (colour !== undefined && !(MARK_COLOURS as readonly string[]).includes(colour))
      return `There is no colour ${String(colour)}`;
    const text = name === undefined ? '' : cut(cleanText(String(name)), 200);
    const mark: Mark = { at: ms(at) };
    if (end !== undefined) mark.end = ms(end);
    if (text) mark.name = text;
    if (colour !== undefined) mark.colour = colour;
    out.push(mark);
  }
  return out.sort((a, b) => a.at - b.at || (a.end ?? 0) - (b.end ?? 0));
}

/** Marks of a field's value; none where it holds none. */
export function marksOf(value: unknown): Mark[] {
  const marks = typeof value === 'string' && value ? readMarks(value) : [];
  return typeof marks === 'string' ? [] : marks;
}

/** The value that holds marks; null for none. */
export const marksValue = (marks: readonly Mark[]): string | null => (marks.length ? JSON.stringify(marks) : null);

/** Marks in words: "3 cues, 1 loop". */
export function marksText(marks: readonly Mark[], one = 'cue'): string {
  const loops = marks.filter((m) => m.end !== undefined).length,
    points = marks.length - loops;
  const several = (n: number, word: string): string => `${n} ${word}${n === 1 ? '' : 's'}`;
  return one === 'cue'
    ? [points && several(points, 'cue'), loops && several(loops, 'loop')].filter(Boolean).join(', ')
    : several(marks.length, one);
}
