/** What is said of tracks of another collection. */
import type { TakeRow, TakeState } from '@early-set/core/api/take';
import { nameOf } from '@early-set/core/files/paths';
import { marksOf } from '@early-set/core/fields/marks';
import { textOf } from '../../ui/format.ts';

export const nameOfRow = ({ values, path, id }: TakeRow): string => textOf('title', values.title) || nameOf(path ?? id);

export const STATE_WORDS: Record<TakeState, string> = { new: 'New', here: 'In the library', 'not found': 'Not found' };

export const cuesIn = ({ values }: TakeRow): string => {
  const n = marksOf(values.cues).length;
  return n > 0 ? String(n) : '';
};
