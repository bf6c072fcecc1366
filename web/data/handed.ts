/**
 * Work that one view hands to another, such as the tracks that were chosen. Kept for this tab alone, so that two tabs
 * do not take it out of each other's hands; a selection may be too long for an address.
 */
import type { Selection } from '@early-set/core/api/types';
import { keptIn } from './kept.ts';

export const { read: handed, write: hand, forget: forgetHanded, use: useHanded } = keptIn(() => sessionStorage);

/** The sheet leaves its address here, with filters, order and find, for whoever wants to go back to it. */
export const TRACKS_ADDRESS = 'tracks-address';

/** What was chosen in the sheet to be rated, and the track in hand. */
export const TO_RATE = 'rate-selection';
export interface ToRate {
  selection: Selection;
  inHand: number | null;
}
