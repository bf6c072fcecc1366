/** A file of a watched folder whose size has stood still for so many milliseconds is whole. */
export const WHOLE_MS = 2000;
