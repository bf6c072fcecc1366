/** Recordings with their fingerprints, as handed in by those who publish music; one JSON line each. */
import { readFileSync, statSync } from 'node:fs';

export interface Recording {
  artist: string;
  title: string;
  version: string | null;
  seconds: number;
  /** 32-bit words, little-endian, in base64. */ fingerprint: string;
}

const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .toLowerCase();
export const recordingKey = (artists: readonly string[], title: string, version: string | null): string =>
  plain([...artists].sort().join(' ')) + '|' + plain(title) + '|' + plain(version ?? '');

/** Recordings by what they are called; read again when the file changes. */
export function openRecordings(file: string | null): () => { byKey: ReadonlyMap<string, Recording>; changed: number } {
  let read = { byKey: new Map<string, Recording>() as ReadonlyMap<string, Recording>, changed: -1 };
  return () => {
    const changed = file === null ? 0 : (statSync(file, { throwIfNoEntry: false })?.mtimeMs ?? 0);
    if (changed !== read.changed) {
      const lines =
        changed === 0 || file === null
          ? []
          : readFileSync(file, 'utf8')
              .split('\n')
              .filter(Boolean)
              .map((l) => JSON.parse(l) as Recording);
      read = { byKey: new Map(lines.map((r) => [recordingKey(r.artist.split('; '), r.title, r.version), r])), changed };
    }
    return read;
  };
}

const wordsOf = (text: string): Uint32Array => {
  const bytes = Buffer.from(text, 'base64');
  return Uint32Array.from({ length: bytes.length >> 2 }, (_, i) => bytes.readUInt32LE(i * 4));
};

function ones(x: number): number {
  let n = 0;
  for (let v = x >>> 0; v; v &= v - 1) n++;
  return n;
}

/** Share of equal bits at the best of some offsets (an eighth of a second each); 0.5 is chance. */
function likeness(a: Uint32Array, b: Uint32Array): number {
  let best = 0;
  for (let offset = -40; offset <= 40; offset++) {
    let wrong = 0,
      n = 0;
    for (let i = Math.max(0, offset); i < Math.min(a.length, b.length + offset, 400); i++) {
      wrong += ones(a[i]! ^ b[i - offset]!);
      n++;
    }
    if (n >= 80) best = Math.max(best, 1 - wrong / (32 * n));
  }
  return best;
}

export interface Heard {
  recording: Recording;
  score: number;
}

/** Recordings that sound like a fingerprint, best first. */
export function hear(recordings: Iterable<Recording>, fingerprint: string): Heard[] {
  const words = wordsOf(fingerprint);
  return [...recordings]
    .map((recording) => ({
      recording,
      score: Math.max(0, (likeness(words, wordsOf(recording.fingerprint)) - 0.5) * 2),
    }))
    .filter((h) => h.score > 0.4)
    .sort((a, b) => b.score - a.score)
    .slice(0, 5);
}
