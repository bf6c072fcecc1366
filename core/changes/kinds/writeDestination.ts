/** The data of a destination written as a whole: what was there and what will be are kept, each under an id. */
import { defineKind } from './kind.ts';

/** One state of a destination's data, as it is kept. */
export interface DataState {
  /** Under which it is kept. */
  data: string;
  /** Hash of the data. */
  hash: string;
  /** What both sides said last, in this state; null: they were never compared. */
  past: string | null;
}

export interface WriteDestination {
  kind: 'write-destination';
  destinationId: number;
  name: string;
  before: DataState;
  after: DataState;
  /** What changes there, in words. */
  text: string;
}

export const writeDestination = (item: Omit<WriteDestination, 'kind'>): WriteDestination => ({
  kind: 'write-destination',
  ...item,
});

/** Lines about one destination keep their order by a number below those of all that is no track. */
const CLAIM = -2_147_483_648;

export const writeDestinationKind = defineKind<WriteDestination>({
  kind: 'write-destination',
  area: 'files',
  inFiles: true,
  touches: ({ destinationId }) => ({ tracks: [CLAIM + (destinationId % 1_000_000)] }),
  // The data are looked at when they are written.
  conflict: () => null,
  apply: () => undefined,
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words: ({ name, text }) => ({ show: 'sentence', text: `${name}: ${text}` }),
  searched: ({ name }) => name,
});
