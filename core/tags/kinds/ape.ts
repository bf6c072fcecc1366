/** APEv2: items of text in UTF-8 behind the sound, between a header and a footer that look alike. */
import { concat, latin1, le32, TagTrouble, toLatin1, toUtf8, u32le, utf8Text, type Source } from '../bytes.ts';
import type { TagSet } from '../tagSet.ts';

const EDGE = 32;
const HAS_HEADER = 0x8000_0000,
  IS_HEADER = 0x2000_0000;
/** Bits 1 and 2 of an item's flags: 0 is text. */
const KIND = 0x06;

interface Item {
  key: string;
  flags: number;
  value: Uint8Array;
  raw: Uint8Array;
}

/** Where the tag lies that ends at `end`; null when there is none. @throws TagTrouble when it does not add up */
export function apeSpan(source: Source, end: number): { from: number; to: number } | null {
  if (end < EDGE) return null;
  const footer = source.read(end - EDGE, EDGE);
  if (latin1(footer.subarray(0, 8)) !== 'APETAGEX') return null;
  const from = end - u32le(footer, 12) - (u32le(footer, 20) >= HAS_HEADER ? EDGE : 0);
  if (from < 0 || u32le(footer, 12) < EDGE) throw new TagTrouble('Its APE tag says it is longer than the file');
  return { from, to: end };
}

/** Takes a tag apart. @throws TagTrouble when its items do not add up */
export function openApe(bytes: Uint8Array): TagSet & { render(): Uint8Array } {
  const footer = bytes.subarray(bytes.length - EDGE);
  const version = u32le(footer, 8),
    flags = u32le(footer, 20);
  const withHeader = flags >= HAS_HEADER;
  if (withHeader && latin1(bytes.subarray(0, 8)) !== 'APETAGEX')
    throw new TagTrouble('The header of its APE tag is missing');
  let items: Item[] = [];
  let at = withHeader ? EDGE : 0;
  for (let n = u32le(footer, 16); n > 0; n--) {
    const keyEnd = bytes.indexOf(0, at + 8);
    const valueEnd = keyEnd + 1 + u32le(bytes, at);
    if (at + 9 > bytes.length - EDGE || keyEnd < 0 || valueEnd > bytes.length - EDGE)
      throw new TagTrouble('The items of its APE tag do not add up');
    items.push({
      key: latin1(bytes.subarray(at + 8, keyEnd)),
      flags: u32le(bytes, at + 4),
      value: bytes.slice(keyEnd + 1, valueEnd),
      raw: bytes.slice(at, valueEnd),
    });
    at = valueEnd;
  }
  if (at !== bytes.length - EDGE) throw new TagTrouble('The items of its APE tag do not add up');
  const same = (a: string, b: string): boolean => a.toUpperCase() === b.toUpperCase();
  return {
    family: 'ape',
    label: 'APEv2',
    place: (names) => names[0] ?? null,
    get(name) {
      const found = items.find((i) => same(i.key, name) && (i.flags & KIND) === 0);
      return found ? utf8Text(found.value).split('\0') : null;
    },
    set(name, texts) {
      const at = items.findIndex((i) => same(i.key, name));
      if (texts.length === 0) {
        items = items.filter((i) => !same(i.key, name));
        return;
      }
      const key = items[at]?.key ?? name,
        value = toUtf8(texts.join('\0'));
      const made: Item = {
        key,
        flags: 0,
        value,
        raw: concat([le32(value.length), le32(0), toLatin1(key), Uint8Array.of(0), value]),
      };
      items =
        at < 0
          ? [...items, made]
          : items.filter((i, k) => k === at || !same(i.key, name)).map((i) => (i === items[at] ? made : i));
    },
    render() {
      const body = concat(items.map((i) => i.raw));
      const edge = (f: number): Uint8Array =>
        concat([
          toLatin1('APETAGEX'),
          le32(version),
          le32(body.length + EDGE),
          le32(items.length),
          le32(f),
          footer.subarray(24),
        ]);
      return concat([...(withHeader ? [edge((flags | IS_HEADER) >>> 0)] : []), body, edge(flags)]);
    },
  };
}
