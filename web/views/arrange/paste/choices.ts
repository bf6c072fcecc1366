/** Which track was chosen for each line of a pasted list. */
import type { MatchedList } from '@early-set/core/api/types';
import type { ListedEntry } from '@early-set/core/exchange/listFile';
import { nameOf } from '@early-set/core/files/paths';

/** Track ids by line; null: an open slot. */
export type Choices = readonly (number | null)[];

/** Below this likeness a line begins as an open slot. */
const LIKELY = 0.7;

/** The likeliest of each line, unless none is likely. */
export const firstChoices = ({ lines }: MatchedList): Choices =>
  lines.map(({ candidates: [best] }) => (best && best.score >= LIKELY ? best.id : null));

/** What an open slot says of the track that belongs there. */
export const slotText = ({ artist, title, location }: ListedEntry): string =>
  [artist, title ?? (location === null ? null : nameOf(location))].filter(Boolean).join(' - ');
