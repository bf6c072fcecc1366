/** Values of fields: what they may be, where they come from, and how they are checked when typed. */
import { parseKey } from './keys.ts';
import { marksValue, readMarks } from './marks.ts';
import { fieldOf, type Field } from './table.ts';
import { cleanText } from './text.ts';

export type FieldValue = string | number | boolean | string[] | null;

/** Where a value comes from. */
export type Origin = 'file tag' | 'file' | 'typed' | 'analysis' | 'catalogue' | 'destination' | 'use';

/** A value with its history: what, from where, since when, and whether later sources may replace it. */
export interface Held {
  value: FieldValue;
  origin: Origin;
  at: string;
  locked: boolean;
}

/** A track as conditions, fit and changes see it: field id to value. */
export type TrackValues = Record<string, FieldValue>;

/** Is there nothing in it? */
export const isEmpty = (value: FieldValue | undefined): boolean =>
  value === null || value === undefined || value === '' || (Array.isArray(value) && value.length === 0);

/** Equal as values; lists by content and order. */
export function sameValue(a: FieldValue | undefined, b: FieldValue | undefined): boolean {
  if (a === b) return true;
  if (isEmpty(a) && isEmpty(b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((v, i) => v === b[i]);
  return false;
}

/** Splits "A; B" into separate entries, dropping empty and repeated ones. */
export const splitList = (text: string): string[] => [...new Set(text.split(';').map(cleanText).filter(Boolean))];

export type Checked = { ok: true; value: FieldValue } | { ok: false; reason: string };

const wrong = (reason: string): Checked => ({ ok: false, reason });

/** Reads what was typed (or sent) for a field; the reason is a sentence for the person who typed it. */
export function checkValue(fieldId: string, input: unknown): Checked {
  const field = fieldOf(fieldId);
  if (input === null || input === undefined || input === '') return { ok: true, value: null };
  switch (field.type) {
    case 'text':
    case 'choice': {
      if (typeof input !== 'string') return wrong(`${field.label} takes text`);
      if (field.choices && !(input in field.choices))
        return wrong(`${field.label} is one of: ${Object.values(field.choices).join(', ')}`);
      return withinLength(field, cleanText(input));
    }
    case 'texts': {
      const list = Array.isArray(input)
        ? input.flatMap((v) => (typeof v === 'string' ? splitList(v) : []))
        : typeof input === 'string'
          ? splitList(input)
          : null;
      if (!list) return wrong(`${field.label} takes text, several separated by semicolons`);
      const tooLong = list.find((v) => v.length > (field.limits.maxLength ?? Infinity));
      return tooLong === undefined
        ? { ok: true, value: list.length ? [...new Set(list)] : null }
        : withinLength(field, tooLong);
    }
    case 'key': {
      const key = typeof input === 'string' ? parseKey(input) : null;
      return key ? { ok: true, value: key } : wrong('A key is written like A minor, F# or E♭ maj');
    }
    case 'marks': {
      const marks = readMarks(input);
      return typeof marks === 'string' ? wrong(marks) : { ok: true, value: marksValue(marks) };
    }
    case 'flag':
      return typeof input === 'boolean' ? { ok: true, value: input } : wrong(`${field.label} is yes or no`);
    case 'date':
      return checkDate(field, input);
    case 'number':
    case 'integer':
    case 'seconds':
      return checkNumber(field, input);
  }
}

/** A moment as dates of fields are kept: UTC, to the second. */
export const keptDate = (at: Date): string => at.toISOString().replace(/\.\d+Z$/, 'Z');

/** A date that was typed; a day by itself is its noon where the desk stands. */
function checkDate(field: Field, input: unknown): Checked {
  const day = typeof input === 'string' ? /^\d{4}-\d{2}-\d{2}$/.exec(input.trim()) : null;
  const at = new Date(day ? `${day[0]}T12:00:00` : typeof input === 'string' ? input : Number.NaN);
  return Number.isNaN(at.getTime())
    ? wrong(`${field.label} takes a day, such as 2026-11-27`)
    : { ok: true, value: keptDate(at) };
}

function withinLength(field: Field, text: string): Checked {
  const most = field.limits.maxLength ?? Infinity;
  return text.length > most
    ? wrong(`${field.label} holds at most ${most} characters`)
    : { ok: true, value: text || null };
}

function checkNumber(field: Field, input: unknown): Checked {
  const number =
    typeof input === 'number' ? input : typeof input === 'string' ? Number(input.trim().replace(',', '.')) : Number.NaN;
  if (!Number.isFinite(number)) return wrong(`${field.label} takes a number`);
  if (field.type === 'integer' && !Number.isInteger(number)) return wrong(`${field.label} takes a whole number`);
  const { min, max } = field.limits;
  if ((min !== undefined && number < min) || (max !== undefined && number > max))
    return wrong(`${field.label} lies between ${min} and ${max}`);
  return { ok: true, value: number };
}
