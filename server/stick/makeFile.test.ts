import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { appendFileSync, copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { TARGET_IDS, TARGETS } from '@early-set/core/stick/player';
import type { Recipe } from '@early-set/core/stick/recipe';
import { fieldsIn, openTags, pictureIn } from '@early-set/core/tags/edit';
import { withSource, writeTags } from '../files/tagFile.ts';
import { packetHash, probeTags } from '../media/decode.ts';
import { asMetadata, synthesize } from '../testing/ffmpeg.ts';
import { makeFile, type MakeWish } from './makeFile.ts';

let folder: string, source: string, cover: Uint8Array<ArrayBuffer>;
const AS_IT_IS: Recipe = { format: null, kbps: null, lufs: null };
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-make-'));
  source = join(folder, 'source.flac');
  synthesize(
    source,
    'sine=frequency=440:sample_rate=44100:duration=2',
    ...asMetadata({ title: 'Tin Shed Rain', artist: 'Odette Kassar', ISRC: 'XXA012600001', COMPOSER: 'Vesna Rook' }),
  );
  synthesize(join(folder, 'cover.png'), 'color=red:size=40x40', '-frames:v', '1');
  cover = new Uint8Array(readFileSync(join(folder, 'cover.png')));
  writeTags(source, { fields: {}, picture: { mime: 'image/png', data: cover } });
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const wish = (recipe: Recipe, more: Partial<MakeWish> = {}): MakeWish => ({
  ...{ source, scratch: join(folder, 'made'), recipe, fields: {}, ceilingDbtp: -1 },
  ...more,
});
const tagsOf = (path: string) =>
  withSource(path, (bytes) => {
    const container = openTags(bytes);
    return { fields: fieldsIn(container), picture: pictureIn(container) };
  });

test('what has to change in nothing is the source itself', async () => {
  const before = readFileSync(source);
  for (const fields of [{}, { title: ['Tin Shed Rain'] }] as MakeWish['fields'][])
    expect(await makeFile(wish(AS_IT_IS, { fields }))).toMatchObject({ path: source, levelled: null });
  expect(existsSync(join(folder, 'made.flac'))).toBe(false);
  expect(readFileSync(source).equals(before)).toBe(true);
});

test('as it is, with the tags of the library: the packets of sound stay', async () => {
  const before = readFileSync(source);
  const made = await makeFile(wish(AS_IT_IS, { fields: { title: ['Tin Roof Rain'], composer: [] } }));
  expect(made.path).toBe(join(folder, 'made.flac'));
  const { fields, picture } = tagsOf(made.path);
  expect(fields).toMatchObject({ title: ['Tin Roof Rain'], artist: ['Odette Kassar'], isrc: ['XXA012600001'] });
  expect(fields.composer).toBeUndefined();
  expect(picture!.data).toEqual(cover);
  expect(await packetHash(made.path)).toBe(await packetHash(source));
  expect(readFileSync(source).equals(before)).toBe(true);
});

test.each(TARGET_IDS)('converted to %s, it says what the source and the library say', async (format) => {
  const made = await makeFile(
    wish({ format, kbps: TARGETS[format].kbps[0] ?? null, lufs: null }, { fields: { title: ['New'] } }),
  );
  expect(made.path.endsWith(TARGETS[format].ending)).toBe(true);
  const { fields, picture } = tagsOf(made.path);
  expect(fields).toMatchObject({ title: ['New'], artist: ['Odette Kassar'], composer: ['Vesna Rook'] });
  expect(picture?.data).toEqual(cover);
  // Others read the same.
  if (format !== 'ogg' && format !== 'opus')
    expect(await probeTags(made.path)).toMatchObject({ title: 'New', artist: 'Odette Kassar' });
});

test('a source that changes meanwhile is not taken', async () => {
  const changing = join(folder, 'changing.flac');
  copyFileSync(source, changing);
  const making = makeFile(
    wish({ format: 'mp3', kbps: 128, lufs: null }, { source: changing, scratch: join(folder, 'half') }),
  );
  appendFileSync(changing, 'more');
  await expect(making).rejects.toThrow('changed by something else');
  expect(existsSync(join(folder, 'half.mp3'))).toBe(false);
});

test('a source whose tags nobody can read is converted without; a cover can be another one, or none', async () => {
  const noTags = join(folder, 'odd.flac');
  copyFileSync(source, noTags);
  const mp3: Recipe = { format: 'mp3', kbps: 128, lufs: null };
  expect(tagsOf((await makeFile(wish(mp3, { source: noTags, picture: null }))).path).picture).toBeNull();
  const raw = join(folder, 'raw.mka');
  synthesize(raw, 'sine=duration=1', '-c:a', 'flac');
  const made = await makeFile(wish(mp3, { source: raw, fields: { title: ['Only this'] } }));
  expect(tagsOf(made.path).fields).toEqual({ title: ['Only this'] });
  writeFileSync(join(folder, 'broken.mp3'), 'nothing');
  await expect(makeFile(wish(mp3, { source: join(folder, 'broken.mp3') }))).rejects.toThrow();
});
