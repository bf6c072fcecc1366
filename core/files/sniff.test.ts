import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { sniffSound } from './sniff.ts';

const bytes = (...parts: (string | number[])[]): Uint8Array => {
  const all = parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p));
  return Uint8Array.from([...all, ...Array.from({ length: 64 }, () => 0)]);
};
const le = (n: number, size = 4): number[] => Array.from({ length: size }, (_, i) => (n >> (8 * i)) & 255);
const be = (n: number, size = 4): number[] => le(n, size).reverse();

describe('the first bytes of a file', () => {
  test('RIFF WAVE, also with a chunk of odd size before the format', () => {
    const fmt = ['fmt ', le(16), le(1, 2), le(2, 2), le(48000), le(192000), le(4, 2), le(16, 2)];
    expect(sniffSound(bytes('RIFF', le(100), 'WAVE', ...fmt))).toEqual({
      codec: 'pcm_s16le',
      sampleRate: 48000,
      bitrate: 1_536_000,
    });
    expect(sniffSound(bytes('RIFF', le(100), 'WAVE', 'junk', le(3), [1, 2, 3, 0], ...fmt)).sampleRate).toBe(48000);
  });

  test('FLAC, AIFF, Ogg Vorbis, Opus', () => {
    expect(
      sniffSound(bytes('fLaC', [0x80, 0, 0, 34], be(0x10001000), be(0, 3), be(0, 3), be(96000 << 12))).sampleRate,
    ).toBe(96000);
    expect(
      sniffSound(
        bytes(
          'FORM',
          be(100),
          'AIFF',
          'COMM',
          be(18),
          be(2, 2),
          be(1000),
          be(16, 2),
          be(16383 + 15, 2),
          be((44100 * 2 ** 16) | 0),
          be(0),
        ),
      ).sampleRate,
    ).toBe(44100);
    const page = ['OggS', Array.from({ length: 22 }, () => 0), [1, 30]];
    expect(sniffSound(bytes(...page, [1], 'vorbis', le(0), [2], le(32000), le(0), le(128000)))).toEqual({
      codec: 'vorbis',
      sampleRate: 32000,
      bitrate: 128000,
    });
    expect(sniffSound(bytes(...page, 'OpusHead')).codec).toBe('opus');
  });

  test('MP3, also behind an ID3 tag', () => {
    const frame = [0xff, 0xfb, 0x90, 0x64];
    expect(sniffSound(bytes(frame))).toEqual({ codec: 'mp3', sampleRate: 44100, bitrate: 128000 });
    expect(
      sniffSound(
        bytes(
          'ID3',
          [3, 0, 0, 0, 0, 0, 20],
          Array.from({ length: 20 }, () => 0xff),
          frame,
        ),
      ).codec,
    ).toBe('mp3');
  });

  test('anything else is not recognised, and nothing makes it fail', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 200 }),
        fc.constantFrom('', 'RIFF', 'fLaC', 'OggS', 'FORM', 'ID3'),
        (noise, start) => {
          const all = Uint8Array.from([...[...start].map((c) => c.charCodeAt(0)), ...noise]);
          const found = sniffSound(all);
          expect(found.codec === null || found.sampleRate !== undefined).toBe(true);
        },
      ),
    );
    expect(sniffSound(new Uint8Array(0)).codec).toBeNull();
  });
});
