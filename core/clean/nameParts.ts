/** A file name taken apart: leading number, parts between separators, and what shape each part has. */

import { dropMarks } from './marks.ts';

export type Shape = 'number' | 'disc and track' | 'side' | 'year' | 'catalogue' | 'text';
export interface NamePart {
  text: string;
  shape: Shape;
}

/** Which separators count: strict takes only a dash between spaces; loose also a bare dash and underscores. */
export type Separators = 'loose' | 'strict';

/** Disc and track in a code with letters: "DISC01-03", "CD1-03", "D1T03". */
const DISC_CODE = /^(?:dis[ck]|cd|d)[ ._]?(\d{1,2})(?:[ ._-]{1,3}|[ ._-]*t(?:rack|rk|r)?[ ._]?)(\d{1,2})(?!\d)/iu;
/** "Track 07", "No. 7". */
const TRACK_WORD = /^(?:track|trk|no\.?|nr\.?)[ ._]?(\d{1,3})(?![\p{L}\p{N}'’:%])/iu;
/** What parts a number from the name behind it. */
const AFTER_NUMBER = /^\s*(?:[.)\]:,]+|[-–—_]+)?\s*/u;
const LEADING =
  /^\s*[[(#]?\s*(\d{1,2}-\d{2}(?!\d)|[A-H]{1,2}\d{1,2}|\d{1,3})(?![\p{L}\p{N}'’:%])\s*(?:[.)\]:,]+|\s*[-–—_]+)?\s*/u;
const CATALOGUE = /^(?=.{4,14}$)[A-Z]{2,7}[ -]?\d{2,5}[A-Z]{0,2}$/u;

export function shapeOf(text: string): Shape {
  if (/^\d{1,2}\s?-\s?\d{2}$/.test(text)) return 'disc and track';
  if (/^(?:19[3-9]\d|20[0-4]\d)$/.test(text)) return 'year';
  if (/^\d{1,3}$/.test(text)) return 'number';
  if (/^[A-H]{1,2}\d{1,2}$/.test(text)) return 'side';
  return CATALOGUE.test(text) ? 'catalogue' : 'text';
}

/** File name without folders and ending. */
export const stemOf = (path: string): string =>
  path.slice(path.lastIndexOf('/') + 1).replace(/\.[A-Za-z0-9]{2,5}$/, '');

const BRACKETED = /\s*[([{]\s*([^()[\]{}]*)\s*[)\]}]/gu;

/**
 * Parts of a name in order. Years and catalogue codes in brackets become parts of their own; other brackets stay
 * where they are, for they belong to a title.
 * Promo marks and web addresses are no part of a name.
 * @example nameParts('03_low_tide_assembly-bladderwrack cuts_(dub)', 'loose')
 * // 03 · low tide assembly · bladderwrack cuts (dub)
 */
export function nameParts(stem: string, separators: Separators): NamePart[] {
  const loose = separators === 'loose';
  const hasSpaces = /\S\s+\S/.test(stem);
  let text = loose ? withoutTail(stem.normalize('NFC')) : stem.normalize('NFC');
  if (loose) text = text.replace(/_+-_*|_*-_+/g, ' - ').replace(/%20/g, ' ');
  if (loose || !hasSpaces) text = text.replace(/_+/g, ' ');
  if (loose && !/\s/.test(text) && (text.match(/\./g) ?? []).length >= 2) text = text.replace(/\.+/g, ' ');
  if (loose) text = dropMarks(text, { web: true, promo: true, encoder: true }) || text;
  const parts: NamePart[] = [];
  const coded = leadingCode(text);
  if (coded) {
    parts.push(coded.part);
    text = coded.rest;
  }
  let lead = coded ? null : LEADING.exec(text);
  // "99 Reasons" is a title; "07 Dry Dock", "7. Dry Dock" and "7 - Dry Dock" have a number before it.
  if (
    lead &&
    /^\d/.test(lead[1]!) &&
    !/^\s*[[(#]/.test(lead[0]) &&
    !/[.)\]:,\-–—_]\s*$|\s[-–—]\s*/.test(lead[0]) &&
    !/^0/.test(lead[1]!) &&
    lead[1]!.length < 2
  )
    lead = null;
  if (lead && lead[0].length < text.length) {
    parts.push({ text: lead[1]!.replace(/\s/g, ''), shape: shapeOf(lead[1]!) });
    text = text.slice(lead[0].length);
  }
  const bracketed: NamePart[] = [];
  text = text.replace(BRACKETED, (whole, inside: string) => {
    const shape = shapeOf(inside.trim());
    if (shape !== 'year' && shape !== 'catalogue') return whole;
    bracketed.push({ text: inside.trim(), shape });
    return '';
  });
  for (const piece of splitText(text, loose)) parts.push({ text: piece, shape: shapeOf(piece) });
  return [...parts, ...bracketed].filter((p) => p.text !== '');
}

/** A number with letters that stands first, and what is behind it. */
function leadingCode(text: string): { part: NamePart; rest: string } | null {
  const disc = DISC_CODE.exec(text),
    track = disc ? null : TRACK_WORD.exec(text);
  const found = disc ?? track;
  if (!found) return null;
  const rest = text.slice(found[0].length).replace(AFTER_NUMBER, '');
  if (rest === '') return null;
  return disc
    ? { part: { text: `${Number(disc[1])}-${disc[2]!.padStart(2, '0')}`, shape: 'disc and track' }, rest }
    : { part: { text: track![1]!, shape: 'number' }, rest };
}

/** "…_(dub)_promo": once underscores are spaces, a mark at the end looks like a word of the title. */
function withoutTail(stem: string): string {
  const without = dropMarks(stem, { web: false, promo: true, encoder: true });
  return without !== '' && (/[)\]]$/.test(without) || /_promo$/i.test(stem)) ? without : stem;
}

function splitText(text: string, loose: boolean): string[] {
  const held: string[] = [];
  // Dashes inside brackets part nothing.
  const safe = text.replace(/[([{][^()[\]{}]*[)\]}]/gu, (b) => {
    held.push(b);
    return `\u0001${held.length - 1}\u0002`;
  });
  let pieces = safe.split(/\s+[-–—~|]+\s+|\s*[–—|~]\s*/u);
  if (loose && pieces.length === 1) {
    // A dash with a space on one side only, then one with none: "artist -title", "artist-title".
    pieces = safe.split(/\s+-+|-+\s+/u);
    if (pieces.length === 1) pieces = splitBare(safe);
  }
  return pieces.map((p) =>
    p
      .replace(/\u0001(\d+)\u0002/g, (_, n: string) => held[Number(n)]!)
      .replace(/\s+/g, ' ')
      .replace(/^[\s.,_-]+|[\s,_-]+$/g, '')
      .trim(),
  );
}

/** A bare dash parts words only where it stands between two longer things: not in "A-Side" or "re-edit". */
function splitBare(text: string): string[] {
  const pieces = text.split('-');
  if (pieces.length < 2 || pieces.some((p) => p.trim().length < 2)) return [text];
  const prefix = /^(?:re|un|non|pre|anti|co|ex|half|self|mid|post|sub|all|x|e|t|u)$/i;
  const out: string[] = [];
  for (const piece of pieces) {
    const last = out.at(-1);
    if (last !== undefined && prefix.test(last.split(/\s/).at(-1)!)) out[out.length - 1] = `${last}-${piece}`;
    else out.push(piece);
  }
  return out;
}
