/** Texts of a fixed room, as broadcast chunks keep them: one byte a character, filled up with zeros. */
import { isLatin1, latin1, toLatin1 } from '../tags/bytes.ts';
import { plainLetters } from '../naming/safeNames.ts';

/** One byte a letter: those that there is no byte for become plain ones, others question marks. */
export const oneByteText = (text: string): Uint8Array =>
  toLatin1(
    [
      ...text
        .toWellFormed()
        .normalize('NFC')
        .replace(/[\u0000-\u001f\u007f]+/g, ' ')
        .trim(),
    ]
      .map((letter) => (isLatin1(letter) ? letter : asLatin1(letter)))
      .join(''),
  );

/** The same in a room of so many bytes; what is too long is cut. */
export function fixedText(text: string, length: number): Uint8Array {
  const bytes = new Uint8Array(length);
  bytes.set(oneByteText(text).subarray(0, length));
  return bytes;
}
function asLatin1(letter: string): string {
  const plain = SIGNS[letter] ?? plainLetters(letter);
  return isLatin1(plain) && plain !== '' ? plain : '?';
}
const SIGNS: Readonly<Record<string, string>> = {
  ...{ '–': '-', '—': '-', '‘': "'", '’': "'", '“': '"', '”': '"', '…': '...', '−': '-' },
};

/** The text up to the first zero, without blanks around it. */
export const fixedIn = (bytes: Uint8Array, at: number, length: number): string =>
  latin1(bytes.subarray(at, at + length))
    .replace(/\0[\s\S]*$/, '')
    .trim();

/** Fields in their order, with the room of each. */
export type Rooms<F extends string> = readonly (readonly [field: F, length: number])[];
export const bytesOf = (rooms: Rooms<string>): number => rooms.reduce((sum, [, length]) => sum + length, 0);
export const writeRooms = <F extends string>(values: Readonly<Record<F, string>>, rooms: Rooms<F>): Uint8Array[] =>
  rooms.map(([field, length]) => fixedText(values[field], length));
export function readRooms<F extends string>(bytes: Uint8Array, from: number, rooms: Rooms<F>): Record<F, string> {
  let at = from;
  const read = rooms.map(([field, length]) => [field, fixedIn(bytes, (at += length) - length, length)] as const);
  return Object.fromEntries(read) as Record<F, string>;
}
