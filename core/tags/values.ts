/** Between the texts that tags hold and the values of fields, and what a library says that a file does not yet. */
import { parseKey } from '../fields/keys.ts';
import { findField, type Field } from '../fields/table.ts';
import { cleanText } from '../fields/text.ts';
import { checkValue, isEmpty, sameValue, type FieldValue } from '../fields/values.ts';
import { cut } from '../fields/cut.ts';

/** Tags say them as dates. */
const YEARS = new Set(['year', 'originalYear']);

/** Texts as tags hold them as a field's value; null when nothing usable is there. */
export function valueIn(field: Field, texts: readonly string[]): FieldValue {
  const present = texts.map(cleanText).filter(Boolean);
  const [first] = present;
  if (first === undefined) return null;
  switch (field.type) {
    case 'texts':
      return checked(field, present);
    case 'key':
      return parseKey(first);
    case 'number':
      return checked(field, first);
    case 'integer': {
      const digits = YEARS.has(field.id) ? /\d{4}/.exec(first)?.[0] : /\d+/.exec(first)?.[0];
      // "0/12": the twelve are known, the number is not.
      if (digits === undefined || (Number(digits) === 0 && first.includes('/'))) return null;
      return checked(field, Number(digits));
    }
    default:
      return checked(field, cut(first, field.limits.maxLength ?? 1000));
  }
}

function checked(field: Field, input: unknown): FieldValue {
  const result = checkValue(field.id, input);
  return result.ok ? result.value : null;
}

/** All that the texts of a file say, as values; of fields that are by setting, those that are wished for. */
export function valuesOf(texts: NonNullable<FileFields>, settings: BySetting = {}): Record<string, FieldValue> {
  const out: Record<string, FieldValue> = {};
  for (const [id, found] of Object.entries(texts)) {
    const field = inTags(id, settings) ? findField(id) : undefined,
      value = field ? valueIn(field, found) : null;
    if (value !== null) out[id] = value;
  }
  return out;
}

/** A field's value as texts for tags. */
export function textsFor(field: Field, value: FieldValue): string[] {
  if (isEmpty(value)) return [];
  if (Array.isArray(value)) return [...value];
  if (typeof value === 'number' && field.limits.decimals !== undefined)
    return [String(Number(value.toFixed(field.limits.decimals)))];
  return [String(value)];
}

/** Does a file that holds these texts say the value? Some containers hold tempos as whole numbers only. */
export function saysValue(field: Field, texts: readonly string[], value: FieldValue): boolean {
  const there = valueIn(field, texts);
  if (sameValue(there, value)) return true;
  if (typeof there !== 'number' || typeof value !== 'number') return false;
  const least = 0.5 * 10 ** -(field.limits.decimals ?? 0);
  return Math.abs(there - value) <= least || (field.id === 'bpm' && there === Math.round(value));
}

/** What a file is known to hold: field id to texts. Null when nobody has looked. */
export type FileFields = Readonly<Record<string, readonly string[]>> | null;

/** Which fields that are by setting are wished for. */
export interface BySetting {
  starsInFiles?: boolean;
}

/** Do tags hold the field, and are they meant to? */
export function inTags(fieldId: string, settings: BySetting = {}): boolean {
  const field = findField(fieldId);
  return (
    field !== undefined &&
    Object.keys(field.tags).length > 0 &&
    (field.bySetting === undefined || settings[field.bySetting] === true)
  );
}

/**
 * Which fields the library says otherwise than the file, after some were set.
 * @param before those that were known before
 * @param set fields that have a new value now
 * @param measured whether a value is what analysis found: such are nobody's wish for the file
 * @param settings fields that are by setting count where it says so
 */
export function unwrittenAfter(
  before: readonly string[],
  set: readonly string[],
  valueOf: (field: string) => FieldValue,
  file: FileFields,
  measured: (field: string) => boolean,
  settings: BySetting,
): string[] {
  const out = new Set(before);
  for (const id of set) {
    const field = findField(id);
    if (!field || !inTags(id, settings)) continue;
    if (measured(id) || (file && saysValue(field, file[id] ?? [], valueOf(id)))) out.delete(id);
    else out.add(id);
  }
  return [...out].sort();
}
