/** What the first bytes of a sound file say of it: enough to decode it at its own rate and to judge its spectrum. */

export interface SniffedSound {
  /** As ffmpeg names codecs; null when not recognised. */
  codec: string | null;
  sampleRate: number | null;
  /** bit/s; null when the header does not say. */
  bitrate: number | null;
}

const ascii = (b: Uint8Array, at: number, n: number): string => String.fromCharCode(...b.subarray(at, at + n));

const MP3_RATES = [[11025, 12000, 8000], [], [22050, 24000, 16000], [44100, 48000, 32000]];
const MP3_KBITS = {
  one: [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  two: [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};

/** Reads the header of RIFF WAVE, FLAC, MP3 (also behind ID3v2), Ogg Vorbis, Opus and AIFF files. */
export function sniffSound(bytes: Uint8Array): SniffedSound {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const nothing: SniffedSound = { codec: null, sampleRate: null, bitrate: null };
  if (bytes.length < 44) return nothing;
  if (ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WAVE') {
    for (let at = 12; at + 24 <= bytes.length;) {
      const size = view.getUint32(at + 4, true);
      if (ascii(bytes, at, 4) === 'fmt ')
        return {
          codec: 'pcm_s16le',
          sampleRate: view.getUint32(at + 12, true),
          bitrate: view.getUint32(at + 16, true) * 8,
        };
      at += 8 + size + (size & 1);
    }
    return nothing;
  }
  if (ascii(bytes, 0, 4) === 'fLaC')
    return { codec: 'flac', sampleRate: view.getUint32(18) >>> 12 || null, bitrate: null };
  if (ascii(bytes, 0, 4) === 'FORM') {
    for (let at = 12; at + 26 <= bytes.length;) {
      const size = view.getUint32(at + 4);
      // The rate is an 80-bit float; its exponent and the upper half of its mantissa are enough.
      if (ascii(bytes, at, 4) === 'COMM')
        return {
          codec: 'pcm_s16be',
          sampleRate: Math.round(view.getUint32(at + 18) * 2 ** (view.getUint16(at + 16) - 16383 - 31)),
          bitrate: null,
        };
      at += 8 + size + (size & 1);
    }
    return nothing;
  }
  if (ascii(bytes, 0, 4) === 'OggS') {
    const body = 27 + bytes[26]!;
    if (body + 16 <= bytes.length && ascii(bytes, body, 8) === 'OpusHead')
      return { codec: 'opus', sampleRate: 48000, bitrate: null };
    if (body + 24 <= bytes.length && ascii(bytes, body + 1, 6) === 'vorbis')
      return {
        codec: 'vorbis',
        sampleRate: view.getUint32(body + 12, true),
        bitrate: view.getUint32(body + 20, true) || null,
      };
    return nothing;
  }
  let at = 0;
  if (ascii(bytes, 0, 3) === 'ID3')
    at = 10 + ((bytes[6]! << 21) | (bytes[7]! << 14) | (bytes[8]! << 7) | bytes[9]!) + (bytes[5]! & 0x10 ? 10 : 0);
  for (const last = Math.min(bytes.length - 4, at + 8192); at < last; at++) {
    if (bytes[at] !== 0xff || (bytes[at + 1]! & 0xe6) !== 0xe2) continue;
    const version = (bytes[at + 1]! >> 3) & 3,
      sampleRate = MP3_RATES[version]?.[(bytes[at + 2]! >> 2) & 3];
    const kbit = (version === 3 ? MP3_KBITS.one : MP3_KBITS.two)[bytes[at + 2]! >> 4];
    if (sampleRate && kbit) return { codec: 'mp3', sampleRate, bitrate: kbit * 1000 };
  }
  return nothing;
}
