/** Small things of the page kept in this browser: theme, columns, widths. */
import { keptIn } from './kept.ts';

export const { read: remembered, write, forget, use: useRemembered } = keptIn(() => localStorage);
