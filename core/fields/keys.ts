/** Musical keys: names, signatures and distances around the circle of fifths. */

export type Mode = 'major' | 'minor';
/** A key's stored form, as in "A minor", "E♭ major" written plainly: "Eb major". */
export type MusicalKey = `${string} ${Mode}`;

const MAJOR_NAMES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const MINOR_NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'G#', 'A', 'Bb', 'B'];
const NATURAL: Record<string, number> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11, h: 11 };

/**
 * All 24 keys, in order of the circle of fifths from five flats to six sharps, each major followed by its relative
 * minor.
 */
export const ALL_KEYS: MusicalKey[] = Array.from({ length: 12 }, (_, i) => i - 5).flatMap((fifths) => {
  const major = (((fifths * 7) % 12) + 12) % 12;
  return [keyOf(major, 'major'), keyOf((major + 9) % 12, 'minor')];
});

/** The key with a tonic (0 = C … 11 = B). */
export function keyOf(tonic: number, mode: Mode): MusicalKey {
  return `${(mode === 'major' ? MAJOR_NAMES : MINOR_NAMES)[tonic]!} ${mode}`;
}

/** Tonic (0 = C) and mode of a stored key; null when it is none. */
export function keyParts(key: string): { tonic: number; mode: Mode } | null {
  const [name, mode] = key.split(' ');
  const tonic = (mode === 'minor' ? MINOR_NAMES : MAJOR_NAMES).indexOf(name ?? '');
  return tonic < 0 || (mode !== 'major' && mode !== 'minor') ? null : { tonic, mode };
}

/** Sharps (positive) or flats (negative) of the key signature, −5 … +6. */
export function signatureOf(key: string): number | null {
  const parts = keyParts(key);
  if (!parts) return null;
  const relativeMajor = parts.mode === 'minor' ? (parts.tonic + 3) % 12 : parts.tonic;
  const fifths = (relativeMajor * 7) % 12;
  return fifths > 6 ? fifths - 12 : fifths;
}

/** "4♭", "2♯" or "0". */
export function signatureLabel(key: string): string {
  const signature = signatureOf(key);
  if (signature === null) return '';
  // Six flats and six sharps are one signature; the spelling of the key decides.
  const flat = signature < 0 || (signature === 6 && /^[A-G]b/.test(key));
  return signature === 0 ? '0' : `${Math.abs(signature)}${flat ? '♭' : '♯'}`;
}

/** "F min", "A♭ maj": as shown in the interface. */
export function shortKey(key: string): string {
  const [name = '', mode = ''] = key.split(' ');
  return `${name.replace('b', '♭').replace('#', '♯')} ${mode.slice(0, 3)}`;
}

/** As tag standards spell a key (ID3's TKEY): "F#m", "Ab". */
export function tagKey(key: string): string {
  const [name = '', mode] = key.split(' ');
  return mode === 'minor' ? `${name}m` : name;
}

/** Steps between the signatures of two keys around the circle of fifths, 0 … 6. */
export function fifthsApart(a: string, b: string): number | null {
  const sa = signatureOf(a),
    sb = signatureOf(b);
  if (sa === null || sb === null) return null;
  const steps = Math.abs(sa - sb) % 12;
  return Math.min(steps, 12 - steps);
}

/** A key so many semitones higher (or lower); null for what is no key. */
export function transposed(key: string, semitones: number): MusicalKey | null {
  const parts = keyParts(key);
  return parts && keyOf((((parts.tonic + semitones) % 12) + 12) % 12, parts.mode);
}

/**
 * Reads a key in any common spelling: "F#m", "Gb minor", "a-moll", "B♭", "C♯ min", "Amaj".
 * A bare lower-case m means minor, none means major. Returns null for everything else.
 */
export function parseKey(text: string): MusicalKey | null {
  const cleaned = text
    .trim()
    .replace(/♭/g, 'b')
    .replace(/♯/g, '#')
    .replace(/\s*[-_]\s*/g, ' ');
  const match =
    /^([A-Ha-h])\s*(#|b|sharp|flat|is|es|(?<=[EeAa])s)?\s*(m|min|minor|moll|mi|maj|major|dur|ma|M)?\.?$/u.exec(
      cleaned,
    ) ?? /^([A-Ha-h])\s*(#|b|sharp|flat)?\s*(minor|major|min|maj)$/iu.exec(cleaned);
  if (!match) return null;
  const [, letter = '', accidental = '', modeText = ''] = match;
  // German spells flats of E and A as Es and As.
  const shift = /^(#|sharp|is)$/i.test(accidental) ? 1 : accidental ? -1 : 0;
  const tonic = (NATURAL[letter.toLowerCase()]! + shift + 12) % 12;
  const minor = modeText === 'm' || /^(min|mol|mi$)/i.test(modeText);
  return keyOf(tonic, minor ? 'minor' : 'major');
}
