/** ID3v1.1: 128 bytes at the very end. Only kept in step where it is there; what does not fit is cut. */
import { latin1, toLatin1 } from '../bytes.ts';
import type { TagSet } from '../tagSet.ts';

export const ID3V1_LENGTH = 128;

const PLACES: Record<string, [from: number, length: number]> = {
  TIT2: [3, 30],
  TPE1: [33, 30],
  TALB: [63, 30],
  TDRC: [93, 4],
  COMM: [97, 28],
};
const TRACK = 126,
  GENRE = 127,
  NO_GENRE = 255;

export const isId3v1 = (bytes: Uint8Array): boolean =>
  bytes.length === ID3V1_LENGTH && latin1(bytes.subarray(0, 3)) === 'TAG';

/**
 * Names are those of ID3v2, of which it holds a few. A genre that is set is taken out: its closed list would say
 * something else.
 */
export function openId3v1(bytes: Uint8Array): TagSet & { render(): Uint8Array } {
  const own = bytes.slice();
  const numbered = (): boolean => own[125] === 0 && own[TRACK] !== 0;
  return {
    family: 'id3',
    label: 'ID3v1',
    place: () => null,
    get(name) {
      if (name === 'TRCK') return numbered() ? [String(own[TRACK])] : null;
      if (name === 'TCON') return own[GENRE] === NO_GENRE ? null : [`(${own[GENRE]})`];
      const place = PLACES[name];
      if (!place) return null;
      const text = latin1(own.subarray(place[0], place[0] + place[1]))
        .replace(/\0[\s\S]*$/, '')
        .trimEnd();
      return text ? [text] : null;
    },
    set(name, texts) {
      const text = texts.join('; ');
      if (name === 'TRCK') {
        const n = Number.parseInt(text, 10);
        own[125] = 0;
        own[TRACK] = n > 0 && n < 256 ? n : 0;
        return;
      }
      if (name === 'TCON') {
        own[GENRE] = NO_GENRE;
        return;
      }
      const place = PLACES[name];
      if (!place) return;
      const [from, length] = place;
      own.fill(0, from, from + (name === 'COMM' && !numbered() ? 30 : length));
      own.set(toLatin1(name === 'TDRC' ? text.slice(0, 4) : text).subarray(0, length), from);
    },
    render: () => own,
  };
}
