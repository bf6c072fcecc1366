/** A WAV file as Turnstone reads it: its sound, and the chunks by which it knows an item. */
import { readFileSync } from 'node:fs';

export interface Wave {
  channels: number;
  hertz: number;
  bits: number;
  /** 1: whole numbers. */
  coding: number;
  samples: number;
  cart: Cart | null;
  bext: { lufs: number; dbtp: number } | null;
}
export interface Cart {
  title: string;
  artist: string;
  id: string;
  startDate: string;
  endDate: string;
  /** Samples by use. */
  timers: Record<string, number>;
}

/** What it is, or why it cannot be read, as a sentence. */
export function readWave(path: string): Wave | string {
  const bytes = readFileSync(path);
  const tag = (at: number, length = 4): string => bytes.toString('latin1', at, at + length);
  if (bytes.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE') return 'is no WAV';
  if (bytes.readUInt32LE(4) + 8 > bytes.length) return 'is not whole';
  const wave: Wave = { channels: 0, hertz: 0, bits: 0, coding: 0, samples: -1, cart: null, bext: null };
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = bytes.readUInt32LE(at + 4),
      body = at + 8;
    if (body + size > bytes.length) return 'is not whole';
    switch (tag(at)) {
      case 'fmt ':
        readFormat(bytes, body, size, wave);
        break;
      case 'data':
        wave.samples = size / Math.max(1, (wave.channels * wave.bits) / 8);
        break;
      case 'cart':
        if (size < 2048) return 'has a cart chunk that is too short';
        wave.cart = readCart(bytes, body);
        break;
      case 'bext':
        if (size < 602) return 'has a bext chunk that is too short';
        wave.bext = { lufs: bytes.readInt16LE(body + 412) / 100, dbtp: bytes.readInt16LE(body + 416) / 100 };
    }
    at = body + size + (size % 2);
  }
  return wave.samples < 0 ? 'has no sound' : wave;
}

const EXTENSIBLE = 0xfffe;
function readFormat(bytes: Buffer, at: number, size: number, wave: Wave): void {
  const coding = bytes.readUInt16LE(at);
  wave.coding = coding === EXTENSIBLE && size >= 26 ? bytes.readUInt16LE(at + 24) : coding;
  wave.channels = bytes.readUInt16LE(at + 2);
  wave.hertz = bytes.readUInt32LE(at + 4);
  wave.bits = bytes.readUInt16LE(at + 14);
}

/** AES46: texts of 64 characters behind a version of 4, dates of 10, eight timers behind the level. */
function readCart(bytes: Buffer, at: number): Cart {
  const text = (from: number, length: number): string =>
    bytes
      .toString('latin1', at + from, at + from + length)
      .split('\0')[0]!
      .trim();
  const timers: Record<string, number> = {};
  for (let n = 0; n < 8; n++) {
    const timer = 684 + 8 * n;
    const use = bytes.toString('latin1', at + timer, at + timer + 4).replace(/[\0 ]+$/, '');
    if (use) timers[use] = bytes.readUInt32LE(at + timer + 4);
  }
  return {
    title: text(4, 64),
    artist: text(68, 64),
    id: text(132, 64),
    startDate: text(452, 10),
    endDate: text(470, 10),
    timers,
  };
}
