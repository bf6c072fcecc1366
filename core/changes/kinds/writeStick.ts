/** A stick written as a whole: what was to be on it before and what is to be on it after are kept, each under an id. */
import { defineKind } from './kind.ts';

export interface WriteStick {
  kind: 'write-stick';
  stickId: number;
  name: string;
  /** Under which it is kept what was to be there; null: nothing of ours. */
  before: string | null;
  after: string | null;
  /** Bytes that are written, about. */
  bytes: number;
  /** What changes there, in words. */
  text: string;
}

export const writeStick = (item: Omit<WriteStick, 'kind'>): WriteStick => ({ kind: 'write-stick', ...item });

/** Lines about one stick keep their order by a number below those of all that is no track, and of no destination. */
const CLAIM = -2_146_000_000;

export const writeStickKind = defineKind<WriteStick>({
  kind: 'write-stick',
  area: 'files',
  inFiles: true,
  touches: ({ stickId }) => ({ tracks: [CLAIM + (stickId % 1_000_000)] }),
  // The stick is looked at when it is written.
  conflict: () => null,
  apply: () => undefined,
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words: ({ name, text }) => ({ show: 'sentence', text: `${name}: ${text}` }),
  searched: ({ name }) => name,
});
