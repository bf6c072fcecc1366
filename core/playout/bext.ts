/** The `bext` chunk: where a recording comes from, and how loud it is (EBU Tech 3285, version 2). */
import { concat, le32, u32le } from '../tags/bytes.ts';
import { fixedIn, oneByteText, readRooms, writeRooms } from './fixed.ts';

/** Loudness in LUFS and LU, peaks in dBTP; null: nobody has measured it. */
export interface BextLoudness {
  value: number | null;
  range: number | null;
  maxTruePeak: number | null;
  maxMomentary: number | null;
  maxShortTerm: number | null;
}

export interface Bext {
  /** 256 characters at most. */
  description: string;
  /** 32 each. */
  originator: string;
  originatorReference: string;
  /** "2026-11-29" and "13:05:00". */
  date: string;
  time: string;
  /** Samples since midnight. */
  timeReference: number;
  loudness: BextLoudness;
  /** A line for each coding. */
  codingHistory: string;
}

const VERSION = 2;
const TEXTS = [
  ['description', 256],
  ['originator', 32],
  ['originatorReference', 32],
  ['date', 10],
  ['time', 8],
] as const;
const TIME_AT = 338,
  VERSION_AT = 346,
  LOUDNESS_AT = 412,
  RESERVED = 180;
/** A chunk without a history has so many bytes. */
export const BEXT_BYTES = 602;
const LOUDNESS = ['value', 'range', 'maxTruePeak', 'maxMomentary', 'maxShortTerm'] as const;
/** What stands for a measure that was not taken. */
const NOT_TAKEN = 0x7fff;

const int16 = (value: number): Uint8Array => le32(value & 0xffff).subarray(0, 2);

const CRLF = Uint8Array.of(0x0d, 0x0a);

/** The body of the chunk. */
export function writeBext(bext: Bext): Uint8Array {
  const hundredths = (value: number | null): number =>
    value === null || !Number.isFinite(value) ? NOT_TAKEN : Math.round(Math.min(300, Math.max(-300, value)) * 100);
  const history = bext.codingHistory.replace(/\r?\n/g, '\r\n');
  return concat([
    ...writeRooms(bext, TEXTS),
    le32(bext.timeReference % 2 ** 32),
    le32(Math.floor(bext.timeReference / 2 ** 32)),
    int16(VERSION),
    new Uint8Array(64),
    ...LOUDNESS.map((field) => int16(hundredths(bext.loudness[field]))),
    new Uint8Array(RESERVED),
    ...history.split('\r\n').flatMap((line) => (line === '' ? [] : [oneByteText(line), CRLF])),
  ]);
}

/** @returns null where it is too short to be one */
export function readBext(bytes: Uint8Array): Bext | null {
  if (bytes.length < BEXT_BYTES) return null;
  const version = bytes[VERSION_AT]! | (bytes[VERSION_AT + 1]! << 8);
  const measure = (n: number): number | null => {
    const from = LOUDNESS_AT + 2 * n;
    const value = ((bytes[from]! | (bytes[from + 1]! << 8)) << 16) >> 16;
    // Before version 2 nothing was said of loudness.
    return version < 2 || value === NOT_TAKEN ? null : value / 100;
  };
  return {
    ...readRooms(bytes, 0, TEXTS),
    timeReference: u32le(bytes, TIME_AT) + u32le(bytes, TIME_AT + 4) * 2 ** 32,
    loudness: Object.fromEntries(LOUDNESS.map((field, n) => [field, measure(n)])) as unknown as BextLoudness,
    codingHistory: fixedIn(bytes, BEXT_BYTES, bytes.length - BEXT_BYTES).replace(/\r\n/g, '\n'),
  };
}
