/** Tracks of a destination whose values are read when they are asked for: of most only whether they changed matters. */
import type { OtherTrack } from './collection.ts';
import { printOf } from './print.ts';

/** How a destination's tracks are read from what is written of them. One for a whole collection. */
export interface TrackReader<Written> {
  values(written: Written, path: string): OtherTrack['values'];
  times(written: Written): OtherTrack['times'];
}

export class LaterTrack<Written> implements OtherTrack {
  readonly id: string;
  readonly path: string;
  readonly print: string;
  readonly #written: Written;
  readonly #reader: TrackReader<Written>;

  /** @param text all that is written of it */
  constructor(id: string, path: string, text: string, written: Written, reader: TrackReader<Written>) {
    this.id = id;
    this.path = path;
    this.print = printOf(text);
    this.#written = written;
    this.#reader = reader;
  }

  get values(): OtherTrack['values'] {
    return this.#reader.values(this.#written, this.path);
  }

  get times(): OtherTrack['times'] {
    return this.#reader.times(this.#written);
  }
}
