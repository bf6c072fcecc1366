/** What ffmpeg says while it works (`-loglevel level+info`): how the file holds its sound, and what went wrong. */

/** How a file holds its first sound. */
export interface SoundIn {
  container: string;
  codec: string;
  /** Bits a second, to the thousand. */
  bitrate: number | null;
  durationSeconds: number | null;
}

export interface Words {
  push(chunk: Buffer | string): void;
  /** What went wrong, a line for each; only the last of it. */
  troubles(): string;
  /** Null until it was said. */
  container(): string | null;
  sound(): SoundIn | null;
}

const KEPT = 2000;
const LEVEL = /^((?:\[[^\]]* @ [^\]]*\] )?)\[(error|fatal|panic)\] /;

const kilobits = (text: string): number | null => {
  const said = /(\d+) kb\/s/.exec(text);
  return said ? Number(said[1]) * 1000 : null;
};

export function createWords(): Words {
  let line = '',
    troubles = '',
    container: string | null = null,
    about = '',
    stream: [codec: string, rest: string] | null = null;
  const hear = (said: string): void => {
    if (LEVEL.test(said)) troubles = `${troubles}${said.replace(LEVEL, '$1')}\n`.slice(-KEPT);
    // Lines of metadata are indented deeper, and their next lines begin with a colon.
    container ??= /^\[info\] Input #0, (.+), from '/.exec(said)?.[1] ?? null;
    if (about === '') about = /^\[info\] {3}Duration: .*$/.exec(said)?.[0] ?? '';
    const sound = /^\[info\] {3}Stream #0:\d+[^:]*: Audio: ([^\s,]+)(.*)$/.exec(said);
    if (sound) stream ??= [sound[1]!, sound[2]!];
  };
  return {
    push(chunk) {
      const lines = (line + chunk.toString()).split(/\r?\n/);
      line = lines.pop()!.slice(0, KEPT);
      for (const said of lines) hear(said);
    },
    troubles: () => `${troubles}${LEVEL.test(line) ? line.replace(LEVEL, '$1') : ''}`.trim(),
    container: () => container,
    sound() {
      if (container === null || !stream) return null;
      const [codec, rest] = stream;
      const time = /Duration: (\d+):(\d+):(\d+\.\d+)/.exec(about);
      return {
        container,
        codec,
        bitrate: kilobits(rest) ?? kilobits(about),
        durationSeconds: time ? Number(time[1]) * 3600 + Number(time[2]) * 60 + Number(time[3]) : null,
      };
    },
  };
}

/** How the samples behind the head of a WAV from a pipe are to be read. */
export interface PipedHead {
  sampleRate: number;
  channels: number;
  /** Where the samples begin. */
  bytes: number;
}

/** Reads the head of a WAV as ffmpeg writes it into a pipe; null where more of it has to come. */
export function readPipedHead(piece: Uint8Array): PipedHead | null {
  const view = new DataView(piece.buffer, piece.byteOffset, piece.byteLength);
  let format: Omit<PipedHead, 'bytes'> | null = null;
  for (let at = 12; at + 8 <= piece.length;) {
    const name = String.fromCharCode(...piece.subarray(at, at + 4)),
      size = view.getUint32(at + 4, true);
    if (name === 'data') return format && { ...format, bytes: at + 8 };
    if (name === 'fmt ' && at + 24 <= piece.length)
      format = { channels: view.getUint16(at + 10, true), sampleRate: view.getUint32(at + 12, true) };
    at += 8 + size + (size % 2);
  }
  return null;
}

/** Takes pieces of what is decoded, valid during the call only: interleaved samples. */
export type Take = (samples: Float32Array) => void;

export interface Frames {
  /** Hands on the whole frames of a piece; says how many of its bytes it has used. */
  take(piece: Uint8Array): number;
  /** So many have been handed on. */
  bytes(): number;
}

export function wholeFrames(channels: number, take: Take): Frames {
  const frame = 4 * channels;
  let bytes = 0;
  return {
    take(piece) {
      const usable = piece.length - (piece.length % frame);
      bytes += usable;
      if (usable > 0) {
        const aligned = piece.byteOffset % 4 === 0 ? piece : piece.slice(0, usable);
        take(new Float32Array(aligned.buffer, aligned.byteOffset, usable / 4));
      }
      return usable;
    },
    bytes: () => bytes,
  };
}

/**
 * The same of a piped WAV, behind its head; `begin` is told what that says. What comes in one piece with the head is
 * handed on at once: there may be no other.
 */
export function pipedFrames(begin: (head: PipedHead) => Take): Frames & { head(): PipedHead | null } {
  let head: PipedHead | null = null,
    frames: Frames | null = null;
  return {
    take(piece) {
      if (frames) return frames.take(piece);
      head = readPipedHead(piece);
      if (!head) return 0;
      frames = wholeFrames(head.channels, begin(head));
      return head.bytes + frames.take(piece.subarray(head.bytes));
    },
    bytes: () => frames?.bytes() ?? 0,
    head: () => head,
  };
}
