/**
 * What is said of many tracks at once, kept as text and read anew each time it is asked for: of a hundred thousand
 * tracks only the few in hand are spelt out.
 */
import type { FieldValue, TrackValues } from '../fields/values.ts';
import type { OtherTrack } from '../exchange/collection.ts';
import type { TrackPast } from './compareTracks.ts';

type Values = Record<string, FieldValue>;

/** What both said of a track. */
export class KeptPast implements TrackPast {
  readonly trackId: number;
  readonly otherId: string;
  /** Its values as JSON. */
  readonly #text: string;

  constructor(trackId: number, otherId: string, text: string) {
    this.trackId = trackId;
    this.otherId = otherId;
    this.#text = text;
  }

  get values(): Values {
    return JSON.parse(this.#text) as Values;
  }

  /** A line that it can be read from again: its ids, a tab, its values. */
  get line(): string {
    return `${JSON.stringify([this.trackId, this.otherId])}\t${this.#text}`;
  }

  static read(line: string): KeptPast {
    const tab = line.indexOf('\t');
    const [trackId, otherId] = JSON.parse(line.slice(0, tab)) as [number, string];
    return new KeptPast(trackId, otherId, line.slice(tab + 1));
  }

  static of({ trackId, otherId, values }: TrackPast): KeptPast {
    return new KeptPast(trackId, otherId, JSON.stringify(values));
  }
}

const NO_TIMES: OtherTrack['times'] = {};

/** A track that is new there: what both are to say, with what only its file says. */
export class NewThere implements OtherTrack {
  readonly id: string;
  readonly path: string;
  readonly times = NO_TIMES;
  readonly #past: KeptPast;
  readonly #file: Values;

  constructor(past: KeptPast, path: string, { durationSeconds = null, format = null }: TrackValues) {
    this.id = past.otherId;
    this.path = path;
    this.#past = past;
    this.#file = { durationSeconds, format };
  }

  get values(): Values {
    return { ...this.#past.values, ...this.#file };
  }
}
