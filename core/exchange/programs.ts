/** The programs whose data can be read and written. A further one is a line here, and a module of its own. */
import type { Format } from './collection.ts';
import { BUNDLE } from './bundle/format.ts';
import { DUNLIN } from './dunlin/format.ts';
import { PLOVER } from './plover/format.ts';

export const PROGRAMS: Readonly<Record<string, Format>> = { plover: PLOVER, dunlin: DUNLIN };

/** All that can be compared: programs, and what is only read. */
export const FORMATS: Readonly<Record<string, Format>> = { ...PROGRAMS, bundle: BUNDLE };

/** @throws RangeError for one that is not known */
export function programOf(kind: string): Format {
  const format = FORMATS[kind];
  if (!format) throw new RangeError(`There is no program "${kind}"`);
  return format;
}
