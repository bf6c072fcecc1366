/** Tracks while steps run over them. */
import { fieldOf } from '../fields/table.ts';
import { isEmpty, sameValue, type FieldValue, type TrackValues } from '../fields/values.ts';
import { safeFileName } from '../files/paths.ts';
import type { KnownNames } from './known.ts';
import { cut } from '../fields/cut.ts';

export interface CleanTrack {
  id: number;
  /** With the path, where its file lies. */
  rootId: number;
  path: string;
  values: TrackValues;
  locked: readonly string[];
}

/** A rule of one's own, run in a sandbox by whoever runs the steps. @throws Error with the line it broke at */
export type RuleRunner = (source: string) => (track: TrackValues & { path: string }) => Record<string, unknown>;

/** Ends a step for all tracks: what it has done to some of them is taken back. */
export class StepStopped extends Error {
  override name = 'StepStopped';
}

export type Answer = 'keep' | 'go';

export interface CleanContext {
  known: KnownNames;
  /** By `${stepId}:${trackId}:${field}`, or `${stepId}:*` for all of a step. */
  answers: Readonly<Record<string, Answer>>;
  rule?: RuleRunner;
  /** Told before each step, so that one that does not end can be named. */
  onStep?: (stepId: string) => void;
}

interface Changed {
  field: string;
  before: FieldValue | undefined;
}
const NOTHING: readonly Changed[] = [];

/** A track under way: values as the steps before have left them. */
export class Working {
  readonly track: CleanTrack;
  readonly values: TrackValues;
  touchedLock = false;
  /** Why what the step in hand does is unsure, and asked before it is done. */
  doubt: string | null = null;
  /** Fields whose text was split by hand: later steps take nothing out of them. */
  readonly splitByHand = new Set<string>();
  /** Fields that any step has set. */
  readonly touched: string[] = [];
  /** Fields that the step in hand has set, and beside them what they held before it. */
  readonly #set: string[] = [];
  readonly #before: (FieldValue | undefined)[] = [];
  constructor(track: CleanTrack) {
    this.track = track;
    this.values = { ...track.values };
  }
  text(field: string): string {
    const value = this.values[field];
    return Array.isArray(value) ? value.join('; ') : isEmpty(value) ? '' : String(value);
  }
  list(field: string): string[] {
    const value = this.values[field];
    return Array.isArray(value) ? value : isEmpty(value) ? [] : [String(value)];
  }
  /** Texts become what the field holds: a list, a number, or text. Locked fields stay. */
  set(field: string, to: FieldValue): void {
    if (sameValue(this.values[field], to)) return;
    const next = fitting(field, to);
    if (sameValue(this.values[field], next)) return;
    if (next === null && field === 'fileName') return; // a file has to have a name
    if (this.track.locked.includes(field)) {
      this.touchedLock = true;
      return;
    }
    if (!this.#set.includes(field)) {
      this.#set.push(field);
      this.#before.push(this.values[field]);
      if (!this.touched.includes(field)) this.touched.push(field);
    }
    this.values[field] = next;
  }
  /** A step begins: what was set before it stands. */
  begin(): void {
    if (this.#set.length > 0) {
      this.#set.length = 0;
      this.#before.length = 0;
    }
    this.doubt = null;
  }
  /** What the step has changed, with the values before it. */
  changed(): readonly Changed[] {
    if (this.#set.length === 0) return NOTHING;
    const out: Changed[] = [];
    this.#set.forEach((field, i) => {
      if (!sameValue(this.#before[i], this.values[field])) out.push({ field, before: this.#before[i] });
    });
    return out;
  }
  /** As before the step. */
  takeBack(): void {
    this.#set.forEach((field, i) => {
      this.values[field] = this.#before[i] ?? null;
    });
    this.begin();
  }
  /** One field as before the step. */
  takeBackField(field: string): void {
    const i = this.#set.indexOf(field);
    if (i >= 0) this.values[field] = this.#before[i] ?? null;
  }
  /** As it was found. */
  reset(): void {
    for (const field of this.touched) this.values[field] = this.track.values[field] ?? null;
  }
  /** Takes something out of each text of a field, except where somebody has split it by hand. */
  takeOut(field: string, change: (text: string) => string): void {
    if (!this.splitByHand.has(field)) this.each(field, change);
  }
  /** Changes each text of a field by itself. */
  each(field: string, change: (text: string) => string): void {
    const value = this.values[field];
    if (Array.isArray(value)) {
      if (value.some((text) => change(text) !== text)) this.set(field, value.map(change));
    } else if (typeof value === 'string') this.set(field, change(value));
  }
}

/** What a field makes of a value; null where it cannot hold it. */
export function fitting(field: string, to: FieldValue): FieldValue {
  const { type, limits } = fieldOf(field);
  if (isEmpty(to)) return null;
  if (field === 'fileName') return safeFileName(String(to), '') || null;
  if (type === 'texts') {
    const list = [...new Set((Array.isArray(to) ? to : [String(to)]).map((t) => t.trim()).filter(Boolean))];
    return list.length ? list : null;
  }
  if (type === 'integer' || type === 'number') {
    const n = typeof to === 'number' ? to : Number(String(Array.isArray(to) ? to[0] : to).trim());
    return Number.isFinite(n) && n >= (limits.min ?? -Infinity) && n <= (limits.max ?? Infinity)
      ? type === 'integer'
        ? Math.round(n)
        : n
      : null;
  }
  const text = (Array.isArray(to) ? to.join('; ') : String(to)).trim();
  return cut(text, limits.maxLength ?? Infinity) || null;
}
