/** Values as people read them. */
import { format, parseISO } from 'date-fns';
import { clockLength } from '@early-set/core/clock/clock';
import { shortKey } from '@early-set/core/fields/keys';
import { marksOf, marksText } from '@early-set/core/fields/marks';
import { fieldOf, type Field } from '@early-set/core/fields/table';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { bytes } from '@early-set/core/space/bytes';

export { bytes };

const MINUS = '−';

/** A number with digits and a true minus sign. */
export const figure = (value: number, digits: number): string => value.toFixed(digits).replace('-', MINUS);

export const day = (iso: string): string => format(parseISO(iso), 'd MMM yyyy');
export const dayAndTime = (iso: string): string => format(parseISO(iso), 'd MMM, HH:mm');

/** Time left in words, coarse on purpose. */
export function timeLeft(seconds: number): string {
  if (seconds < 8) return 'a few seconds left';
  if (seconds < 55) return `${Math.round(seconds / 5) * 5} s left`;
  if (seconds < 3600) return `${Math.max(1, Math.round(seconds / 60))} min left`;
  return `${(seconds / 3600).toFixed(1)} h left`;
}

/** A field's value as text; empty for none. */
export function valueText(field: Field, value: FieldValue | undefined): string {
  if (isEmpty(value) || value === undefined || value === null) return '';
  switch (field.type) {
    case 'texts':
      return Array.isArray(value) ? value.join('; ') : String(value);
    case 'key':
      return shortKey(String(value));
    case 'seconds':
      return clockLength(Number(value));
    case 'number':
      return figure(Number(value), field.limits.decimals ?? 2);
    case 'flag':
      return value ? 'yes' : 'no';
    case 'date':
      return day(String(value));
    case 'marks':
      return marksText(marksOf(value), field.mark);
    case 'choice':
      return field.choices?.[String(value)] ?? String(value);
    default:
      return field.id === 'fileSize' ? bytes(Number(value)) : String(value);
  }
}

/** As it is typed: keys and numbers in full. */
export const plainText = (field: Field, value: FieldValue | undefined): string =>
  isEmpty(value) ? '' : field.type === 'key' || field.type === 'number' ? String(value) : valueText(field, value);

/** The same, by field id. */
export const textOf = (fieldId: string, value: FieldValue | undefined): string => valueText(fieldOf(fieldId), value);

/** What a track is called: its title, or else its file. */
export const nameOf = (track: { values: Record<string, FieldValue> }): string =>
  textOf('title', track.values.title) || textOf('path', track.values.path).split('/').at(-1)!;
