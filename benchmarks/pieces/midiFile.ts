/** Standard MIDI Files read and written, as far as the benchmark's sources use them. */

/** A channel message at a time in quarters. */
export interface Message {
  at: number;
  /** Status, with the channel in its low half, and one or two values. */
  bytes: number[];
}

export const DRUM_CHANNEL = 9;
export const isNoteOn = ({ bytes }: Message): boolean => bytes[0]! >> 4 === 9 && bytes[2]! > 0;
export const channelOf = ({ bytes }: Message): number => bytes[0]! & 15;

/** The channel messages of all tracks, by time. @throws Error for what is no MIDI file */
export function readMidi(file: Uint8Array): Message[] {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (view.getUint32(0) !== 0x4d546864) throw new Error('This is no MIDI file');
  const division = view.getUint16(12);
  const messages: Message[] = [];
  for (let at = 14; at + 8 <= file.length; at += 8 + view.getUint32(at + 4))
    readTrack(file.subarray(at + 8, at + 8 + view.getUint32(at + 4)), division, messages);
  return messages.sort((a, b) => a.at - b.at);
}

function readTrack(bytes: Uint8Array, division: number, into: Message[]): void {
  let at = 0,
    tick = 0,
    status = 0;
  const number = (): number => {
    let value = 0,
      byte: number;
    do {
      byte = bytes[at++]!;
      value = value * 128 + (byte & 127);
    } while (byte & 128);
    return value;
  };
  while (at < bytes.length) {
    tick += number();
    if (bytes[at]! >= 0xf0) {
      if (bytes[at++] === 0xff) at++;
      const length = number();
      at += length;
      continue;
    }
    if (bytes[at]! & 128) status = bytes[at++]!;
    const values = [12, 13].includes(status >> 4) ? 1 : 2;
    into.push({ at: tick / division, bytes: [status, ...bytes.subarray(at, at + values)] });
    at += values;
  }
}

const TICKS_PER_SECOND = 2000;

/** A file of format 0 from messages at times in seconds. Of one time, notes end before others begin. */
export function writeMidi(
  messages: readonly { seconds: number; bytes: number[] }[],
  lengthSeconds: number,
): Uint8Array {
  const order = ({ bytes }: { bytes: number[] }): number => {
    const kind = bytes[0]! >> 4;
    if (kind === 9 && bytes[2]! > 0) return 2;
    return kind === 8 || kind === 9 ? 0 : 1;
  };
  const events = messages
    .map((m) => ({ tick: Math.max(0, Math.round(m.seconds * TICKS_PER_SECOND)), order: order(m), bytes: m.bytes }))
    .sort((a, b) => a.tick - b.tick || a.order - b.order);
  const track: number[] = [0, 0xff, 0x51, 3, 0x07, 0xa1, 0x20]; // half a second a quarter
  let now = 0;
  const add = (tick: number, bytes: readonly number[]): void => {
    track.push(...variableLength(Math.max(0, tick - now)), ...bytes);
    now = Math.max(now, tick);
  };
  for (const { tick, bytes } of events) add(tick, bytes);
  add(Math.round(lengthSeconds * TICKS_PER_SECOND), [0xff, 0x2f, 0]);
  const word = (n: number): number[] => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
  const half = TICKS_PER_SECOND / 2;
  const head = [...ascii('MThd'), ...word(6), 0, 0, 0, 1, half >> 8, half & 255];
  return Uint8Array.from([...head, ...ascii('MTrk'), ...word(track.length), ...track]);
}

const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));

function variableLength(value: number): number[] {
  const out = [value & 127];
  for (let rest = value >> 7; rest > 0; rest >>= 7) out.unshift((rest & 127) | 128);
  return out;
}
