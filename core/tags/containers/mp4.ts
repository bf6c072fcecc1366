/**
 * MP4 and M4A (ISO/IEC 14496-12, and the metadata items of the QuickTime file format): items in moov/udta/meta/ilst.
 * When moov grows, room is taken from a free atom beside it or the offsets of all chunks behind it are moved along.
 */
import {
  be16,
  be32,
  be64,
  concat,
  latin1,
  TagTrouble,
  tidySplices,
  toLatin1,
  toUtf8,
  u16be,
  u32be,
  u64be,
  utf8Text,
  type Source,
  type Splice,
} from '../bytes.ts';
import type { Container, Picture, TagSet } from '../tagSet.ts';

interface Atom {
  type: string;
  at: number;
  head: number;
  size: number;
}

const MAX_ATOM_BYTES = 2 ** 28;
const NEW_FREE = 2048;
const TEXT = 1,
  JPEG = 13,
  PNG = 14,
  INTEGER = 21;
const NUMBER_ITEMS = new Set(['tmpo']),
  PAIR_ITEMS = new Set(['trkn', 'disk']);

/** Where atoms lie: user data may end in four zero bytes (QuickTime), the file in anything. */
type Place = 'outermost' | 'user data' | 'inside';

/** Atoms one after the other. @throws TagTrouble when they do not fill what holds them */
function atomsOf(source: Source, from: number, to: number, place: Place): Atom[] {
  const atoms: Atom[] = [];
  let at = from;
  while (at + 8 <= to) {
    const h = source.read(at, 8);
    let size = u32be(h, 0),
      head = 8;
    if (size === 1) {
      size = u64be(source.read(at + 8, 8), 0);
      head = 16;
    }
    // Only the last of the outermost atoms may leave it open how long it is: what is added inside would fall to it.
    if (size === 0 && place === 'outermost') size = to - at;
    const type = latin1(h.subarray(4));
    if (size < head || at + size > to)
      throw new TagTrouble(
        `The atom "${type.replace(/[^\x20-\x7e©]/g, '?')}" of this file is longer than what holds it`,
      );
    atoms.push({ type, at, head, size });
    at += size;
  }
  // What is added behind bytes that are no atom could not be found again.
  const rest = source.read(at, to - at);
  if (
    place !== 'outermost' &&
    rest.length > 0 &&
    !(place === 'user data' && rest.length === 4 && rest.every((b) => b === 0))
  )
    throw new TagTrouble('The atoms of this file do not fill what holds them');
  return atoms;
}

const inside = (source: Source, a: Atom, skip = 0): Atom[] =>
  atomsOf(source, a.at + a.head + skip, a.at + a.size, a.type === 'udta' ? 'user data' : 'inside');
const find = (atoms: readonly Atom[], type: string): Atom | undefined => atoms.find((a) => a.type === type);
const atom = (type: string, ...parts: Uint8Array[]): Uint8Array =>
  concat([be32(8 + parts.reduce((s, p) => s + p.length, 0)), toLatin1(type), ...parts]);

/** An item of ilst as it lies there, under the name that fields know it by. */
interface Item {
  name: string;
  raw: Uint8Array;
  data: { kind: number; value: Uint8Array }[];
}

/** Takes an MP4 file apart. @throws TagTrouble when its atoms do not add up, or it is fragmented */
export function openMp4(source: Source): Container {
  const top = atomsOf(source, 0, source.size, 'outermost');
  const moov = find(top, 'moov');
  if (!moov) throw new TagTrouble('This file has no index of its sound (moov)');
  if (moov.size > MAX_ATOM_BYTES) throw new TagTrouble('The index of this file is too large');
  const inMoov = inside(source, moov);
  if (find(top, 'moof') || find(inMoov, 'mvex'))
    throw new TagTrouble('This file is in fragments, whose tags cannot be changed');
  const sound = top.filter((a) => a.type === 'mdat');
  if (sound.length === 0) throw new TagTrouble('There is no sound in this file');
  const udta = find(inMoov, 'udta');
  const meta = udta && find(inside(source, udta), 'meta');
  // Some programs wrote meta without version and flags.
  const skip = meta && latin1(source.read(meta.at + meta.head + 4, 4)) === 'hdlr' ? 0 : 4;
  const inMeta = meta ? inside(source, meta, skip) : [];
  const ilst = find(inMeta, 'ilst');
  const items = openItems(source, ilst);

  return {
    label: 'M4A',
    sets: [items.set],
    audio: sound.map((a) => ({ from: a.at + a.head, to: a.at + a.size })),
    splices() {
      if (!items.changed()) return [];
      const list = atom('ilst', items.render());
      const nextTo = ilst && inMeta[inMeta.indexOf(ilst) + 1];
      const free = nextTo?.type === 'free' ? nextTo : undefined;
      const room = (ilst?.size ?? 0) + (free?.size ?? 0);
      const left = room - list.length;
      if (ilst && (left === 0 || left >= 8))
        return tidySplices(source, [
          {
            at: ilst.at,
            remove: room,
            insert: concat([list, ...(left > 0 ? [atom('free', new Uint8Array(left - 8))] : [])]),
          },
        ]);
      const filled = concat([list, atom('free', new Uint8Array(NEW_FREE))]);
      const grown = ilst
        ? withSizes(source, [moov, udta!, meta!], { at: ilst.at, remove: room, insert: filled })
        : meta
          ? withSizes(source, [moov, udta!, meta], { at: meta.at + meta.size, remove: 0, insert: filled })
          : udta
            ? withSizes(source, [moov, udta], { at: endOfUserData(source, udta), remove: 0, insert: newMeta(filled) })
            : withSizes(source, [moov], { at: moov.at + moov.size, remove: 0, insert: atom('udta', newMeta(filled)) });
      const more = grown.reduce((sum, s) => sum + s.insert.length - s.remove, 0);
      // Atoms that stand right behind moov as free room give what is needed, so that no offset moves.
      const behind = top[top.indexOf(moov) + 1];
      if (behind?.type === 'free' && (behind.size === more || behind.size - more >= 8)) {
        return tidySplices(source, [
          ...grown,
          {
            at: behind.at,
            remove: behind.size,
            insert: behind.size === more ? new Uint8Array(0) : atom('free', new Uint8Array(behind.size - more - 8)),
          },
        ]);
      }
      return tidySplices(source, [...grown, ...movedOffsets(source, inMoov, moov.at, more)]);
    },
  };
}

/** Some files end their user data with four zeros. */
function endOfUserData(source: Source, udta: Atom): number {
  const held = inside(source, udta);
  return held.length ? held.at(-1)!.at + held.at(-1)!.size : udta.at + udta.head;
}

const newMeta = (list: Uint8Array): Uint8Array =>
  atom('meta', new Uint8Array(4), atom('hdlr', new Uint8Array(8), toLatin1('mdirappl'), new Uint8Array(9)), list);

/** A splice with the sizes of all that hold it. */
function withSizes(source: Source, holders: readonly Atom[], splice: Splice): Splice[] {
  const more = splice.insert.length - splice.remove;
  return [
    ...holders
      .filter((a) => source.read(a.at, 4).some((v) => v !== 0))
      .map((a) =>
        a.head === 16
          ? { at: a.at + 8, remove: 8, insert: be64(a.size + more) }
          : { at: a.at, remove: 4, insert: be32(a.size + more) },
      ),
    splice,
  ];
}

/** New chunk offsets in every track, for chunks that lie behind an offset. */
function movedOffsets(source: Source, inMoov: readonly Atom[], behind: number, more: number): Splice[] {
  const out: Splice[] = [];
  for (const trak of inMoov.filter((a) => a.type === 'trak')) {
    const down = (a: Atom | undefined, type: string): Atom | undefined => a && find(inside(source, a), type);
    const stbl = down(down(down(trak, 'mdia'), 'minf'), 'stbl');
    for (const table of stbl ? inside(source, stbl).filter((a) => a.type === 'stco' || a.type === 'co64') : []) {
      const wide = table.type === 'co64',
        width = wide ? 8 : 4;
      const bytes = source.read(table.at + table.head, table.size - table.head).slice();
      const count = u32be(bytes, 4);
      if (8 + count * width > bytes.length) throw new TagTrouble('The table of chunks of this file does not add up');
      for (let i = 0, at = 8; i < count; i++, at += width) {
        const offset = wide ? u64be(bytes, at) : u32be(bytes, at);
        if (offset < behind) continue;
        if (!wide && offset + more >= 2 ** 32)
          throw new TagTrouble('It would be longer than its table of chunks can say');
        bytes.set(wide ? be64(offset + more) : be32(offset + more), at);
      }
      out.push({ at: table.at + table.head, remove: bytes.length, insert: bytes });
    }
  }
  return out;
}

function openItems(source: Source, ilst: Atom | undefined): { set: TagSet; changed(): boolean; render(): Uint8Array } {
  let items: Item[] = (ilst ? inside(source, ilst) : []).map((a) => itemOf(source, a));
  let changed = false;
  const same = (item: Item, name: string): boolean => item.name.toUpperCase() === name.toUpperCase();
  const replace = (old: (i: Item) => boolean, made: Item | null): void => {
    const first = items.findIndex(old);
    changed ||= first >= 0 || made !== null;
    items =
      first < 0
        ? [...items, ...(made ? [made] : [])]
        : items.flatMap((item, i) => (i === first ? (made ? [made] : []) : old(item) ? [] : [item]));
  };
  const set: TagSet = {
    family: 'mp4',
    label: 'MP4 items',
    place: (names) => names[0] ?? null,
    get(name) {
      const found = items
        .filter((i) => same(i, name))
        .flatMap((i) => i.data.map((d) => textOf(i.name, d)).filter((t) => t !== null));
      return found.length ? found : null;
    },
    set(name, texts) {
      const old = items.find((i) => same(i, name));
      // The genre as a number of a closed list gives way to the genre as text.
      if (name === 'gnre') {
        replace(
          (i) => same(i, name),
          texts.length && !items.some((i) => i.name === '©gen') ? madeItem('©gen', texts, undefined) : null,
        );
        return;
      }
      replace((i) => same(i, name), texts.length ? madeItem(old?.name ?? name, texts, old) : null);
    },
    picture() {
      const data = items.find((i) => i.name === 'covr')?.data[0];
      return data ? { mime: data.kind === PNG ? 'image/png' : 'image/jpeg', data: data.value } : null;
    },
    setPicture(picture: Picture | null) {
      // Further pictures of the item stay.
      const more = items.find((i) => i.name === 'covr')?.data.slice(1) ?? [];
      const data = [
        ...(picture ? [{ kind: picture.mime === 'image/png' ? PNG : JPEG, value: picture.data }] : []),
        ...more,
      ];
      replace(
        (i) => i.name === 'covr',
        data.length ? { name: 'covr', data, raw: atom('covr', ...data.map((d) => dataAtom(d.kind, d.value))) } : null,
      );
    },
  };
  return { set, changed: () => changed, render: () => concat(items.map((i) => i.raw)) };
}

function itemOf(source: Source, a: Atom): Item {
  const raw = source.read(a.at, a.size).slice();
  const parts = inside(source, a);
  const body = (p: Atom): Uint8Array => source.read(p.at + p.head, p.size - p.head).slice();
  const named = (type: string): string => {
    const part = find(parts, type);
    return part ? utf8Text(body(part).subarray(4)) : '';
  };
  const data = parts
    .filter((p) => p.type === 'data' && p.size - p.head >= 8)
    .map((p) => ({ kind: u32be(body(p), 0) & 0xff_ffff, value: body(p).subarray(8) }));
  return { name: a.type === '----' ? `----:${named('mean')}:${named('name')}` : a.type, raw, data };
}

function textOf(name: string, { kind, value }: Item['data'][number]): string | null {
  if (PAIR_ITEMS.has(name)) {
    if (value.length < 4) return null;
    const total = value.length >= 6 ? u16be(value, 4) : 0;
    return `${u16be(value, 2)}${total ? `/${total}` : ''}`;
  }
  if (NUMBER_ITEMS.has(name) || (kind === INTEGER && value.length <= 4))
    return value.length ? String(value.reduce((n, v) => n * 256 + v, 0)) : null;
  return kind === TEXT || kind === 0 ? utf8Text(value) : null;
}

const dataAtom = (kind: number, value: Uint8Array): Uint8Array => atom('data', be32(kind), new Uint8Array(4), value);

function madeItem(name: string, texts: readonly string[], old: Item | undefined): Item {
  let data: Item['data'];
  if (PAIR_ITEMS.has(name)) {
    const [n = 0, total = 0] = texts[0]!
      .split('/')
      .map((v) => Math.min(65_535, Math.max(0, Number.parseInt(v, 10) || 0)));
    const value = old?.data[0]?.value.slice() ?? new Uint8Array(name === 'trkn' ? 8 : 6);
    value.set(be16(n), 2);
    value.set(be16(total), 4);
    data = [{ kind: 0, value }];
  } else if (NUMBER_ITEMS.has(name)) {
    data = [{ kind: INTEGER, value: be16(Math.min(65_535, Math.round(Number(texts[0])))) }];
  } else {
    data = texts.map((t) => ({ kind: TEXT, value: toUtf8(t) }));
  }
  const parts = data.map((d) => dataAtom(d.kind, d.value));
  if (!name.startsWith('----:')) return { name, data, raw: atom(name, ...parts) };
  const [, mean = '', ...rest] = name.split(':');
  return {
    name,
    data,
    raw: atom(
      '----',
      atom('mean', new Uint8Array(4), toUtf8(mean)),
      atom('name', new Uint8Array(4), toUtf8(rest.join(':'))),
      ...parts,
    ),
  };
}
