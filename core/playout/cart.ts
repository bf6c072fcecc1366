/** The `cart` chunk: what a playout system has to know of an item (AES46-2002, layout of its version 1.01). */
import { concat, le32, u32le } from '../tags/bytes.ts';
import { bytesOf, fixedIn, fixedText, oneByteText, readRooms, writeRooms } from './fixed.ts';

/**
 * Places in the sound, by the usages that the standard lists: beginning and end of the sound itself, of the intro, of
 * the segue (where the next begins), and the end of all.
 */
export const TIMER_USES = ['AUDs', 'AUDe', 'INTs', 'INTe', 'SEGs', 'SEGe', 'SECs', 'SECe', 'EOD '] as const;
export type TimerUse = (typeof TIMER_USES)[number];
/** There is room for so many. */
export const MAX_TIMERS = 8;

export interface CartTimer {
  use: TimerUse;
  /** In samples from the beginning of the sound. */
  samples: number;
}

/** Texts have at most 64 characters of Latin-1, dates are "2026-11-29", times "13:05:00". */
export interface Cart {
  title: string;
  artist: string;
  /** Its ID in the playout system. */
  cutId: string;
  clientId: string;
  category: string;
  classification: string;
  /** The last words. */
  outCue: string;
  startDate: string;
  startTime: string;
  endDate: string;
  endTime: string;
  producerApp: string;
  producerAppVersion: string;
  userDefined: string;
  /** The sample value that counts as 0 dB; 0: none is said. */
  levelReference: number;
  timers: CartTimer[];
  url: string;
  /** Anything else. */
  tagText: string;
}

const VERSION = '0101';
const RESERVED = 276;
/** Texts in front of the level, with their room. */
const HEAD = [
  ...(['title', 'artist', 'cutId', 'clientId', 'category', 'classification', 'outCue'] as const).map(
    (field) => [field, 64] as const,
  ),
  ...[['startDate', 10] as const, ['startTime', 8] as const, ['endDate', 10] as const, ['endTime', 8] as const],
  ...(['producerApp', 'producerAppVersion', 'userDefined'] as const).map((field) => [field, 64] as const),
] as const;
const HEAD_BYTES = 4 + bytesOf(HEAD);
const TIMERS_AT = HEAD_BYTES + 4,
  URL_AT = TIMERS_AT + MAX_TIMERS * 8 + RESERVED,
  URL_BYTES = 1024;
/** A chunk without anything else has so many bytes. */
export const CART_BYTES = URL_AT + URL_BYTES;

/** The body of the chunk. @throws RangeError for more timers than there is room for */
export function writeCart(cart: Cart): Uint8Array {
  if (cart.timers.length > MAX_TIMERS) throw new RangeError(`There is room for ${MAX_TIMERS} timers`);
  const timers = Array.from({ length: MAX_TIMERS }, (_, i) => {
    const timer = cart.timers[i];
    return concat([fixedText(timer?.use ?? '', 4), le32(timer ? Math.max(0, Math.round(timer.samples)) : 0)]);
  }).map((bytes, i) => {
    // A usage ends with a blank where it has three letters.
    if (cart.timers[i]?.use === 'EOD ') bytes[3] = 0x20;
    return bytes;
  });
  return concat([
    fixedText(VERSION, 4),
    ...writeRooms(cart, HEAD),
    le32(cart.levelReference >>> 0),
    ...timers,
    new Uint8Array(RESERVED),
    fixedText(cart.url, URL_BYTES),
    ...(cart.tagText === '' ? [] : [oneByteText(cart.tagText), new Uint8Array(1)]),
  ]);
}

/** What stands for days and times without an end. */
export const ALWAYS = { startDate: '1900-01-01', endDate: '9999-12-31', startTime: '00:00:00', endTime: '23:59:59' };

/** What is known goes over what somebody wrote there, and what is not known stays; so do other timers. */
export function joinCarts(there: Cart, own: Cart): Cart {
  const uses = new Set(own.timers.map((t) => t.use));
  const known = Object.entries(own).filter(
    ([field, value]) =>
      typeof value === 'string' && value !== '' && (ALWAYS as Record<string, string>)[field] !== value,
  );
  const timers = [...own.timers, ...there.timers.filter((t) => !uses.has(t.use))].slice(0, MAX_TIMERS);
  return { ...there, ...(Object.fromEntries(known) as Partial<Cart>), timers };
}

/** @returns null where it is too short to be one */
export function readCart(bytes: Uint8Array): Cart | null {
  if (bytes.length < CART_BYTES) return null;
  const timers = Array.from({ length: MAX_TIMERS }, (_, i) => TIMERS_AT + i * 8).flatMap((from): CartTimer[] => {
    const use = TIMER_USES.find((known) => known.trim() === fixedIn(bytes, from, 4));
    return use ? [{ use, samples: u32le(bytes, from + 4) }] : [];
  });
  return {
    ...readRooms(bytes, 4, HEAD),
    levelReference: u32le(bytes, HEAD_BYTES) | 0,
    timers,
    url: fixedIn(bytes, URL_AT, URL_BYTES),
    tagText: fixedIn(bytes, CART_BYTES, bytes.length - CART_BYTES),
  };
}
