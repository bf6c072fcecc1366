/**
 * Work that one view hands to another, such as the tracks that were chosen. Kept for this tab alone, so that two tabs do
 * not take it out of each other's hands; a selection may be too long for an address.
 */
import { keptIn } from './kept.ts';

export const { read: handed, write: hand, forget: forgetHanded, use: useHanded } = keptIn(() => sessionStorage);
