/** Reading tags and technical data of a file into field values. */
import { parseFromTokenizer, type IAudioMetadata, type ITag } from 'music-metadata';
import { AbstractTokenizer, EndOfStreamError, type IReadChunkOptions } from 'strtok3';
import { FIELDS, type Field, type TagNames } from '@early-set/core/fields/table';
import { cleanText } from '@early-set/core/fields/text';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Source } from '@early-set/core/tags/bytes';
import { unspelled } from '@early-set/core/tags/spelling';
import { valueIn } from '@early-set/core/tags/values';
import { probe, probeTags } from './decode.ts';
import { cut } from '@early-set/core/fields/cut';

export interface ReadFile {
  /** Field id to value, only what the tags say. */
  tags: Record<string, FieldValue>;
  /** Technical fields; null when they are not plain from the file's head. */
  technical: Record<string, FieldValue> | null;
  picture: { data: Uint8Array; mime: string } | null;
  /** There are moving pictures in it. */
  video: boolean;
}

/** Tag systems in order of trust, with the family of names they use. */
const SYSTEMS: [string, keyof TagNames][] = [
  ['ID3v2.4', 'id3'],
  ['ID3v2.3', 'id3'],
  ['ID3v2.2', 'id3'],
  ['vorbis', 'vorbis'],
  ['iTunes', 'mp4'],
  ['APEv2', 'ape'],
  ['exif', 'riff'],
  ['AIFF', 'aiff'],
];

const FORMAT_NAMES: [RegExp, string][] = [
  [/flac/i, 'FLAC'],
  [/opus/i, 'Opus'],
  [/ogg|vorbis/i, 'Ogg'],
  [/mpeg|mp3/i, 'MP3'],
  [/m4a|mp4|quicktime|isom|mov/i, 'M4A'],
  [/wav|wave|riff/i, 'WAV'],
  [/aif/i, 'AIFF'],
  [/asf|wma/i, 'WMA'],
  [/ape|monkey/i, 'APE'],
  [/matroska|webm/i, 'Matroska'],
];

/** The short name of a container (with its codec), as in the Format filter. */
export function formatName(container: string, codec: string): string {
  const text = /opus/i.test(codec) ? 'opus' : container;
  return FORMAT_NAMES.find(([pattern]) => pattern.test(text))?.[1] ?? (cut(cleanText(container), 20) || 'other');
}

/** A source as music-metadata reads it, by the pages that are in memory already. */
class SourceTokenizer extends AbstractTokenizer {
  override readonly fileInfo: { path: string; size: number };
  readonly #source: Source;
  constructor(source: Source, path: string) {
    super();
    this.#source = source;
    this.fileInfo = { path, size: source.size };
  }
  override supportsRandomAccess(): boolean {
    return true;
  }
  setPosition(position: number): void {
    this.position = position;
  }
  override async peekBuffer(into: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    const { position, length, mayBeLess } = this.normalizeOptions(into, options);
    const there = Math.max(0, Math.min(length, this.#source.size - position));
    if (there < length && !mayBeLess) throw new EndOfStreamError();
    if (there > 0) into.set(this.#source.read(position, there));
    return there;
  }
  override async readBuffer(into: Uint8Array, options?: IReadChunkOptions): Promise<number> {
    this.position = this.normalizeOptions(into, options).position;
    const read = await this.peekBuffer(into, options);
    this.position += read;
    return read;
  }
}

/** Reads an open file. Never throws: what cannot be read is not there, and ffprobe has the last word on the sound. */
export async function readSource(source: Source, path: string): Promise<ReadFile> {
  const metadata = await parseFromTokenizer(new SourceTokenizer(source, path), { duration: false }).catch(() => null);
  return metadata
    ? {
        tags: tagFields(metadata),
        technical: technicalOf(metadata),
        picture: pictureOf(metadata),
        video: metadata.format.hasVideo === true,
      }
    : { tags: {}, technical: null, picture: null, video: false };
}

function technicalOf({ format }: IAudioMetadata): ReadFile['technical'] {
  if (!format.sampleRate || !format.duration || format.hasAudio === false) return null;
  return {
    durationSeconds: format.duration,
    format: formatName(format.container ?? '', format.codec ?? ''),
    codec: cut(cleanText(format.codec ?? ''), 60) || null,
    bitrate: format.bitrate ? Math.round(format.bitrate / 1000) : null,
    sampleRate: format.sampleRate,
    channels: format.numberOfChannels ?? null,
  };
}

/** Technical fields as ffprobe tells them. @throws UnreadableAudio with the reason when there is no sound in it */
export async function probeTechnical(path: string, signal?: AbortSignal): Promise<Record<string, FieldValue>> {
  const probed = await probe(path, signal);
  return {
    durationSeconds: probed.durationSeconds,
    format: formatName(probed.container, probed.codec),
    codec: probed.codec,
    bitrate: probed.bitrate === null ? null : Math.round(probed.bitrate / 1000),
    sampleRate: probed.sampleRate,
    channels: probed.channels,
  };
}

/** Fields of a video by the names that containers of videos share. */
const VIDEO_NAMES: Record<string, string> = {
  title: 'title',
  artist: 'artist',
  album: 'album',
  genre: 'genre',
  date: 'year',
  year: 'year',
  comment: 'comment',
};

/** What the tags of a video say, where nothing else reads them. */
export async function videoTags(path: string, signal?: AbortSignal): Promise<Record<string, FieldValue>> {
  const said = await probeTags(path, signal);
  const out: Record<string, FieldValue> = {};
  for (const [name, id] of Object.entries(VIDEO_NAMES)) {
    const field = FIELDS.find((f) => f.id === id),
      text = said[name];
    const value = field && text ? valueIn(field, [cleanText(text)]) : null;
    if (value !== null && !(id in out)) out[id] = value;
  }
  return out;
}

function pictureOf({ common }: IAudioMetadata): ReadFile['picture'] {
  const picture = common.picture?.find((p) => /front/i.test(p.type ?? '')) ?? common.picture?.[0];
  return picture ? { data: picture.data, mime: picture.format } : null;
}

/** All fields that have a place in tags, each from the most trusted system that holds it. */
function tagFields(metadata: IAudioMetadata): Record<string, FieldValue> {
  const out: Record<string, FieldValue> = {};
  for (const field of FIELDS) {
    if (Object.keys(field.tags).length === 0) continue;
    const value = fromSystems(metadata, field);
    if (value !== null) out[field.id] = value;
  }
  for (const [id, value] of Object.entries(fromId3v1(metadata))) out[id] ??= value;
  return out;
}

function fromSystems(metadata: IAudioMetadata, field: Field): FieldValue {
  for (const [system, family] of SYSTEMS) {
    const native = metadata.native[system];
    if (!native) continue;
    for (const name of field.tags[family] ?? []) {
      const found = native.filter((tag) => sameName(tag.id, name) && isPlain(tag));
      const value = valueIn(
        field,
        found.flatMap(textsOf).map((t) => unspelled(field, name, t)),
      );
      if (value !== null) return value;
    }
  }
  return null;
}

const sameName = (id: string, name: string): boolean =>
  id.toUpperCase() === name.toUpperCase() || (name === 'COMM' && id.toUpperCase().startsWith('COMM:'));

/** Comments with a description belong to programs ("iTunNORM" and the like), not to people. */
function isPlain(tag: ITag): boolean {
  const value = tag.value as { descriptor?: string } | null;
  return !(typeof value === 'object' && value !== null && 'descriptor' in value && value.descriptor);
}

function textsOf(tag: ITag): string[] {
  const { value } = tag;
  if (typeof value === 'string') return [value];
  if (typeof value === 'number') return [String(value)];
  if (Array.isArray(value))
    return value.filter((v): v is string | number => typeof v === 'string' || typeof v === 'number').map(String);
  if (typeof value === 'object' && value !== null && 'text' in value) {
    const text = (value as { text: unknown }).text;
    return Array.isArray(text) ? text.map(String) : typeof text === 'string' ? [text] : [];
  }
  return [];
}

function fromId3v1(metadata: IAudioMetadata): Record<string, FieldValue> {
  const native = metadata.native['ID3v1'] ?? [];
  const out: Record<string, FieldValue> = {};
  for (const [name, id] of [
    ['title', 'title'],
    ['artist', 'artist'],
    ['album', 'album'],
    ['year', 'year'],
    ['genre', 'genre'],
    ['comment', 'comment'],
    ['track', 'trackNumber'],
  ] as const) {
    const field = FIELDS.find((f) => f.id === id)!;
    const value = valueIn(field, native.filter((t) => t.id === name).flatMap(textsOf));
    if (value !== null) out[id] = value;
  }
  return out;
}
