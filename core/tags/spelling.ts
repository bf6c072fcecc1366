/**
 * How values are said in tags: keys as ID3's TKEY has them, gains in decibels with their unit (ReplayGain 2.0) or in
 * 256ths of a decibel against −23 LUFS (R128 gains of RFC 7845), peaks as a share of full scale, numbers "of how many".
 */
import { parseKey, tagKey } from '../fields/keys.ts';
import type { Field } from '../fields/table.ts';
import { TagTrouble } from './bytes.ts';

/** ReplayGain aims at −18 LUFS, R128 gains at −23. */
const BETWEEN_TARGETS = 5;
const isR128 = (name: string): boolean => /^R128_/i.test(name);
const isGain = (field: Field): boolean => field.id === 'trackGainDb' || field.id === 'albumGainDb';
const isPeak = (field: Field): boolean => field.id === 'trackPeak' || field.id === 'albumPeak';
const isCounted = (field: Field): boolean => field.id === 'trackNumber' || field.id === 'discNumber';
const isStars = (field: Field): boolean => field.id === 'rating';
const isTotal = (field: Field): boolean => field.id === 'trackTotal' || field.id === 'discTotal';
/** Names that hold a number and "of how many" in one text: "3/12". */
const isPair = (name: string): boolean => !/TOTAL/i.test(name);
const totalIn = (text: string | undefined): string | null => /\/\s*(\d+)/.exec(text ?? '')?.[1] ?? null;

/** Does the text under a name hold the field at all? A bare track number says nothing of how many there are. */
export const holdsField = (field: Field, name: string, texts: readonly string[]): boolean =>
  !isTotal(field) || !/NUMBER$/i.test(name) || texts.some((t) => totalIn(t) !== null);

/**
 * Texts of a field as they are put under a name.
 * @param old what stands there, whose "of how many" is kept
 * @throws TagTrouble for a text that the field cannot be
 */
export function spelled(field: Field, name: string, texts: readonly string[], old: readonly string[]): string[] {
  const [first] = texts;
  if (isTotal(field) && isPair(name))
    return first === undefined && totalIn(old[0]) === null
      ? [...old]
      : paired(/^\s*0*([1-9]\d*)/.exec(old[0] ?? '')?.[1] ?? null, first ?? null);
  if (isCounted(field) && first?.includes('/') !== true) return paired(first ?? null, totalIn(old[0]));
  if (first === undefined) return [];
  if (field.type === 'key') {
    const key = parseKey(first);
    if (!key) throw new TagTrouble(`"${first}" is no key`);
    return [tagKey(key)];
  }
  if (isGain(field)) {
    const gain = numberIn(field, first);
    return [
      isR128(name)
        ? String(Math.max(-32_768, Math.min(32_767, Math.round((gain - BETWEEN_TARGETS) * 256))))
        : `${gain.toFixed(2)} dB`,
    ];
  }
  if (isStars(field)) return [starsAs(name, numberIn(field, first))];
  if (isPeak(field)) return [numberIn(field, first).toFixed(6)];
  if (field.type === 'number' || field.type === 'integer') return [first];
  return field.type === 'texts' ? [...texts] : [texts.join('; ')];
}

/** "3/12", "3", "0/12" where the number is not known, nothing where neither is. */
const paired = (number: string | null, total: string | null): string[] =>
  total === null ? (number === null ? [] : [number]) : [`${number ?? 0}/${total}`];

function numberIn(field: Field, text: string): number {
  const number = Number.parseFloat(text.replace('−', '-').replace(',', '.'));
  if (!Number.isFinite(number)) throw new TagTrouble(`"${text}" is no number for ${field.label}`);
  return number;
}

/**
 * A text under a name as the field's own: a gain in decibels without its unit, a total without the number before it;
 * all else as it is.
 */
export function unspelled(field: Field, name: string, text: string): string {
  if (isTotal(field) && isPair(name)) return totalIn(text) ?? '';
  if (!isGain(field) && !isPeak(field) && !isStars(field)) return text;
  const number = Number.parseFloat(text.replace(',', '.'));
  if (!Number.isFinite(number)) return text;
  if (isStars(field)) return starsIn(name, number);
  return String(isR128(name) ? Math.round((number / 256 + BETWEEN_TARGETS) * 100) / 100 : number);
}

/**
 * Stars as a rating from 0 to 255 (ID3's POPM), or to 100. There are two usual ways to read the first, by fifths and by
 * thresholds (32, 96, 160, 224): these figures are the same stars in both.
 */
const POPULARITY = [0, 26, 64, 128, 192, 255];
const starsAs = (name: string, stars: number): string => {
  const whole = Math.max(0, Math.min(5, Math.round(stars)));
  return String(name === 'POPM' ? POPULARITY[whole] : whole * 20);
};

/** The other way; some write one to five where others write to a hundred. Nothing for a rating of none. */
function starsIn(name: string, number: number): string {
  const stars = name === 'POPM' ? Math.ceil(number / 51) : number <= 5 ? number : number / 20;
  return number <= 0 ? '' : String(Math.max(1, Math.min(5, Math.round(stars))));
}
